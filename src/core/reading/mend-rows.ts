import Decimal from 'decimal.js';
import { decimalOf, plainAmount } from '@/core/value/amount';
import type { FieldDefinition } from './kind';
import { similarity } from './landmark';
import { confidenceOf, wasRecognised, type Reading, type Row } from './reading';

/** The columns of a row that belong together: quantity × price = amount. */
export interface AmountColumns {
  readonly quantity: FieldDefinition;
  readonly price: FieldDefinition;
  readonly amount: FieldDefinition;
}

const CENT = new Decimal('0.02');
export const MULTIPLIES = 'quantity × price gives the amount';
/** Three figures that multiply to the cent were hardly misread. */
const multiplied = (reading: Reading): Reading => (reading.evidence.some((item) => item.what === MULTIPLIES) ? reading : { ...reading, evidence: [...reading.evidence, { what: MULTIPLIES, factor: 1 }], confidence: Math.max(reading.confidence, 0.97) });
/** A figure that was misread still looks like the right one: at least so many of its characters agree. */
const ALIKE = 0.5;

/**
 * Where one of the three is missing or was misread, the other two give it. Only on recognised pages: a text layer does not misread,
 * there a row that does not multiply is a finding. The computed value is doubtful enough to be looked at unless two thirds agree.
 */
export function mendRow(row: Row, columns: AmountColumns): Row {
  const [quantity, price, amount] = [row[columns.quantity.key], row[columns.price.key], row[columns.amount.key]];
  if (!quantity || !price || !amount) return row;
  const [q, p, a] = [quantity, price, amount].map((reading) => decimalOf(reading.value));
  if (![quantity, price, amount].some(wasRecognised)) return row;
  if (q && p && a && q.times(p).minus(a).abs().lte(CENT)) return { ...row, [columns.quantity.key]: multiplied(quantity), [columns.price.key]: multiplied(price), [columns.amount.key]: multiplied(amount) };
  const offers: [FieldDefinition, Reading, Decimal | null][] = [
    [columns.quantity, quantity, a && p && !p.isZero() ? whole(a.div(p), 3) : null],
    [columns.price, price, a && q && !q.isZero() ? exact(a, q) : null],
    [columns.amount, amount, q && p ? q.times(p).toDecimalPlaces(2, Decimal.ROUND_HALF_UP) : null],
  ];
  const missing = offers.filter(([, reading]) => reading.value === null);
  const fitting = (missing.length === 1 ? missing : missing.length === 0 ? offers : []).filter(([, reading, value]) => value !== null && (reading.value === null || similarity(reading.value, value.toFixed()) >= ALIKE));
  const [chosen] = fitting.sort((x, y) => x[1].confidence - y[1].confidence);
  if (!chosen?.[2]) return row;
  const [column, reading, value] = chosen;
  const evidence = [...reading.evidence.filter((item) => item.factor >= 0.5), { what: `${reading.text === '' ? 'not recognised' : `recognised as “${reading.text}”`}, computed from the other two`, factor: 0.85 }];
  const mended: Reading = { ...reading, text: reading.text === '' ? plainAmount(value) : reading.text, value: plainAmount(value, column.type === 'money' ? 2 : 0), reader: reading.reader === 'none' ? 'table' : reading.reader, evidence, confidence: confidenceOf(evidence) };
  delete (mended as { problem?: string }).problem;
  return { ...row, [column.key]: mended };
}

/** A quantity is a number of few places; anything else is no quantity. */
function whole(value: Decimal, places: number): Decimal | null {
  const rounded = value.toDecimalPlaces(places);
  const nearest = value.toDecimalPlaces(0);
  if (value.minus(nearest).abs().lt('0.004')) return nearest;
  return value.minus(rounded).abs().lt('0.0001') ? rounded : null;
}

/** A price of two places that gives exactly the amount. */
function exact(amount: Decimal, quantity: Decimal): Decimal | null {
  const price = amount.div(quantity).toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
  return price.times(quantity).minus(amount).abs().lte('0.005') ? price : null;
}

/** "l" and "1" look the same, and a unit is never a figure. Only on recognised pages. */
export function mendUnit(row: Row, unit: FieldDefinition): Row {
  const reading = row[unit.key];
  if (!reading || !/^[1I|]$/.test(reading.value ?? '') || !wasRecognised(reading)) return row;
  return { ...row, [unit.key]: { ...reading, value: 'l', evidence: [...reading.evidence, { what: `“${reading.text}” taken for the unit l`, factor: 1 }] } };
}
