import fc from 'fast-check';
import { matchRows, type Comparison } from './rows';

const CODE: Comparison = { name: 'Item', theirs: 'item', by: 'identifier' };
const TEXT: Comparison = { name: 'Text', theirs: 'text', by: 'text' };
const OPEN: Comparison = { name: 'Quantity', theirs: 'open', by: 'at most' };
const PRICE: Comparison = { name: 'Price', theirs: 'price', by: 'amount', tolerance: '0.05' };
const ORDER: Comparison = { name: 'Order number', theirs: 'order', by: 'identifier', shared: true };

const ordered = [
  { order: '4711', item: 'T1001', text: 'Polypropylene rope 12 mm, 220 m coil', open: '4', price: '61.20' },
  { order: '4711', item: 'T1002', text: 'Polypropylene rope 14 mm, 220 m coil', open: '2', price: '79.90' },
  { order: '4711', item: 'K2040', text: 'Oilskin jacket, yellow, size L', open: '10', price: '48.00' },
  { order: '4801', item: 'K2041', text: 'Oilskin jacket, yellow, size M', open: '5', price: '48.00' },
];
const rowsOf = (ours: Parameters<typeof matchRows>[0], ...comparisons: Comparison[]) => matchRows(ours, ordered, comparisons).pairs.map(({ row, sure }) => [row, sure]);

describe(matchRows, () => {
  test('the same number is enough, whatever the text says', () => {
    expect(rowsOf([['T1002', 'PP line'], ['K2040', 'Jacket']], CODE, TEXT)).toEqual([[1, false], [2, true]]);
    expect(rowsOf([['T1002'], ['K2040']], CODE)).toEqual([[1, true], [2, true]]);
  });
  test('texts that people write otherwise are found, and their figures tell them apart', () => {
    expect(rowsOf([['Rope polyprop. 14mm'], ['ROPE POLYPROP 12MM'], ['Jacket oilskin yellow M']], TEXT)).toEqual([[1, true], [0, true], [3, true]]);
  });
  test('between two rows that are as near, nobody guesses', () => {
    const [pair] = matchRows([['Oilskin jacket, yellow']], ordered, [TEXT]).pairs;
    expect([pair?.sure, pair?.reasons.at(-1), pair?.near.slice(0, 2).map(({ row }) => row).sort()]).toEqual([false, 'another row is as near', [2, 3]]);
  });
  test('a row that another line fits better is no rival', () => {
    expect(rowsOf([['Oilskin jacket, yellow, size L'], ['Oilskin jacket, yellow']], TEXT).map(([row]) => row)).toEqual([2, 3]);
  });
  test('two lines that fit two rows as well either way are asked about; the same amounts say which is proposed', () => {
    const twice = [{ text: 'Hose 3 m', open: '24' }, { text: 'Hose 3 m', open: '10' }];
    const { pairs } = matchRows([['Hose', '10'], ['Hose', '24']], twice, [TEXT, OPEN]);
    expect(pairs.map(({ row, sure }) => [row, sure])).toEqual([[1, false], [0, false]]);
  });
  test('an amount alone makes no pair', () => {
    expect(matchRows([['7']], [{ open: '7' }], [OPEN]).pairs[0]?.row).toBeNull();
  });
  test('what was never ordered belongs to nothing', () => {
    const { pairs, left } = matchRows([['X9999', 'Tinned peaches']], ordered, [CODE, TEXT]);
    expect([pairs[0]?.row, pairs[0]?.sure, left]).toEqual([null, false, [0, 1, 2, 3]]);
  });
  test('more than is open is a difference, not another article; less is a part delivery', () => {
    const { pairs } = matchRows([['T1001', '5'], ['K2040', '3']], ordered, [CODE, OPEN]);
    expect(pairs.map(({ row, sure, differences }) => [row, sure, differences])).toEqual([[0, false, ['Quantity is 5, at most 4 is expected']], [2, true, []]]);
  });
  test('prices may be apart by what is tolerated', () => {
    const { pairs } = matchRows([['T1001', '61.25'], ['T1002', '79.96']], ordered, [CODE, PRICE]);
    expect(pairs.map(({ differences }) => differences)).toEqual([[], ['Price is 79.96, 79.90 is expected']]);
  });
  test('the number of the whole order tells equal rows apart, and a wrong one still finds its row', () => {
    const jacket = (order: string) => rowsOf([[order, 'Oilskin jacket, yellow']], ORDER, TEXT);
    expect([jacket('4801'), jacket('4711')]).toEqual([[[3, true]], [[2, true]]]);
    expect(rowsOf([['9999', 'K2041']], ORDER, CODE)).toEqual([[3, false]]);
  });
  test('a misread letter of a long number is forgiven, and said', () => {
    expect(matchRows([['TI00I', null]], ordered, [CODE, TEXT]).pairs[0]).toMatchObject({ row: 0, reasons: ['Item is one letter apart'] });
  });
  test('nothing to compare, nothing matched', () => {
    expect([matchRows([], ordered, [TEXT]).pairs, rowsOf([[null]], TEXT), matchRows([['x']], [], [TEXT]).pairs[0]?.row]).toEqual([[], [[null, false]], null]);
  });

  test('whatever comes, each row is used once and no score leaves its range', () => {
    const cell = fc.option(fc.constantFrom('rope 12 mm', 'rope 14 mm', 'jacket', 'T1', 'T2', '7', ''), { nil: null });
    const pair = fc.tuple(cell, cell);
    fc.assert(fc.property(fc.array(pair, { maxLength: 8 }), fc.array(pair, { maxLength: 8 }), (ours, theirs) => {
      const { pairs, left } = matchRows(ours, theirs.map(([item, text]) => ({ item, text })), [CODE, TEXT]);
      const used = pairs.flatMap(({ row }) => (row === null ? [] : [row]));
      expect(new Set(used).size).toBe(used.length);
      expect([...used, ...left].sort((a, b) => a - b)).toEqual(theirs.map((_, index) => index));
      expect(pairs.every(({ score, near }) => [score, ...near.map((one) => one.score)].every((value) => value >= 0 && value <= 1))).toBe(true);
    }));
  });
});
