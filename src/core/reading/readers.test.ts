import { linesOf } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { typedPage } from '../../../tests/support/page';
import { readByAnchor } from './anchor';
import type { AnchorSettings, FieldDefinition } from './kind';
import { findLandmarks, similarity } from './landmark';
import { patternProblem, readByPattern } from './pattern';

const locale: LocaleHints = { decimal: '.', dates: 'dmy' };
const money: FieldDefinition = { key: 'total', label: 'Total', type: 'money' };
const right = (...anchors: string[]): AnchorSettings => ({ reader: 'anchor', anchors, direction: 'right' });
const linesFrom = (...rows: string[]) => linesOf(typedPage(rows));

describe(similarity, () => {
  test.each([['Total due', 'total due:', 1], ['Total due', 'Totel due', 8 / 9], ['Total', 'Subtotal', 5 / 8]])('of %j and %j is %d', (a, b, expected) => {
    expect(similarity(a, b)).toBeCloseTo(expected, 10);
  });
});

describe(findLandmarks, () => {
  test('finds a wording with a wrong letter, and says how like it is', () => {
    expect(findLandmarks(linesFrom('Totel due   12.00'), ['Total due'])[0]).toMatchObject({ similarity: 8 / 9, alone: true });
  });
  test('does not take another word for it', () => {
    expect(findLandmarks(linesFrom('Subtotal 12.00'), ['Total'])).toEqual([]);
  });
  test('knows when it is only part of a longer label', () => {
    expect(findLandmarks(linesFrom('Total weight   12.00'), ['Total'])[0]?.alone).toBe(false);
  });
});

describe(readByAnchor, () => {
  test('takes the value to the right and says where it and its landmark stand', () => {
    const [reading] = readByAnchor(linesFrom('', 'Total due      EUR 1,200.50'), right('Total due'), money, locale);
    expect(reading).toMatchObject({ value: '1200.50', text: 'EUR 1,200.50', reader: 'anchor', place: { page: 1, box: [90, 14, 162, 24] }, anchor: { page: 1, box: [0, 14, 54, 24] } });
    expect(reading?.confidence).toBeGreaterThan(0.95);
  });

  test('is less sure the less the landmark looks like itself', () => {
    const sure = (label: string) => readByAnchor(linesFrom(`${label}      12.00`), right('Total due'), money, locale)[0]?.confidence ?? 0;
    expect(sure('Total due')).toBeGreaterThan(sure('Totel due'));
  });

  test('is less sure when the same wording gives two values', () => {
    const [one] = readByAnchor(linesFrom('Total   12.00', 'Total   15.00'), right('Total'), money, locale);
    const [alone] = readByAnchor(linesFrom('Total   12.00'), right('Total'), money, locale);
    expect(one?.confidence).toBeLessThan(alone?.confidence ?? 0);
    expect(one?.evidence.at(-1)?.what).toBe('1 other value at the same wording');
  });

  test('passes over a remark to reach what fits the type', () => {
    expect(readByAnchor(linesFrom('Total due    see below    99.00'), right('Total due'), money, locale)[0]?.value).toBe('99.00');
  });

  test('reads the value below when it stands there', () => {
    const below: AnchorSettings = { reader: 'anchor', anchors: ['Dated'], direction: 'below' };
    expect(readByAnchor(linesFrom('Invoice     Dated', '26/0051     12.03.2026'), below, { key: 'date', label: 'Date', type: 'date' }, locale)[0]?.value).toBe('2026-03-12');
  });

  test('keeps a value that does not fit, with the reason and little confidence', () => {
    const [reading] = readByAnchor(linesFrom('Total due   twelve'), right('Total due'), money, locale);
    expect(reading).toMatchObject({ value: null, text: 'twelve' });
    expect(reading?.problem).toContain('twelve');
    expect(reading?.confidence).toBeLessThan(0.3);
  });

  test('drops the sign where the field is kept without', () => {
    expect(readByAnchor(linesFrom('Discount   -5.00'), right('Discount'), { ...money, unsigned: true }, locale)[0]?.value).toBe('5.00');
  });
});

describe(readByPattern, () => {
  const identifier: FieldDefinition = { key: 'number', label: 'Number', type: 'identifier' };
  test('takes the first group and outlines the words it touches', () => {
    const [reading] = readByPattern(linesFrom('our bill MH-104001 of today'), { reader: 'pattern', pattern: 'bill (MH-\\d+)' }, identifier, locale);
    expect(reading).toMatchObject({ value: 'MH-104001', place: { page: 1, box: [54, 0, 108, 10] } });
  });
  test('is less sure the more different texts match', () => {
    const sure = (row: string) => readByPattern(linesFrom(row), { reader: 'pattern', pattern: 'MH-\\d+' }, identifier, locale)[0]?.confidence ?? 0;
    expect(sure('MH-1 and MH-2')).toBeLessThan(sure('MH-1 and MH-1'));
  });
  test('comes to an end on a pattern for which back-tracking would try two to the power of 3,000 ways', () => {
    expect(readByPattern(linesFrom('a'.repeat(3000)), { reader: 'pattern', pattern: '(a+)+b' }, identifier, locale)).toEqual([]);
  });
  test('says what is wrong with a pattern', () => {
    expect(patternProblem({ pattern: '(' })).toContain('cannot be used');
    expect(patternProblem({ pattern: '(a)\\1' })).not.toBeNull();
    expect(patternProblem({ pattern: 'MH-\\d{6}' })).toBeNull();
  });
});
