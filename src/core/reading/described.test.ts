import { linesOf } from '@/core/page/lines';
import { starterKind } from '@/core/definition/starters';
import { typedPage } from '../../../tests/support/page';
import { readDocument } from './chain';
import { labelsOn } from './labels';
import type { KindDefinition } from './kind';
import { wordingsOf } from './wordings';

const bill = starterKind('bill') as KindDefinition;
const read = (rows: readonly string[], kind: KindDefinition = bill) => readDocument([typedPage(rows)], kind);
const values = (rows: readonly string[], kind?: KindDefinition) => Object.fromEntries(Object.entries(read(rows, kind).fields).flatMap(([key, cell]) => (cell.value === null ? [] : [[key, cell.value]])));

describe('reading a paper that nobody has taught', () => {
  test('takes values beside their labels, whatever synonym is printed', () => {
    expect(values(['Nettleby & Sons', '', 'Document no.      4711-B', 'Tax point         03.11.2026', 'Please pay by     17.11.2026', 'Your order        PO-884'])).toMatchObject({ number: '4711-B', date: '2026-11-03', due_date: '2026-11-17', order_number: 'PO-884' });
  });

  test('takes values under their labels', () => {
    expect(values(['Invoice number     Invoice date     Customer ID', 'R-20261            3 Nov 2026       K 88'])).toMatchObject({ number: 'R-20261', date: '2026-11-03', customer_number: 'K 88' });
  });

  test('does not take the date of a delivery for the date of the bill', () => {
    expect(values(['Delivery date   01.02.2026', 'Invoice date    05.02.2026']).date).toBe('2026-02-05');
  });

  test('of several totals takes those that add up', () => {
    expect(values(['Total weight   812.00', 'Subtotal       100.00', 'VAT 20 %        20.00', 'Total          120.00', 'Total paid       0.00'])).toMatchObject({ net: '100.00', tax: '20.00', total: '120.00' });
  });

  test('is less sure where they do not', () => {
    const sure = (total: string) => read(['Subtotal       100.00', 'VAT 20 %        20.00', `Total          ${total}`]).fields['total']?.confidence ?? 0;
    expect(sure('120.00')).toBeGreaterThan(0.95);
    expect(sure('130.00')).toBeLessThan(0.8);
  });

  test('reads decimals as the paper writes them', () => {
    expect(values(['Subtotal     1.000,00', 'VAT 20 %       200,00', 'Total due    1.200,00']).total).toBe('1200.00');
  });

  test('reads a table by the names of its columns, past what the kind does not ask for', () => {
    const { tables } = read(['Pos   Item no.   Article               Qty   Price each      Value', '1     A77        Rope, braided          10         2.50      25.00', '2     B12        Shackle                 2        12.00      24.00', '                                       Subtotal              49.00']);
    expect(tables['lines']?.map((row) => ['description', 'quantity', 'price', 'amount'].map((key) => row[key]?.value))).toEqual([['Rope, braided', '10', '2.50', '25.00'], ['Shackle', '2', '12.00', '24.00']]);
  });

  test('finds nothing rather than something where no label fits', () => {
    expect(values(['Once upon a time there was a harbour', 'and nobody sent it bills'])).not.toHaveProperty('total');
  });

  test('a description may name the wording in quotation marks', () => {
    const kind: KindDefinition = { ...bill, tables: [], fields: [{ key: 'slip', label: 'Mooring', type: 'identifier', description: 'Printed as “Berth taken”.' }] };
    expect(values(['Berth taken: C14'], kind)).toEqual({ slip: 'C14' });
  });

  test('a ticked box chooses', () => {
    const kind: KindDefinition = { ...bill, tables: [], fields: [{ key: 'membership', label: 'Membership', type: 'choice', options: ['full', 'junior'] }, { key: 'news', label: 'Newsletter', type: 'yes-no' }] };
    expect(values(['Membership', '[ ] full    [x] junior', '[x] Newsletter'], kind)).toEqual({ membership: 'junior', news: 'yes' });
  });
});

describe(wordingsOf, () => {
  test.each([
    ['total', 'Amount due', 'money', 'grand total'], ['inv_no', 'Invoice number', 'identifier', 'document number'], ['ship', 'Delivery date', 'date', 'delivery date'], ['vat', 'VAT', 'money', 'tax total'], ['cust', 'Client number', 'identifier', 'customer number'], ['colour', 'Colour of the hull', 'text', null],
  ] as const)('%s, “%s”, means %s %s', (key, label, type, concept) => expect(wordingsOf({ key, label, type }, 'field').concept).toBe(concept));
});

describe(labelsOn, () => {
  test('a word inside a longer label is no label of its own', () => {
    const labels = labelsOn(linesOf(typedPage(['Due date: 01.02.2026', 'Date: 03.02.2026'])), [['date']]);
    expect(labels.find(['date']).map((label) => label.line.text)).toEqual(['Date: 03.02.2026']);
  });
});
