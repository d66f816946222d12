import type { Place } from '@/core/page/page';
import type { Readings, Row } from '@/core/reading/reading';
import { decimalOf } from '@/core/value/amount';
import type { BranchStep, Comparison, Composed, Condition, RowPlan, Template, Value, ValueSource } from './definition';
import { compute } from './expression';
import type { Given, Known, StepResult } from './facts';

/** What is known of the document besides what is printed on it. */
export interface DocumentFacts {
  readonly id: string;
  readonly fileName: string;
  readonly receivedAt: string;
  readonly sender: string | null;
  /** See {@link REQUEST_PARTS}. */
  readonly address?: string;
  readonly base64?: string;
}

/** What values are taken from. */
export interface Scope {
  readonly known: Known;
  readonly document: DocumentFacts;
  /** The row that is being written; within lines the row of the line, where there is no other. */
  readonly row?: Row | undefined;
}

/** One value to be written, with the place it came from. */
export interface PlannedValue {
  readonly value: string | null;
  readonly place: Place | null;
}

/** One row to be written. */
export type PlannedRow = Readonly<Record<string, PlannedValue>>;

/** An expression that failed for this document; the step fails with the sentence. */
export class ValueProblem extends Error {
  override readonly name = 'ValueProblem';
}

export const DOCUMENT_PARTS = ['id', 'name', 'received', 'sender', 'kind', 'address', 'base64'] as const;

/** Parts that are made up only for a request that names them: an address under which the original can be fetched for a while, or the bytes. */
export const REQUEST_PARTS = ['address', 'base64'] as const;

const nowhere = (value: string | null): PlannedValue => ({ value, place: null });

/** Head and tail of a source: `row.amount` → row, amount. The tail may hold anything, dots too. */
export function partsOfSource(source: ValueSource): { head: string; tail: string | null } {
  const at = source.indexOf('.');
  return at < 0 ? { head: source, tail: null } : { head: source.slice(0, at), tail: source.slice(at + 1) };
}

/**
 * A picked value: `total` (field), `row.amount` (column of the row), `note.pay` (noted by a step), `document.name|id|received|sender|kind`,
 * `haulier.City` (given by the step with the id haulier). Unknown sources give an empty value; the static checks name them beforehand.
 */
export function valueAt(source: ValueSource, { known, document, row }: Scope): PlannedValue {
  const { head, tail } = partsOfSource(source);
  if (tail === null) return fromReading(known.readings.fields[head]);
  if (head === 'row') return fromReading((row ?? known.row)?.[tail]);
  if (head === 'note') return nowhere(known.notes[tail] ?? null);
  if (head === 'document') return nowhere(documentValue(tail, document, known));
  return nowhere(known.given[head]?.[tail] ?? null);
}

function fromReading(reading: Readings['fields'][string] | undefined): PlannedValue {
  return { value: reading?.value ?? null, place: reading?.place ?? null };
}

function documentValue(name: string, document: DocumentFacts, known: Known): string | null {
  switch (name) {
    case 'id':
      return document.id;
    case 'name':
      return document.fileName;
    case 'received':
      return document.receivedAt;
    case 'sender':
      return document.sender;
    case 'kind':
      return known.reading?.kind ?? known.kind;
    case 'address':
      return document.address ?? null;
    case 'base64':
      return document.base64 ?? null;
    default:
      return null;
  }
}

/** Which of its ways counts. */
export const wayOfValue = (value: Composed): 'pick' | 'text' | 'expression' => value.by ?? (value.expression !== undefined ? 'expression' : value.text !== undefined ? 'text' : 'pick');

/** A value in any of its ways. Throws {@link ValueProblem} where an expression fails. */
export async function valueOf(value: Value, scope: Scope): Promise<PlannedValue> {
  if (typeof value === 'string') return valueAt(value, scope);
  switch (wayOfValue(value)) {
    case 'pick':
      return value.pick === undefined ? nowhere(null) : valueAt(value.pick, scope);
    case 'text':
      return nowhere(fillIn(value.text ?? '', scope) || null);
    case 'expression': {
      const computed = await compute(value.expression ?? '', dataOf(scope));
      if (!computed.ok) throw new ValueProblem(`“${value.expression}”: ${computed.why}`);
      return nowhere(computed.value);
    }
  }
}

/** Values by name. */
export async function valuesOf(values: Readonly<Record<string, Value>>, scope: Scope): Promise<Given> {
  const made: [string, string | null][] = [];
  for (const [name, value] of Object.entries(values)) made.push([name, (await valueOf(value, scope)).value]);
  return Object.fromEntries(made);
}

const PLACE_IN_TEMPLATE = /\{\{|\}\}|\{([^{}\n]{1,200})\}/g;

/** A text with its values filled in; an empty value leaves nothing. */
export function fillIn(template: Template, scope: Scope, written: (value: string) => string = (value) => value): string {
  return template.replace(PLACE_IN_TEMPLATE, (whole, source: string | undefined) => (source === undefined ? whole.slice(1) : written(valueAt(source.trim(), scope).value ?? '')));
}

/** The sources that a template names. */
export const sourcesInTemplate = (template: Template): string[] => [...template.matchAll(PLACE_IN_TEMPLATE)].flatMap(([, source]) => (source === undefined ? [] : [source.trim()]));

// What is empty is left out: functions of expressions take nothing, but not null.
const filled = (cells: Given): Given => Object.fromEntries(Object.entries(cells).filter(([, value]) => value !== null));
const valuesIn = (cells: Row): Given => filled(Object.fromEntries(Object.entries(cells).map(([key, { value }]) => [key, value])));

/** Tables as expressions see them. Each line of a long document asks about all of its lines: they are made once, not once a line. */
const tablesSeen = new WeakMap<readonly Row[], readonly Given[]>();

function tableSeen(rows: readonly Row[]): readonly Given[] {
  const seen = tablesSeen.get(rows) ?? rows.map(valuesIn);
  tablesSeen.set(rows, seen);
  return seen;
}

/** What expressions look at: fields and tables by key, `row`, `note`, `document`, and what steps gave by their ids. Values are text. */
export function dataOf({ known, document, row }: Scope): Record<string, unknown> {
  const current = row ?? known.row;
  return {
    ...Object.fromEntries(Object.entries(known.given).map(([step, given]) => [step, filled(given)])),
    ...valuesIn(known.readings.fields),
    ...Object.fromEntries(Object.entries(known.readings.tables).map(([key, rows]) => [key, tableSeen(rows)])),
    note: filled(known.notes),
    document: filled(Object.fromEntries(DOCUMENT_PARTS.map((part) => [part, documentValue(part, document, known)]))),
    ...(current ? { row: valuesIn(current) } : {}),
  };
}

/** The rows a plan makes of what is known. */
export async function planRows(plan: RowPlan, scope: Scope): Promise<PlannedRow[]> {
  const rows: readonly (Row | undefined)[] = plan.each === undefined ? [scope.row] : (scope.known.readings.tables[plan.each] ?? []);
  const planned: PlannedRow[] = [];
  for (const [index, row] of rows.entries()) {
    const cells: [string, PlannedValue][] = [];
    for (const [column, value] of Object.entries(plan.columns)) cells.push([column, await inRow(valueOf(value, { ...scope, row }), plan.each === undefined ? null : index, column)]);
    planned.push(Object.fromEntries(cells));
  }
  return planned;
}

/** A failing expression names the row it failed on. */
const inRow = <T>(value: Promise<T>, row: number | null, column: string): Promise<T> =>
  value.catch((error: unknown) => {
    if (error instanceof ValueProblem) throw new ValueProblem(`${column}${row === null ? '' : ` of row ${row + 1}`}: ${error.message}`);
    throw error;
  });

/** Does a condition hold? Amounts compare as decimals, everything else as text (ISO dates sort as text). */
export function holds(condition: Condition, scope: Scope): boolean {
  if ('trusted' in condition) return scope.known.trusted === condition.trusted;
  if ('all' in condition) return condition.all.every((part) => holds(part, scope));
  if ('any' in condition) return condition.any.some((part) => holds(part, scope));
  return compares(valueAt(condition.value, scope).value, condition.is, condition.than ?? '');
}

/** The first way whose condition holds. */
export function chooseWay(step: BranchStep, scope: Scope): Extract<StepResult, { made: 'choice' }> {
  const way = step.ways.findIndex((candidate) => holds(candidate.when, scope));
  return { made: 'choice', way: way < 0 ? 'else' : way, name: way < 0 ? (step.else?.name ?? 'otherwise') : (step.ways[way]?.name ?? '') };
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
