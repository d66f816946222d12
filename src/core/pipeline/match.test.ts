import { NOTHING_READ, type Reading } from '@/core/reading/reading';
import type { MatchStep } from './definition';
import { knownFrom, NOTHING_KNOWN, type Known } from './facts';
import { matchCounts, matchesFrom, proposeMatch, recordsFor, recordsIn, rowsMatched, unsureLines, unsureText } from './match';

const cell = (value: string | null, top = 0): Reading => ({ ...NOTHING_READ, value, place: value === null ? null : { page: 1, box: [10, top, 50, top + 10] } });
const lines = [{ code: cell('T1', 100), description: cell('Rope 12 mm', 101), quantity: cell('4', 100) }, { code: cell(null), description: cell('Oilskin', 120), quantity: cell('1', 120) }];
const known: Known = { ...NOTHING_KNOWN, readings: { fields: { order_number: cell('4711') }, tables: { lines } }, given: { orders: { lines: '[{"order":"4711","line":10,"item":"T1","text":"Rope 12 mm","open":6}]' } } };
const scope = { known, document: { id: 'D', fileName: 'n.pdf', receivedAt: '', sender: null } };
const step: MatchStep = {
  id: 'match', do: 'match', each: 'lines', among: 'orders.lines', bring: { order_line: 'line', open: 'open' },
  compare: [{ ours: 'order_number', theirs: 'order', by: 'identifier' }, { ours: 'row.code', theirs: 'item', by: 'identifier' }, { ours: 'row.description', theirs: 'text', by: 'text' }, { ours: 'row.quantity', theirs: 'open', by: 'at most' }],
};
const propose = async (changes: Partial<MatchStep> = {}) => proposeMatch({ ...step, ...changes }, scope, await recordsFor({ ...step, ...changes }, scope, async () => []));

describe(recordsIn, () => {
  test.each([
    [null, []], ['[]', []], ['{"a":1,"b":"x"}', [{ a: '1', b: 'x' }]], ['[{"a":null,"b":{"c":1},"d":""}]', [{ a: null, b: '{"c":1}', d: null }]],
  ])('%s', (text, records) => expect(recordsIn(text)).toEqual(records));
  test.each(['no list', '[1]', '"x"', '[[]]'])('%s is refused with a sentence', (text) => expect(() => recordsIn(text)).toThrow(/holds no list of records/));
});

describe(recordsFor, () => {
  test('rows of a list are asked for by the value of the document', async () => {
    const asked: unknown[] = [];
    await recordsFor({ ...step, list: 'open', column: 'Order', find: 'order_number' }, scope, async (list, where) => { asked.push([list, where]); return []; });
    await recordsFor({ ...step, list: 'open' }, scope, async (list, where) => { asked.push([list, where]); return []; });
    expect(asked).toEqual([['open', { column: 'Order', value: '4711' }], ['open', null]]);
  });
});

describe(proposeMatch, () => {
  test('shows what was compared, where it stands, and only the columns that matter', async () => {
    const proposed = await propose();
    expect(proposed.heads).toEqual([{ ours: 'order number', theirs: 'order', shared: true }, { ours: 'code', theirs: 'item', shared: false }, { ours: 'description', theirs: 'text', shared: false }, { ours: 'quantity', theirs: 'open', shared: false }]);
    expect(proposed.lines.map(({ row, sure, cells, place }) => [row, sure, cells, place?.box])).toEqual([[0, true, ['4711', 'T1', 'Rope 12 mm', '4'], [10, 100, 50, 111]], [null, false, ['4711', null, 'Oilskin', '1'], [10, 120, 50, 130]]]);
    expect([proposed.rows, unsureLines(proposed), unsureText(proposed)]).toEqual([[{ order: '4711', item: 'T1', text: 'Rope 12 mm', open: '6', line: '10' }], 1, '1 of 2 rows is not sure: row 2.']);
  });
  test('nothing to match with is said', async () => expect(unsureText(await propose({ among: 'orders.none' }))).toBe('There is nothing to match with.'));
  test('too many are refused before they take for ever', () => {
    const many = Array.from({ length: 2_001 }, () => ({ item: 'x' }));
    expect(() => proposeMatch(step, scope, many)).toThrow('2 rows cannot be matched with 2001; at most 500 are, with 2000.');
  });
});

describe(matchesFrom, () => {
  test('brings along what is wanted of the row that was found, and later steps find it in the rows', async () => {
    const result = matchesFrom(await propose());
    const after = knownFrom([['match', result]]);
    expect([result.rows.map(({ values }) => values), result.left, after.given['match']]).toEqual([[{ order_line: '10', open: '6' }, null], 0, { matched: '1', unmatched: '1', left: '0' }]);
    expect(rowsMatched(lines, result).map((row) => [row['description']?.value, row['order_line']?.value ?? null, row['order_line']?.reader ?? null])).toEqual([['Rope 12 mm', '10', 'list'], ['Oilskin', null, null]]);
  });
  test('a person decides otherwise, and that is sure', async () => {
    const result = matchesFrom(await propose(), { chosen: [null, 0], by: 'Aud' });
    expect([result.rows, result.by, matchCounts(result)]).toEqual([[{ values: null, score: 1, reasons: ['Aud says so'] }, { values: { order_line: '10', open: '6' }, score: 1, reasons: ['Aud says so'] }], 'Aud', { matched: '1', unmatched: '1', left: '0' }]);
  });
});
