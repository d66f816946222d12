import { typedPage } from '../../../tests/support/page';
import { linesOf } from '@/core/page/lines';
import type { TableDefinition } from '@/core/reading/kind';
import { rowsInBox } from './table-from-box';

const table: TableDefinition = { key: 'lines', label: 'Lines', columns: [{ key: 'description', label: 'Description', type: 'text' }, { key: 'quantity', label: 'Quantity', type: 'number' }, { key: 'amount', label: 'Amount', type: 'money' }] };
const rows = (printed: readonly string[], of = table) => rowsInBox(linesOf(typedPage(printed)), of, 'Bill', { decimal: '.', dates: 'dmy' }).map((row) => Object.values(row));

describe(rowsInBox, () => {
  test('parts columns by the blank space down all lines, and finds which is which by what stands in them', () => {
    expect(rows(['Rope, green      12     41.70', 'Anchor chain      1    390.00', 'Paint             3     27.15'])).toEqual([['Rope, green', '12', '41.70'], ['Anchor chain', '1', '390.00'], ['Paint', '3', '27.15']]);
  });
  test('columns in another order than ours are told by their types', () => {
    expect(rows(['41.70   12   Rope, green', '390.00   1   Anchor chain'])).toEqual([['Rope, green', '12', '41.70'], ['Anchor chain', '1', '390.00']]);
  });
  test('a line without a figure continues the row before', () => {
    expect(rows(['Rope, green      12     41.70', 'with a loop', 'Paint             3     27.15'])).toEqual([['Rope, green with a loop', '12', '41.70'], ['Paint', '3', '27.15']]);
  });
  test('headings among the lines count first', () => {
    expect(rows(['Description         Qty    Amount', 'Rope, green         12     41.70', 'Paint                3     27.15'])).toEqual([['Rope, green', '12', '41.70'], ['Paint', '3', '27.15']]);
  });
  test('a column that the lines do not have stays empty', () => {
    expect(rows(['Rope     41.70', 'Paint    27.15'])).toEqual([['Rope', null, '41.70'], ['Paint', null, '27.15']]);
    expect(rows([])).toEqual([]);
  });
});
