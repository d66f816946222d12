import { assign } from '@/core/matching/assignment';
import type { KindDefinition, TableDefinition } from '@/core/reading/kind';
import type { Readings, Row } from '@/core/reading/reading';
import { decimalOf } from '@/core/value/amount';
import type { ValueType } from '@/core/value/normalise';
import { similarity } from '@/core/reading/landmark';

/** Confirmed values of one document: what a perfect reader finds. A field that is not named was not confirmed. */
export interface Truth {
  readonly fields: Readonly<Record<string, string | null>>;
  readonly tables?: Readonly<Record<string, readonly Readonly<Record<string, string | null>>[]>>;
}

/**
 * What became of one confirmed value. `equal`: right after normalising (blanks, capitals, places of a decimal); `extra`: there is
 * none and one was read.
 */
export const VERDICTS = ['right', 'equal', 'wrong', 'missing', 'extra'] as const;
export type Verdict = (typeof VERDICTS)[number];

export interface Judged {
  /** `total`, or `lines.2.amount` with the row of the truth; an added row has the path `lines.+`. */
  readonly path: string;
  readonly field: string;
  readonly verdict: Verdict;
  readonly expected: string | null;
  readonly found: string | null;
  readonly confidence: number;
  readonly reader: string;
}

export const isRight = (verdict: Verdict): boolean => verdict === 'right' || verdict === 'equal';

/** Every confirmed value against what was read. Values that are rightly empty are `right`. */
export function judge(kind: KindDefinition, readings: Readings, truth: Truth): Judged[] {
  const fields = kind.fields.filter((field) => field.key in truth.fields).map((field) => {
    const reading = readings.fields[field.key];
    const expected = truth.fields[field.key] ?? null;
    return { path: field.key, field: field.key, verdict: verdictOf(field.type, expected, reading?.value ?? null), expected, found: reading?.value ?? null, confidence: reading?.confidence ?? 0, reader: reading?.reader ?? 'none' };
  });
  const tables = kind.tables.flatMap((table) => (truth.tables?.[table.key] ? judgeTable(table, readings.tables[table.key] ?? [], truth.tables[table.key] ?? []) : []));
  return [...fields, ...tables];
}

export function verdictOf(type: ValueType, expected: string | null, found: string | null): Verdict {
  if (expected === null || expected === '') return found === null ? 'right' : 'extra';
  if (found === null) return 'missing';
  if (expected === found) return 'right';
  return sameValue(type, expected, found) ? 'equal' : 'wrong';
}

function sameValue(type: ValueType, a: string, b: string): boolean {
  if (type === 'money' || type === 'number') {
    const [left, right] = [decimalOf(a), decimalOf(b)];
    return left !== null && right !== null && left.equals(right);
  }
  // A blank more or less is how a word was set, not what it says.
  const plain = (text: string) => text.toLowerCase().replace(/\s+/g, '').replace(/[.,;:]+$/, '');
  return plain(a) === plain(b);
}

/** Rows are laid against each other so that the most cells agree (assignment: Kuhn 1955, solved by Jonker and Volgenant's way). */
function judgeTable(table: TableDefinition, rows: readonly Row[], truth: NonNullable<Truth['tables']>[string]): Judged[] {
  const partner = alignedRows(table, rows, truth);
  const taken = new Set(partner.filter((row): row is number => row !== null));
  const judged = truth.flatMap((wanted, index) => {
    const row = partner[index] === null || partner[index] === undefined ? undefined : rows[partner[index]];
    return table.columns.filter((column) => column.key in wanted).map((column): Judged => {
      const cell = row?.[column.key];
      const expected = wanted[column.key] ?? null;
      return { path: `${table.key}.${index}.${column.key}`, field: `${table.key}.${column.key}`, verdict: verdictOf(column.type, expected, cell?.value ?? null), expected, found: cell?.value ?? null, confidence: cell?.confidence ?? 0, reader: cell?.reader ?? 'none' };
    });
  });
  const added = rows.flatMap((row, index) => (taken.has(index) ? [] : Object.entries(row).filter(([, cell]) => cell.value !== null).map(([column, cell]): Judged => ({ path: `${table.key}.+`, field: `${table.key}.${column}`, verdict: 'extra', expected: null, found: cell.value, confidence: cell.confidence, reader: cell.reader }))));
  return [...judged, ...added];
}

/** More rows than this are laid against each other in their order; the assignment takes cubic time. */
const MOST_ASSIGNED = 300;
/** Rows less alike than this have nothing to do with each other. */
const LEAST_ALIKE = 0.2;

/** For each true row the read row that belongs to it, or null. */
function alignedRows(table: TableDefinition, rows: readonly Row[], truth: readonly Readonly<Record<string, string | null>>[]): (number | null)[] {
  const inOrder = truth.map((_, index) => (index < rows.length ? index : null));
  if (rows.length === 0 || truth.length === 0) return truth.map(() => null);
  if (rows.length === truth.length || Math.max(rows.length, truth.length) > MOST_ASSIGNED) return inOrder;
  const gain = truth.map((wanted, at) => rows.map((row, index) => likeness(table, wanted, row) - Math.abs(index / rows.length - at / truth.length) * 0.01));
  return assign(gain, LEAST_ALIKE);
}

function likeness(table: TableDefinition, wanted: Readonly<Record<string, string | null>>, row: Row): number {
  const scores = table.columns.map((column) => {
    const [a, b] = [wanted[column.key] ?? null, row[column.key]?.value ?? null];
    if (a === null || b === null) return 0;
    return sameValue(column.type, a, b) ? 1 : column.type === 'text' ? similarity(a, b) * 0.6 : 0;
  });
  return scores.reduce<number>((sum, score) => sum + score, 0) / table.columns.length;
}
