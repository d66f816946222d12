import { readingOf } from '../../../tests/support/reading';
import { NOTHING_READ } from '@/core/reading/reading';
import type { KindDefinition } from '@/core/reading/kind';
import { changesBetween } from './changes';
import { isRight, judge, verdictOf } from './compare';
import { kindDifference } from './kind-diff';
import { soundingOf } from './sounding';
import { guarantee, upperBound } from './threshold';

const kind: KindDefinition = {
  leadline: 'kind/1', key: 'k', name: 'Bill', layouts: [], checks: [],
  fields: [{ key: 'total', label: 'Total', type: 'money' }, { key: 'number', label: 'Number', type: 'identifier' }],
  tables: [{ key: 'lines', label: 'Lines', columns: [{ key: 'text', label: 'Text', type: 'text' }, { key: 'amount', label: 'Amount', type: 'money' }] }],
};
const row = (text: string, amount: string) => ({ text: readingOf(text), amount: readingOf(amount) });
const read = (total: string | null, rows: ReturnType<typeof row>[]) => ({ fields: { total: total === null ? NOTHING_READ : readingOf(total), number: readingOf('A 12') }, tables: { lines: rows } });

describe(verdictOf, () => {
  test.each([
    ['money', '12.00', '12.00', 'right'], ['money', '12.00', '12', 'equal'], ['identifier', 'A12', 'A 12', 'equal'], ['text', 'Ice', 'ICE', 'equal'], ['text', 'Ice', 'Salt', 'wrong'],
    ['money', '12.00', null, 'missing'], ['money', null, '12.00', 'extra'], ['money', null, null, 'right'], ['date', '2026-01-02', '2026-02-01', 'wrong'],
  ] as const)('%s: %s read as %s is %s', (type, expected, found, verdict) => expect(verdictOf(type, expected, found)).toBe(verdict));
});

describe(judge, () => {
  const truth = { fields: { total: '3.00' }, tables: { lines: [{ text: 'Ice', amount: '1.00' }, { text: 'Salt', amount: '2.00' }] } };

  test('judges only what was confirmed', () => {
    expect(judge(kind, read('3.00', []), { fields: { total: '3.00' } }).map(({ path, verdict }) => [path, verdict])).toEqual([['total', 'right']]);
  });

  test('lays rows against each other, so that one row too many costs one row and not all that follow', () => {
    const judged = judge(kind, read('3.00', [row('Carried', '9.00'), row('Ice', '1.00'), row('Salt', '2.00')]), truth);
    expect(judged.filter((one) => !isRight(one.verdict)).map(({ path, found }) => [path, found])).toEqual([['lines.+', 'Carried'], ['lines.+', '9.00']]);
  });

  test('a row that is missing is missing cell by cell', () => {
    expect(judge(kind, read('3.00', [row('Salt', '2.00')]), truth).filter((one) => one.verdict === 'missing').map((one) => one.path)).toEqual(['lines.0.text', 'lines.0.amount']);
  });
});

describe(upperBound, () => {
  test('no mistake in n gives the rule of thumb: 1 − (1 − level)^(1/n)', () => {
    expect(upperBound(0, 114, 0.9)).toBeCloseTo(1 - 0.1 ** (1 / 114), 8);
  });

  test('nothing seen promises nothing', () => expect([upperBound(0, 0, 0.9), upperBound(3, 3, 0.9)]).toEqual([1, 1]));
});

describe(guarantee, () => {
  const scored = (count: number, confidence: number, right = true) => Array.from({ length: count }, () => ({ confidence, right }));

  test('takes the lowest threshold that keeps the promise', () => {
    const found = guarantee([...scored(200, 0.95), ...scored(20, 0.7, false)], { errorRate: 0.02, level: 0.9 });
    expect(found.ok && [found.point.threshold, found.point.passed, found.point.straightThrough]).toEqual([0.71, 200, 200 / 220]);
  });

  test('says how many more are needed where there are too few', () => {
    const found = guarantee(scored(100, 0.95), { errorRate: 0.02, level: 0.9 });
    expect(found.ok ? null : found.missing).toBe(14);
  });

  test('needs more after a mistake than without', () => {
    const needed = (mistakes: number) => {
      const found = guarantee([...scored(50, 0.95), ...scored(mistakes, 0.99, false)], { errorRate: 0.02, level: 0.9 });
      return found.ok ? 0 : found.missing;
    };
    expect(needed(1)).toBeGreaterThan(needed(0));
  });
});

describe(soundingOf, () => {
  test('counts by field and by reader, and what went straight through', () => {
    const judged = judge(kind, read('3.00', []), { fields: { total: '3.00', number: 'A13' } });
    const sounding = soundingOf(kind, [{ name: 'a', layout: null, judged, tookMs: 5, cost: 0 }]);
    expect(sounding).toMatchObject({ samples: 1, header: { right: 1, all: 2 }, straightThrough: 0, accepted: { wrong: 1, all: 2 }, readers: [{ reader: 'anchor', values: 2, right: 1 }] });
    expect(sounding.fields.map(({ field, accuracy }) => [field, accuracy])).toEqual([['total', 1], ['number', 0]]);
  });
});

test('before and after name every changed cell, added rows included', () => {
  expect(changesBetween(kind, read('3.00', [row('Ice', '1.00')]), read(null, [row('Ice', '1.10'), row('Salt', '2.00')])).map(({ path, before, after }) => `${path}: ${before} → ${after}`)).toEqual(['total: 3.00 → null', 'lines.0.amount: 1.00 → 1.10', 'lines.1.text: null → Salt', 'lines.1.amount: null → 2.00']);
});

test('the difference of two kinds is said in words', () => {
  const after: KindDefinition = { ...kind, name: 'Haulage bill', fields: [{ key: 'total', label: 'To pay', type: 'money', required: true, threshold: 0.9 }, { key: 'date', label: 'Date', type: 'date' }] };
  expect(kindDifference(kind, after)).toEqual(['It is called “Haulage bill” instead of “Bill”.', 'The field “Number” is gone.', 'There is a new field, “Date”.', '“Total” is now called “To pay”.', '“To pay” must be there.', 'Somebody looks at “To pay” below 90 instead of 80.']);
  expect(kindDifference(kind, kind)).toEqual([]);
});
