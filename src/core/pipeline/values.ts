import type { Place } from '@/core/page/page';
import type { Readings, Row } from '@/core/reading/reading';
import { decimalOf } from '@/core/value/amount';
import type { Comparison, Condition, RowPlan, ValueSource } from './definition';
import type { Known } from './facts';

/** What is known of the document besides what is printed on it. */
export interface DocumentFacts {
  readonly id: string;
  readonly fileName: string;
  readonly receivedAt: string;
  readonly sender: string | null;
}

/** One value to be written, with the place it came from. */
export interface PlannedValue {
  readonly value: string | null;
  readonly place: Place | null;
}

/** One row to be written. */
export type PlannedRow = Readonly<Record<string, PlannedValue>>;

const nowhere = (value: string | null): PlannedValue => ({ value, place: null });

/**
 * A value by its source: `total` (field), `row.amount` (column of the current row), `note.pay` (noted by a step),
 * `document.name|id|received|sender`. Unknown sources give an empty value; the static checks name them beforehand.
 */
export function valueAt(source: ValueSource, known: Known, document: DocumentFacts, row?: Row): PlannedValue {
  const [head = '', tail] = source.split('.', 2);
  if (tail === undefined) return fromReading(known.readings.fields[head]);
  if (head === 'row') return fromReading(row?.[tail]);
  if (head === 'note') return nowhere(known.notes[tail] ?? null);
  if (head === 'document') return nowhere(documentValue(tail, document));
  return nowhere(null);
}

function fromReading(reading: Readings['fields'][string] | undefined): PlannedValue {
  return { value: reading?.value ?? null, place: reading?.place ?? null };
}

function documentValue(name: string, document: DocumentFacts): string | null {
  switch (name) {
    case 'id':
      return document.id;
    case 'name':
      return document.fileName;
    case 'received':
      return document.receivedAt;
    case 'sender':
      return document.sender;
    default:
      return null;
  }
}

/** The rows a plan makes of what is known. */
export function planRows(plan: RowPlan, known: Known, document: DocumentFacts): PlannedRow[] {
  const rows: readonly (Row | undefined)[] = plan.each === undefined ? [undefined] : (known.readings.tables[plan.each] ?? []);
  return rows.map((row) => Object.fromEntries(Object.entries(plan.columns).map(([column, source]) => [column, valueAt(source, known, document, row)])));
}

/** Does a condition hold? Amounts compare as decimals, everything else as text (ISO dates sort as text). */
export function holds(condition: Condition, known: Known, document: DocumentFacts): boolean {
  if ('trusted' in condition) return known.trusted === condition.trusted;
  if ('all' in condition) return condition.all.every((part) => holds(part, known, document));
  if ('any' in condition) return condition.any.some((part) => holds(part, known, document));
  return compares(valueAt(condition.value, known, document).value, condition.is, condition.than ?? '');
}

function compares(value: string | null, comparison: Comparison, than: string): boolean {
  if (comparison === 'missing') return value === null;
  if (comparison === 'present') return value !== null;
  if (value === null) return comparison === 'not equal to';
  const order = ordering(value, than);
  switch (comparison) {
    case 'above':
      return order > 0;
    case 'at least':
      return order >= 0;
    case 'below':
      return order < 0;
    case 'at most':
      return order <= 0;
    case 'equal to':
      return order === 0;
    case 'not equal to':
      return order !== 0;
  }
}

function ordering(a: string, b: string): number {
  const [left, right] = [decimalOf(a), decimalOf(b)];
  if (left && right) return left.comparedTo(right);
  return a < b ? -1 : a > b ? 1 : 0;
}
