import Decimal from 'decimal.js';
import { billKind } from '../../../tests/support/definitions';
import { typedPage } from '../../../tests/support/page';
import { typedReading } from '@/core/reading/edit';
import type { FieldDefinition } from '@/core/reading/kind';
import { NOTHING_READ, type Reading, type Readings } from '@/core/reading/reading';
import { checkDocument } from './check';
import { explainGap, strayAmounts } from './gap';
import { doubtsOf, isTrusted, labelOf } from './trust';

const kind = billKind();
const plain = { decimal: '.', dates: 'dmy' } as const;

function value(type: FieldDefinition['type'], text: string | null, confidence = 1): Reading {
  return text === null ? NOTHING_READ : { ...typedReading({ key: 'x', label: 'x', type }, text, plain, null), reader: 'anchor', confidence };
}

type Row = readonly [quantity: string, price: string, amount: string];
function bill(changes: Partial<Record<string, string | null>> = {}, rows: readonly Row[] = [['2', '10.00', '20.00'], ['3', '10.00', '30.00']]): Readings {
  const fields: Record<string, string | null> = { haulier: 'Merrow Haulage', number: 'MH-1', date: '2026-03-12', account: 'SQ', discount: null, fuel: null, waiting: null, tax: '10.00', total: '60.00', ...changes };
  const type = (key: string) => kind.fields.find((field) => field.key === key)!.type;
  return {
    fields: Object.fromEntries(Object.entries(fields).map(([key, text]) => [key, value(type(key), text)])),
    tables: { lines: rows.map(([quantity, price, amount]) => ({ description: value('text', 'Trip'), unit: NOTHING_READ, quantity: value('number', quantity), price: value('money', price), amount: value('money', amount) })) },
  };
}

const check = (readings: Readings, pages: readonly string[] = []) => checkDocument({ kind, layout: 'merrow', readings, pages: pages.length > 0 ? [typedPage(pages)] : [] });

describe(checkDocument, () => {
  test('finds nothing wrong with a bill that adds up', () => {
    expect(check(bill())).toEqual([]);
  });
  test('a missing required value is named', () => {
    expect(check(bill({ number: null }))).toEqual([{ check: 'required', severity: 'must fix', text: 'Bill number was not found.', paths: ['number'] }]);
  });
  test('a missing optional value is no finding', () => {
    expect(check(bill({ waiting: null }))).toEqual([]);
  });
  test('a value that does not fit its type is quoted', () => {
    const [finding] = check(bill({ date: 'someday' }));
    expect(finding).toMatchObject({ check: 'type', paths: ['date'] });
    expect(finding?.text).toContain('someday');
  });
  test('a table without rows is named', () => {
    expect(check(bill({}, [])).map((finding) => finding.text)).toContain('Trips has no rows.');
  });
  test('a row whose amount is not quantity × price shows all three figures', () => {
    const [finding] = check(bill({ total: '61.00' }, [['2', '10.00', '21.00'], ['3', '10.00', '30.00']]));
    expect(finding).toEqual({ check: 'line-amount', severity: 'must fix', text: 'Row 1: 2 × 10.00 is 20.00, but 21.00 is printed.', paths: ['lines.0.quantity', 'lines.0.price', 'lines.0.amount'] });
  });
  test('a rounding of one cent passes', () => {
    expect(check(bill({ tax: '0.00', total: '3.34' }, [['0.333', '10.00', '3.34']]))).toEqual([]);
  });
  test('lines − discount + charges + tax must be the total; the gap is said with its direction', () => {
    expect(check(bill({ discount: '5.00', fuel: '7.00', total: '62.00' }))).toEqual([]);
    const [finding] = check(bill({ total: '55.00' }));
    expect(finding?.text).toBe('The parts come to 60.00, but 55.00 is printed as the total: 5.00 too much in the parts.');
    expect(finding?.gap?.difference).toBe('-5.00');
  });
  test('uses decimals: ten times 0.10 is exactly 1.00', () => {
    expect(check(bill({ tax: '0.00', total: '1.00' }, Array.from({ length: 10 }, () => ['1', '0.10', '0.10'] as const)))).toEqual([]);
  });
  test('a page of no known layout is said to be one', () => {
    expect(checkDocument({ kind, layout: null, readings: bill(), pages: [] })[0]).toMatchObject({ check: 'layout', severity: 'look' });
  });
});

describe('gap finding', () => {
  const gap = (rows: readonly string[], changes: Partial<Record<string, string | null>>) => check(bill(changes), rows)[0]?.gap?.explanations ?? [];

  test('names the amount on the page that explains the difference, and the field that takes it', () => {
    const [first] = gap(['Agreed discount of EUR 5.00 has been taken off'], { total: '55.00' });
    expect(first?.text).toBe('With 5.00 (“Agreed discount of”) taken off it adds up.');
    expect(first?.mend).toMatchObject({ field: 'discount', value: '5.00', printed: '5.00' });
  });
  test('prefers the amount whose words speak for the direction', () => {
    const found = gap(['Parking 5.00', 'Fuel surcharge 5.00'], { total: '65.00' });
    expect(found[0]?.amounts[0]?.label).toBe('Fuel surcharge');
    expect(found[0]?.mend?.field).toBe('fuel');
  });
  test('takes a smaller set before a larger one', () => {
    expect(gap(['Waiting charge 2.00', 'Toll fee 3.00', 'Ferry fee 5.00'], { total: '65.00' }).map((one) => one.amounts.length)).toEqual([1]);
  });
  test('puts two amounts together where words speak for both', () => {
    expect(gap(['Waiting charge 2.00', 'Toll fee 3.00'], { total: '65.00' })[0]?.amounts.map((amount) => amount.value)).toEqual(['2.00', '3.00']);
  });
  test('does not put any two amounts together that happen to fit', () => {
    expect(gap(['Article 2.00', 'Weight 3.00'], { total: '65.00' })).toEqual([]);
  });
  test('does not explain a gap by figures that stand in the rows', () => {
    const places = bill({ total: '70.00' });
    const row = places.tables['lines']![0]!;
    const placed: Readings = { ...places, tables: { lines: [{ ...row, price: { ...row['price']!, place: { page: 1, box: [0, 0, 30, 10] } } }, places.tables['lines']![1]!] } };
    expect(checkDocument({ kind, layout: 'merrow', readings: placed, pages: [typedPage(['10.00'])] })[0]?.gap?.explanations).toEqual([]);
  });
  test('finds a discount that was left out together with its tax', () => {
    const [first] = gap(['Early payment discount 5.00 taken off before tax of 20 %'], { total: '54.00' });
    expect(first?.text).toBe('With 5.00 (“Early payment discount”) and its tax of 20%, 1.00, taken off it adds up.');
    expect(first?.mend).toMatchObject({ field: 'discount', value: '5.00', also: { field: 'tax', value: '9.00' } });
  });
  test('finds a tax that was not read by its rate on the page', () => {
    const [first] = check(bill({ tax: null, total: '60.00' }), ['plus 20 % VAT']).find((finding) => finding.gap)?.gap?.explanations ?? [];
    expect(first?.mend).toMatchObject({ field: 'tax', value: '10.00' });
    expect(first?.text).toBe('With 20% of 50.00, 10.00, as tax it adds up.');
  });
  test('reads amounts as the layout writes them', () => {
    expect(strayAmounts([typedPage(['Rabatt 1.234,50'])], ',', [])[0]?.value.toFixed(2)).toBe('1234.50');
    expect(strayAmounts([typedPage(['in 2026 on page 12'])], '.', [])).toEqual([]);
  });
  test('finds a planted set among others', () => {
    const amount = (text: string, context: string) => ({ value: new Decimal(text), printed: text, label: context, context, place: { page: 1, box: [0, 0, 1, 1] as const } });
    const found = explainGap({ difference: new Decimal('-7.50'), tolerance: new Decimal('0.01'), fields: [], amounts: [amount('3.00', 'discount'), amount('4.50', 'allowance'), amount('100.00', 'fee')] });
    expect(found[0]?.amounts.map((part) => [part.value, part.sign])).toEqual([['3.00', -1], ['4.50', -1]]);
  });
});

describe(doubtsOf, () => {
  test('a value below its threshold is doubtful, with its weakest evidence', () => {
    const readings = bill();
    const low: Readings = { ...readings, fields: { ...readings.fields, total: { ...readings.fields['total']!, confidence: 0.88, evidence: [{ what: 'landmark “Totel” matches 89 %', factor: 0.89 }, { what: 'fits', factor: 1 }] } } };
    expect(doubtsOf(kind, low, [])).toEqual([{ path: 'total', label: 'Total', reason: '88 sure, 90 wanted: landmark “Totel” matches 89 %.' }]);
    expect(isTrusted(kind, low, [])).toBe(false);
  });
  test('what a person gave or confirmed is no doubt', () => {
    const readings = bill();
    const given: Readings = { ...readings, fields: { ...readings.fields, total: { ...readings.fields['total']!, confidence: 0.1, reader: 'person' } } };
    expect(isTrusted(kind, given, [])).toBe(true);
  });
  test('an empty optional field is no doubt', () => {
    expect(doubtsOf(kind, bill({ fuel: null }), [])).toEqual([]);
  });
  test('a cell is named with its row', () => {
    expect(labelOf(kind, 'lines.2.amount')).toBe('Amount, row 3');
  });
});
