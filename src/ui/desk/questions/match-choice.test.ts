import type { ProposedMatch } from '@/core/pipeline/match';
import { aboutRow, choose, mainOf, rowsFor, rowsLeft, rowText, sharedText, sides } from './match-choice';

const pair = (row: number | null, near: readonly number[]) => ({ row, score: 0.9, sure: row !== null, reasons: [], differences: [], near: near.map((one) => ({ row: one, score: 0.5 })), place: null });
const match: ProposedMatch = {
  of: 'lines', bring: { order: 'order', line: 'line' },
  heads: [{ ours: 'order number', theirs: 'order', shared: true }, { ours: 'text', theirs: 'name', shared: false }, { ours: 'quantity', theirs: 'open', shared: false }],
  lines: [{ ...pair(0, [0, 2]), cells: ['4711', 'Rope 12 mm', '4'] }, { ...pair(null, []), cells: ['4711', 'Tinned peaches', '1'] }],
  rows: [{ order: '4711', name: 'Rope, 12 mm', open: '6', line: '10' }, { order: '4711', name: 'Oilskin', open: '1', line: '20' }, { order: '9', name: 'Rope 14', open: null, line: '10' }],
};

test('a row is used once: who takes it leaves the other with nothing', () => {
  expect([choose([0, 1, null], 2, 1), choose([0, 1], 0, null), choose([null, null], 1, 0)]).toEqual([[0, null, 1], [null, 1], [null, 0]]);
});
test('what comes near is offered first, then all others', () => {
  expect(rowsFor(match, 0)).toEqual([{ row: 0, score: 0.5 }, { row: 2, score: 0.5 }, { row: 1, score: null }]);
});
test('rows are told by what is compared and by what they bring along', () => {
  expect([rowText(match, 0), aboutRow(match, 0), rowText(match, 2), rowText(match, 9)]).toEqual(['4711 · Rope, 12 mm · 6 · 10', 'order number 4711 · line 10', '9 · Rope 14 · 10', '']);
});
test('both sides stand beside each other without what all rows share', () => {
  expect(sides(match, 0, 0)).toEqual([{ name: 'text', ours: 'Rope 12 mm', theirs: 'Rope, 12 mm' }, { name: 'quantity', ours: '4', theirs: '6' }]);
  expect([sides(match, 1, null)[0], sharedText(match), mainOf(['4', null, 'Rope']), mainOf([])]).toEqual([{ name: 'text', ours: 'Tinned peaches', theirs: null }, 'order number 4711', 'Rope', '']);
});
test('rows that nobody has are left', () => expect(rowsLeft(match, [0, null])).toEqual([1, 2]));
