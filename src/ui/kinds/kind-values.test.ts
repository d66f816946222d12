import { billKind } from '../../../tests/support/definitions';
import type { Offers } from '@/contracts/reading-service';
import type { KindDefinition } from '@/core/reading/kind';
import { applied, valuesOf } from './kind-values';

const offers: Offers = { name: 'Lens', currency: 'EUR', tiers: [{ name: 'glance', about: '', pricePerPage: '0.01' }, { name: 'study', about: '', pricePerPage: '0.15' }], fields: ['total_amount'], tables: [] };
const set: KindDefinition = {
  ...billKind(),
  sorting: { senders: ['@merrow.example'], words: ['Haulage bill'] },
  bindings: [{ list: 'hauliers', field: 'haulier', fill: { account: 'Account' } }],
  services: [{ service: 'lens', tier: 'glance', price: '0.01', fields: { total: 'total_amount' }, tables: { lines: { name: 'line_items', columns: { amount: 'amount' } } } }],
  cleanUp: { deskew: false },
};

describe('the settings of a kind in a form', () => {
  test('come out as they went in', () => {
    expect(applied(set, valuesOf(set), offers)).toEqual(set);
    const bare = billKind();
    expect(applied(bare, valuesOf(bare), null)).toEqual({ ...bare, description: bare.description ?? bare.name });
  });
  test('a tier takes the price that the service says now', () => {
    expect(applied(set, { ...valuesOf(set), tier: 'study' }, offers).services?.[0]).toMatchObject({ tier: 'study', price: '0.15', fields: { total: 'total_amount' } });
  });
  test('what is emptied is gone, and nothing empty is left', () => {
    const emptied = applied(set, { ...valuesOf(set), senders: ' , ', words: '', list: '', service: '', clean: { orientation: true, contrast: true, despeckle: true, deskew: true } }, offers);
    expect(['sorting', 'bindings', 'services', 'cleanUp'].filter((part) => part in emptied)).toEqual([]);
  });
  test('the field that takes the key is not filled by another column too', () => {
    const values = valuesOf(set);
    expect(applied(set, { ...values, fill: { ...values.fill, haulier: 'Name', number: 'Number' } }, offers).bindings).toEqual([{ list: 'hauliers', field: 'haulier', fill: { account: 'Account', number: 'Number' } }]);
  });
});
