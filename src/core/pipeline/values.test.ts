import { NOTHING_READ, type Reading } from '@/core/reading/reading';
import type { Condition } from './definition';
import { NOTHING_KNOWN, type Known } from './facts';
import { dataOf, holds, planRows, valueAt, type DocumentFacts } from './values';

const place = { page: 1, box: [1, 2, 3, 4] } as const;
const reading = (value: string): Reading => ({ ...NOTHING_READ, value, place });
const known: Known = { ...NOTHING_KNOWN, trusted: false, notes: { pay: 'soon' }, readings: { fields: { total: reading('2500.00'), date: reading('2026-03-12'), empty: NOTHING_READ }, tables: { lines: [{ amount: reading('1.00') }, { amount: reading('2.00') }] } } };
const document: DocumentFacts = { id: 'D1', fileName: 'a.pdf', receivedAt: '2026-03-12T00:00:00Z', sender: null };
const scope = { known, document };

describe(valueAt, () => {
  test.each([['total', '2500.00'], ['note.pay', 'soon'], ['document.name', 'a.pdf'], ['document.sender', null], ['nowhere', null], ['x.y', null]])('%s is %j', (source, expected) => {
    expect(valueAt(source, scope).value).toBe(expected);
  });
  test('a value keeps its place on the page', () => {
    expect(valueAt('total', scope).place).toEqual(place);
  });
});

describe(dataOf, () => {
  test('gives fields, tables, the row and what is known of the document as text, without what is empty', () => {
    expect(dataOf({ ...scope, row: { amount: reading('2.00'), unit: NOTHING_READ } })).toEqual({ total: '2500.00', date: '2026-03-12', lines: [{ amount: '1.00' }, { amount: '2.00' }], note: { pay: 'soon' }, row: { amount: '2.00' }, document: { id: 'D1', name: 'a.pdf', received: '2026-03-12T00:00:00Z' } });
  });
  test('makes the lines of a table once, however many of them ask', () => {
    const [first, second] = known.readings.tables['lines']?.map((row) => dataOf({ ...scope, row })) ?? [];
    expect(first?.['lines']).toBe(second?.['lines']);
  });
});

describe(planRows, () => {
  test('makes one row per document or one per row of a table', async () => {
    expect(await planRows({ columns: { Total: 'total' } }, scope)).toEqual([{ Total: { value: '2500.00', place } }]);
    expect((await planRows({ each: 'lines', columns: { Bill: 'total', Amount: 'row.amount' } }, scope)).map((row) => row['Amount']?.value)).toEqual(['1.00', '2.00']);
  });
});

describe(holds, () => {
  const cases: [Condition, boolean][] = [
    [{ value: 'total', is: 'above', than: '2500.00' }, false], [{ value: 'total', is: 'at least', than: '2500' }, true], [{ value: 'total', is: 'above', than: '999.99' }, true],
    [{ value: 'total', is: 'below', than: '10000' }, true], [{ value: 'total', is: 'at most', than: '2499.99' }, false], [{ value: 'total', is: 'equal to', than: '2500.000' }, true],
    [{ value: 'date', is: 'below', than: '2026-04-01' }, true], [{ value: 'empty', is: 'missing' }, true], [{ value: 'empty', is: 'present' }, false], [{ value: 'empty', is: 'above', than: '0' }, false],
    [{ value: 'empty', is: 'not equal to', than: '0' }, true], [{ trusted: false }, true], [{ all: [{ trusted: false }, { value: 'total', is: 'present' }] }, true], [{ any: [{ trusted: true }, { value: 'empty', is: 'present' }] }, false],
  ];
  test.each(cases)('%j: %s', (condition, expected) => {
    expect(holds(condition, scope)).toBe(expected);
  });
});
