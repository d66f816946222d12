import { typedPage } from '../../../tests/support/page';
import { linesOf } from '@/core/page/lines';
import { findKeys, hasNeighbour } from './find-key';
import { importList } from './import';
import type { ReferenceList } from './list';

const table = [['Account', 'Holder', 'Opened', 'Limit', 'Power'], ['00471122', 'Northquay Boats', '3.5.2024', '1.250,00', 'yes'], ['00471130', 'Ebb & Sons', '14.11.2025', '900,50', 'no']];

describe(importList, () => {
  const imported = (rows: readonly (readonly string[])[], wanted = {}) => {
    const result = importList(rows, wanted);
    return result.ok ? result.list : result.problems;
  };
  test('guesses types, takes the first column without doubles as key, and keeps leading zeros', () => {
    expect(imported(table)).toEqual({
      keyColumn: 'Account',
      columns: [{ name: 'Account', type: 'identifier' }, { name: 'Holder', type: 'text' }, { name: 'Opened', type: 'date' }, { name: 'Limit', type: 'money' }, { name: 'Power', type: 'yes-no' }],
      rows: [{ Account: '00471122', Holder: 'Northquay Boats', Opened: '2024-05-03', Limit: '1250.00', Power: 'yes' }, { Account: '00471130', Holder: 'Ebb & Sons', Opened: '2025-11-14', Limit: '900.50', Power: 'no' }],
    });
  });
  test.each([
    ['an empty file', [], 'There is nothing in this file: the first row should hold the names of the columns.'],
    ['names alone', [['A', 'B']], 'Below the names of the columns there are no rows.'],
    ['a column without a name', [['A', ''], ['1', '2']], 'Column 2 has no name in the first row.'],
    ['two columns of one name', [['A', 'A'], ['1', '2']], 'Two columns are called “A”.'],
    ['no column that tells rows apart', [['A'], ['same'], ['same']], 'No column tells the rows apart: every one is empty somewhere or holds a value twice. Give each row a number of its own.'],
  ])('refuses %s', (_, rows, problem) => expect(imported(rows)).toEqual([problem]));
  test('says which rows spoil the wanted key', () => {
    expect(imported([['A', 'B'], ['x', '1'], ['', '2'], ['x', '3']], { keyColumn: 'A' })).toEqual(['Row 3 has no A; the key may not be empty.', 'Row 4 has the same A “x” as row 2.']);
    expect(imported([['A'], ['x']], { keyColumn: 'Z' })).toEqual(['There is no column “Z” to be the key. There are: A.']);
  });
  test('says which cells do not fit a given type, and counts the rest', () => {
    const rows = Array.from({ length: 9 }, (_, index) => [`${index}`, 'soon']);
    const problems = imported([['No', 'When'], ...rows], { types: { When: 'date' } });
    expect(problems).toHaveLength(6);
    expect(problems).toEqual(expect.arrayContaining(['Row 2, When: “soon” is not a date that exists.', 'And 4 more.']));
  });
});

describe(findKeys, () => {
  const list = (...keys: string[]): ReferenceList => ({ key: 'accounts', name: 'Accounts', keyColumn: 'No', columns: [{ name: 'No', type: 'identifier' }], rows: keys.map((No) => ({ No })) });
  const on = (line: string, wanted: ReferenceList) => findKeys(linesOf(typedPage([line])), wanted).map(({ key, how }) => `${key} ${how}`);

  test('finds a key however it is grouped on the page', () => {
    expect(on('Meter account DE-4711 22 of berth 9', list('DE471122', 'DE471130'))).toEqual(['DE471122 exact']);
  });
  test('finds letters that recognition confuses', () => {
    expect(on('Account 0O4711Z2', list('00471122'))).toEqual(['00471122 alike']);
  });
  test('finds one wrong, missing or extra letter in a long key, and says so', () => {
    for (const printed of ['00471722', '0047112', '004711223']) expect(on(printed, list('00471122'))).toEqual(['00471122 close']);
    expect(on('00417122', list('00471122'))).toEqual([]);
    expect(on('4713', list('4712'))).toEqual([]);
  });
  test('an exact key makes a similar one no candidate', () => {
    expect(on('00471123 and 00471122', list('00471122', '00471129'))).toEqual(['00471122 exact']);
  });
  test('tells all rows that stand on the page, so that nobody guesses', () => {
    expect(on('from 00471122 to 00471130', list('00471122', '00471130'))).toEqual(['00471122 exact', '00471130 exact']);
  });
  test('short keys and words are not taken for keys by chance', () => {
    expect(on('berth 12 of 40', list('12', '40'))).toEqual([]);
    expect(on('BOOSTED', list('B005TED'))).toEqual([]);
  });
  test('knows whether a misread letter would make another row of it', () => {
    const close = list('00471122', '00471129', '99000001');
    expect(close.rows.map((row) => hasNeighbour(close, row))).toEqual([true, true, false]);
  });
});
