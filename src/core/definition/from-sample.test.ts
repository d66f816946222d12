import { typedPage } from '../../../tests/support/page';
import { kindFromSample } from './from-sample';

const keys = (rows: readonly string[]) => {
  const kind = kindFromSample([typedPage(rows)]);
  return { name: kind.name, fields: kind.fields.map((field) => `${field.key} ${field.type}`), tables: kind.tables.map((table) => table.columns.map((column) => column.key)) };
};

describe(kindFromSample, () => {
  test('takes the usual paper that it is most like, without what it does not have, and adds what is labelled', () => {
    const made = keys(['Tern Chandlers Ltd', 'Delivery note', '', 'Delivery note no.: D-4711      Date: 12.03.2026', 'Order no.: K-88              Pallets:  3', '', 'Item no.   Description        Quantity   Unit', 'A100       Rope, green        12         m', 'A101       Anchor chain       1          pcs', '', 'Driver: Siv Ormstad']);
    expect(made.name).toBe('Delivery note');
    expect(made.fields).toEqual(expect.arrayContaining(['number identifier', 'date date', 'order_number identifier', 'driver text']));
    expect(made.fields.some((field) => field.startsWith('carrier'))).toBe(false);
    expect(made.tables).toEqual([['code', 'description', 'quantity', 'unit']]);
  });
  test('a paper that is like none of them gives what is labelled on it', () => {
    expect(keys(['Mooring log', 'Skipper: Aud Halloran', 'Draught: 2.40', 'Cast off: 12.03.2026'])).toEqual({ name: 'New kind', tables: [], fields: ['skipper text', 'draught money', 'cast_off date'] });
  });
  test('an empty page gives an empty kind', () => expect(keys([])).toEqual({ name: 'New kind', fields: [], tables: [] }));
});
