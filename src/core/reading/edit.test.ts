import { billKind } from '../../../tests/support/definitions';
import { typedPage } from '../../../tests/support/page';
import { confirmed, fieldAt, filledDown, typedReading, valuesByLine, withAmountFor, withoutRow, withReading, withRow } from './edit';
import { NOTHING_READ, readingAt, type Readings } from './reading';

const kind = billKind();
const comma = { decimal: ',', dates: 'dmy' } as const;
const total = fieldAt(kind, 'total')!;
const lines = kind.tables[0]!;
const person = (value: string) => typedReading(total, value, { decimal: '.', dates: 'dmy' }, null);
const readings: Readings = { fields: { total: person('12.00') }, tables: { lines: [{ quantity: person('2'), price: person('6.00'), amount: person('12.00'), description: NOTHING_READ, unit: NOTHING_READ }] } };

describe(typedReading, () => {
  test('takes a value as the page writes it or plainly', () => {
    expect([typedReading(total, '1.234,50', comma, null).value, typedReading(total, '1234.50', comma, null).value]).toEqual(['1234.50', '1234.50']);
  });
  test('keeps what does not fit, with the reason', () => {
    expect(typedReading(total, 'a lot', comma, null)).toMatchObject({ text: 'a lot', value: null, problem: expect.stringContaining('a lot') });
  });
  test('takes an empty text for "there is none"', () => {
    expect(typedReading(total, '  ', comma, { page: 1, box: [0, 0, 1, 1] })).toMatchObject({ value: null, place: null, reader: 'person' });
    expect(typedReading(total, '', comma, null).problem).toBeUndefined();
  });
});

describe('changing readings', () => {
  test('a confirmed reading keeps its value and is sure', () => {
    expect(confirmed({ ...NOTHING_READ, value: '7', confidence: 0.4 })).toMatchObject({ value: '7', confidence: 1, reader: 'person' });
  });
  test('another quantity makes another amount, a unit price as well', () => {
    const changed = withAmountFor(kind, withReading(readings, 'lines.0.quantity', person('3')), 'lines.0.quantity');
    expect(readingAt(changed, 'lines.0.amount')?.value).toBe('18.00');
    expect(readingAt(readings, 'lines.0.amount')?.value).toBe('12.00');
  });
  test('an amount that was typed is left as it is', () => {
    expect(withAmountFor(kind, readings, 'lines.0.amount')).toBe(readings);
  });
  test('rows can be put in and taken away', () => {
    const longer = withRow(readings, lines, 0);
    expect(longer.tables['lines']?.map((row) => row['amount']?.value)).toEqual([null, '12.00']);
    expect(withoutRow(longer, 'lines', 0)).toEqual(readings);
  });
  test('words dragged over several lines fill a column downwards, adding rows where they run out', () => {
    const page = typedPage(['7', '8', '9']);
    const filled = filledDown(readings, lines, { row: 0, column: fieldAt(kind, 'lines.0.quantity')! }, valuesByLine(page.words, 1), comma);
    expect(filled.tables['lines']?.map((row) => row['quantity']?.value)).toEqual(['7', '8', '9']);
    expect(filled.tables['lines']?.[2]?.['quantity']?.place).toEqual({ page: 1, box: [0, 28, 6, 38] });
  });
});
