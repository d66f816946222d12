import Decimal from 'decimal.js';
import { unionOf, type Place, type Word } from '@/core/page/page';
import { linesOf, textOf } from '@/core/page/lines';
import { decimalOf, plainAmount } from '@/core/value/amount';
import { PLAIN_LOCALE, type LocaleHints } from '@/core/value/normalise';
import { normaliseFor, type FieldDefinition, type KindDefinition, type TableDefinition } from './kind';
import { cellPath, NOTHING_READ, readingAt, type Reading, type Readings, type Row, type ValuePath } from './reading';

/** Changes that a person makes to what was read. All pure: readings in, readings out. */

/** The definition of the field or column at a path; null where the kind has none. */
export function fieldAt(kind: KindDefinition, path: ValuePath): FieldDefinition | null {
  const [first = '', row, column] = path.split('.');
  if (row === undefined) return kind.fields.find((field) => field.key === first) ?? null;
  return kind.tables.find((table) => table.key === first)?.columns.find((field) => field.key === column) ?? null;
}

/**
 * A value as typed or clicked. It may be written as on the page or plainly; what fits neither is kept with the reason.
 * An empty text means: there is none.
 */
export function typedReading(field: FieldDefinition, text: string, locale: LocaleHints, place: Place | null): Reading {
  const base = { text: text.trim(), place, anchor: null, reader: 'person', confidence: 1, evidence: [] } as const;
  if (base.text === '') return { ...base, value: null, place: null };
  const asPrinted = normaliseFor(field, base.text, locale);
  const fit = asPrinted.ok ? asPrinted : normaliseFor(field, base.text, PLAIN_LOCALE);
  return fit.ok ? { ...base, value: fit.value } : { ...base, value: null, problem: asPrinted.ok ? '' : asPrinted.why };
}

/** A person has looked and found it right. */
export const confirmed = (reading: Reading): Reading => ({ ...reading, reader: 'person', confidence: 1 });

/** Readings with another value at a path. Rows that are not there are not made. */
export function withReading(readings: Readings, path: ValuePath, reading: Reading): Readings {
  const [first = '', row, column] = path.split('.');
  if (row === undefined || column === undefined) return { ...readings, fields: { ...readings.fields, [first]: reading } };
  const rows = (readings.tables[first] ?? []).map((cells, index) => (index === Number(row) ? { ...cells, [column]: reading } : cells));
  return { ...readings, tables: { ...readings.tables, [first]: rows } };
}

/** After a quantity or a price was changed, the amount of its row follows. */
export function withAmountFor(kind: KindDefinition, readings: Readings, path: ValuePath): Readings {
  const [table = '', row, column] = path.split('.');
  const check = kind.checks.find((candidate) => candidate.check === 'line-amount' && candidate.table === table);
  if (row === undefined || check?.check !== 'line-amount' || (column !== check.quantity && column !== check.price)) return readings;
  const [quantity, price] = [check.quantity, check.price].map((key) => decimalOf(readingAt(readings, cellPath(table, Number(row), key))?.value));
  if (!quantity || !price) return readings;
  const amount = plainAmount(quantity.times(price).toDecimalPlaces(2, Decimal.ROUND_HALF_UP), 2);
  const target = cellPath(table, Number(row), check.amount);
  if (readingAt(readings, target)?.value === amount) return readings;
  const before = readingAt(readings, target);
  return withReading(readings, target, { text: amount, value: amount, place: before?.place ?? null, anchor: null, reader: 'person', confidence: 1, evidence: [{ what: 'quantity × price', factor: 1 }] });
}

const emptyRow = (table: TableDefinition): Row => Object.fromEntries(table.columns.map((column) => [column.key, NOTHING_READ]));

/** A new row before the one with the given index (counted from 0); at the end when there is none. */
export function withRow(readings: Readings, table: TableDefinition, index: number): Readings {
  const rows = readings.tables[table.key] ?? [];
  return { ...readings, tables: { ...readings.tables, [table.key]: [...rows.slice(0, index), emptyRow(table), ...rows.slice(index)] } };
}

export function withoutRow(readings: Readings, table: string, index: number): Readings {
  return { ...readings, tables: { ...readings.tables, [table]: (readings.tables[table] ?? []).filter((_, row) => row !== index) } };
}

/** Words dragged over, as one value per printed line. */
export function valuesByLine(words: readonly Word[], page: number): { readonly text: string; readonly place: Place }[] {
  const lines = linesOf({ number: page, width: 0, height: 0, words });
  return lines.map((line) => ({ text: textOf(line.words), place: { page, box: unionOf(line.words.map((word) => word.box)) } }));
}

/** Fill a column downwards from a row, one value per line; rows are added where they run out. */
export function filledDown(readings: Readings, table: TableDefinition, from: { readonly row: number; readonly column: FieldDefinition }, values: ReturnType<typeof valuesByLine>, locale: LocaleHints): Readings {
  let next = readings;
  for (const [index, { text, place }] of values.entries()) {
    const row = from.row + index;
    if (row >= (next.tables[table.key]?.length ?? 0)) next = withRow(next, table, row);
    next = withReading(next, cellPath(table.key, row, from.column.key), typedReading(from.column, text, locale, place));
  }
  return next;
}
