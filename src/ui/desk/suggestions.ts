import type { Finding } from '@/core/checking/finding';
import { labelOf } from '@/core/checking/trust';
import { shownAmount } from '@/core/value/amount';
import { cellPath, readingAt, type DocumentReading, type Reading, type Readings, type ValuePath } from '@/core/reading/reading';
import type { KindDefinition } from '@/core/reading/kind';
import { decimalOf, plainAmount } from '@/core/value/amount';
import Decimal from 'decimal.js';

/** Something that one key applies: another value, here or in the field that would make it add up. */
export interface Suggestion {
  readonly text: string;
  readonly path: ValuePath;
  readonly reading: Reading;
  /** Another value that must change with it. */
  readonly also?: { readonly path: ValuePath; readonly reading: Reading };
}

export const MOST_SUGGESTIONS = 4;

const given = (value: string, text: string, place: Reading['place']): Reading => ({ text, value, place, anchor: null, reader: 'person', confidence: 1, evidence: [] });

interface Situation {
  readonly kind: KindDefinition;
  readonly reading: DocumentReading;
  readonly readings: Readings;
  readonly findings: readonly Finding[];
}

/** Up to four ways to mend a value: what closes the gap first, then what arithmetic says, then what other readers found. */
export function suggestionsFor(path: ValuePath, { kind, reading, readings, findings }: Situation): Suggestion[] {
  const concerned = findings.filter((finding) => finding.paths.includes(path));
  const gaps = concerned.flatMap((finding) =>
    (finding.gap?.explanations ?? []).flatMap(({ mend, amounts }): Suggestion[] =>
      mend ? [{ path: mend.field, reading: given(mend.value, mend.printed, mend.place), text: `${labelOf(kind, mend.field)} ${shownAmount(mend.value)}${amounts[0]?.label ? `, “${amounts[0].label}”` : ''}: then it adds up`, ...(mend.also ? { also: { path: mend.also.field, reading: given(mend.also.value, mend.also.value, readings.fields[mend.also.field]?.place ?? null) } } : {}) }] : [],
    ),
  );
  const alternatives = (reading.alternatives[path] ?? []).flatMap((other): Suggestion[] => (other.value === null ? [] : [{ path, reading: { ...other, reader: 'person', confidence: 1 }, text: `${other.value}, also found by ${other.reader}` }]));
  const all = [...gaps, ...fromArithmetic(path, kind, readings, concerned), ...fromTotal(path, readings, concerned), ...alternatives];
  const current = readingAt(readings, path)?.value ?? null;
  return all.filter((one, index) => (one.path !== path || one.reading.value !== current) && all.findIndex((other) => other.path === one.path && other.reading.value === one.reading.value) === index).slice(0, MOST_SUGGESTIONS);
}

/** On a row whose three figures disagree, each of them can be what the other two say. */
function fromArithmetic(path: ValuePath, kind: KindDefinition, readings: Readings, concerned: readonly Finding[]): Suggestion[] {
  const [table = '', row, column] = path.split('.');
  const check = kind.checks.find((candidate) => candidate.check === 'line-amount' && candidate.table === table);
  if (row === undefined || check?.check !== 'line-amount' || !concerned.some((finding) => finding.check === 'line-amount')) return [];
  const at = (key: string) => decimalOf(readingAt(readings, cellPath(table, Number(row), key))?.value);
  const [quantity, price, amount] = [at(check.quantity), at(check.price), at(check.amount)];
  const offer = (value: Decimal, why: string, places: number): Suggestion[] => {
    const plain = plainAmount(value.toDecimalPlaces(4), places);
    return [{ path, reading: given(plain, plain, readingAt(readings, path)?.place ?? null), text: `${shownAmount(plain)}, ${why}` }];
  };
  if (column === check.amount && quantity && price) return offer(quantity.times(price).toDecimalPlaces(2, Decimal.ROUND_HALF_UP), 'quantity × price', 2);
  if (column === check.price && quantity && amount && !quantity.isZero()) return offer(amount.div(quantity), 'amount ÷ quantity', 2);
  if (column === check.quantity && price && amount && !price.isZero() && amount.div(price).toDecimalPlaces(4).isInteger()) return offer(amount.div(price), 'amount ÷ price', 0);
  return [];
}

/** The total that the parts come to. */
function fromTotal(path: ValuePath, readings: Readings, concerned: readonly Finding[]): Suggestion[] {
  const difference = decimalOf(concerned.find((finding) => finding.check === 'reconcile')?.gap?.difference);
  const total = decimalOf(readingAt(readings, path)?.value);
  if (!difference || !total) return [];
  const sum = plainAmount(total.minus(difference), 2);
  return [{ path, reading: given(sum, sum, readingAt(readings, path)?.place ?? null), text: `${shownAmount(sum)}, what the parts come to` }];
}
