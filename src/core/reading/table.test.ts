import { linesOf } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { typedPage } from '../../../tests/support/page';
import type { FieldDefinition, TableSettings } from './kind';
import { readTable } from './table';

const locale: LocaleHints = { decimal: '.', dates: 'dmy' };
const columns: FieldDefinition[] = [
  { key: 'description', label: 'Description', type: 'text' },
  { key: 'quantity', label: 'Quantity', type: 'number' },
  { key: 'amount', label: 'Amount', type: 'money' },
];
const settings: TableSettings = { reader: 'table', headings: { description: ['Description'], quantity: ['Qty'], amount: ['Amount'] }, end: ['Total'], skip: ['Carried forward'], once: 'amount' };
const HEAD = 'Description                 Qty      Amount';

function read(pages: readonly (readonly string[])[], changes: Partial<TableSettings> = {}) {
  const lines = pages.flatMap((rows, index) => linesOf(typedPage(rows, index + 1)));
  return readTable(lines, { ...settings, ...changes }, columns, locale);
}

const values = (table: ReturnType<typeof read>) => table.rows.map((row) => columns.map((column) => row[column.key]?.value ?? null));

describe(readTable, () => {
  test('reads rows between the headings and the end', () => {
    expect(values(read([[HEAD, 'Herring, boxed                4       48.00', 'Ice                          12       12.50', 'Total                                60.50', 'Tax                                  12.10']]))).toEqual([['Herring, boxed', '4', '48.00'], ['Ice', '12', '12.50']]);
  });

  test('what is printed once for several rows belongs to each of them, where the table says so', () => {
    const page = [HEAD, 'Herring, boxed                4       48.00', '                              2       12.50', 'Ice                           2        3.00', 'Total                                63.50'];
    expect(values(read([page]))[1]).toEqual([null, '2', '12.50']);
    const carried = read([page], { carry: ['description'] });
    expect(values(carried)).toEqual([['Herring, boxed', '4', '48.00'], ['Herring, boxed', '2', '12.50'], ['Ice', '2', '3.00']]);
    expect(carried.rows[1]?.['description']?.evidence.at(-1)?.what).toBe('printed once for several rows');
  });

  test('joins wrapped lines to the row above them', () => {
    expect(values(read([[HEAD, 'Herring, boxed and iced       4       48.00', 'for the market', 'Ice                          12       12.50', 'Total                                60.50']]))[0]).toEqual(['Herring, boxed and iced for the market', '4', '48.00']);
  });

  test('joins wrapped lines to the row below them where a layout prints it so', () => {
    expect(values(read([[HEAD, 'Herring, boxed and iced', 'for the market                4       48.00', 'Total                                48.00']], { wrapped: 'above' }))).toEqual([['Herring, boxed and iced for the market', '4', '48.00']]);
  });

  test('goes on over pages, past running subtotals, repeated headings and footers', () => {
    const table = read([
      [HEAD, 'Herring                       4       48.00', 'Carried forward                       48.00', '', '', 'Registered in Hallan, page 1 of 2'],
      [HEAD, 'Ice                          12       12.50', 'Total                                60.50'],
    ]);
    expect(values(table)).toEqual([['Herring', '4', '48.00'], ['Ice', '12', '12.50']]);
    expect(table.rows.map((row) => row['amount']?.place?.page)).toEqual([1, 2]);
  });

  test('a line that runs along every page with its number is no row, whatever else stands on it', () => {
    const page = [HEAD, 'Herring                       4       48.00', 'Ice                           2       12.50', '', 'Fenby Supplies, no.           7       33.90       Page 1 of 1'];
    expect(values(read([page], { end: ['Nothing ends here'] }))).toEqual([['Herring', '4', '48.00'], ['Ice', '2', '12.50']]);
    // A page that is spoken of in a text is no such line.
    expect(values(read([[HEAD, 'Copy of page 3 of 4           2       12.50', 'Total                                12.50']]))).toHaveLength(1);
  });

  test('goes on over a page that repeats no headings', () => {
    expect(values(read([[HEAD, 'Herring                       4       48.00'], ['Ice                          12       12.50', 'Total                                60.50']]))).toHaveLength(2);
  });

  test('leaves the words of a column that the kind does not name to nobody', () => {
    const rows = ['Pos  Description             Qty      Amount', ' 1   Herring                   4       48.00', '12   Ice                      12       12.50', 'Total                                60.50'];
    expect(values(read([rows]))).toEqual([['Herring', '4', '48.00'], ['Ice', '12', '12.50']]);
  });

  test('does not lose a row whose amount is damaged, but doubts it', () => {
    const three: FieldDefinition[] = [...columns, { key: 'price', label: 'Price', type: 'money' }];
    const lines = linesOf(typedPage(['Description                 Qty   Price      Amount', 'Herring                       4   12.00       4B.00', 'Total                                        48.00']));
    const { rows } = readTable(lines, { ...settings, headings: { ...settings.headings, price: ['Price'] } }, three, locale);
    expect(rows).toHaveLength(1);
    expect(rows[0]?.['amount']).toMatchObject({ text: '4B.00', value: null });
    expect(rows[0]?.['amount']?.confidence).toBeLessThan(0.3);
  });

  test('says where its columns stand', () => {
    const { bands } = read([[HEAD, 'Herring                       4       48.00', 'Total                                48.00']]);
    expect(bands.map((band) => band.column)).toEqual(['description', 'quantity', 'amount']);
    expect(bands.every((band, index) => index === 0 || band.box[0] >= (bands[index - 1]?.box[2] ?? 0) - 0.01)).toBe(true);
  });

  test('finds nothing where there are no headings', () => {
    expect(read([['Dear Sir', 'please find enclosed']])).toEqual({ rows: [], bands: [] });
  });
});
