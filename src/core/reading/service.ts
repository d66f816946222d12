import Decimal from 'decimal.js';
import type { Box, Place } from '@/core/page/page';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { normaliseFor, thresholdOf, type FieldDefinition, type KindDefinition, type ServiceUse, type TableDefinition } from './kind';
import { confidenceOf, type Evidence, type Reading, type Readings, type Row } from './reading';

/** One value that a service returns. */
export interface ServiceValue {
  /** Plain decimal, ISO date or text. */
  readonly value: string;
  /** 0..1, where the service says. */
  readonly confidence?: number;
  readonly page?: number;
  /** In points from the top left of the page. */
  readonly box?: Box;
}

/** What an extraction service made of a document. */
export interface ServiceAnswer {
  readonly fields: Readonly<Record<string, ServiceValue>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, ServiceValue>>[]>>;
  /** What was paid, a decimal. */
  readonly cost: string;
  readonly currency: string;
}

/** A service that says nothing about its sureness is believed as far as this. */
const UNSAID = 0.8;
/** Nobody's own word is proof: what a service calls certain still may be wrong. */
const MOST_BELIEVED = 0.97;
/** What is left of the doubt when service and own reader say the same. */
const DOUBT_LEFT = 0.15;

/** Whether anything that this service could answer is still missing or unsure. */
export function isWanted(use: ServiceUse, kind: KindDefinition, readings: Readings): boolean {
  const unsure = (field: FieldDefinition, reading: Reading | undefined): boolean => (reading?.value == null ? field.required === true : reading.confidence < thresholdOf(field));
  return kind.fields.some((field) => field.key in use.fields && unsure(field, readings.fields[field.key])) || kind.tables.some((table) => table.key in (use.tables ?? {}) && isTableUnsure(table, readings.tables[table.key] ?? [], unsure));
}

function isTableUnsure(table: TableDefinition, rows: readonly Row[], unsure: (field: FieldDefinition, reading: Reading | undefined) => boolean): boolean {
  return rows.length === 0 ? table.required === true : rows.some((row) => table.columns.some((column) => unsure(column, row[column.key])));
}

/** Put a service's answer beside what was read: the surer value stands, the other is an alternative, and agreement takes doubt away. */
export function withAnswer<R extends Readings & { readonly alternatives: Readonly<Record<string, readonly Reading[]>> }>(reading: R, kind: KindDefinition, use: ServiceUse, answer: ServiceAnswer): R {
  const fields = { ...reading.fields };
  const alternatives = { ...reading.alternatives };
  for (const field of kind.fields) {
    const theirs = answer.fields[use.fields[field.key] ?? ''];
    const own = reading.fields[field.key];
    if (!theirs) continue;
    const given = readingFrom(field, theirs, use);
    const [best, other] = settled(own, given);
    fields[field.key] = best;
    if (other && other.value !== null) alternatives[field.key] = [other, ...(alternatives[field.key] ?? [])].slice(0, 4);
  }
  return { ...reading, fields, alternatives, tables: tablesWith(reading.tables, kind, use, answer) };
}

function readingFrom(field: FieldDefinition, given: ServiceValue, use: ServiceUse): Reading {
  const fit = normaliseFor(field, given.value, PLAIN_LOCALE);
  const evidence: Evidence[] = [{ what: given.confidence === undefined ? `${use.service} (${use.tier}) says so, and not how sure it is` : `${use.service} (${use.tier}) is ${Math.round(given.confidence * 100)} sure`, factor: Math.min(MOST_BELIEVED, given.confidence ?? UNSAID) }];
  const place: Place | null = given.page !== undefined && given.box ? { page: given.page, box: given.box } : null;
  return { text: given.value, value: fit.ok ? fit.value : null, place, anchor: null, reader: 'service', confidence: fit.ok ? confidenceOf(evidence) : 0, evidence, ...(fit.ok ? {} : { problem: fit.why }) };
}

/** The reading that stands and the one that does not. */
function settled(own: Reading | undefined, given: Reading): readonly [Reading, Reading | null] {
  if (own?.value == null) return [given.value === null && own?.problem !== undefined ? own : given, null];
  if (given.value === null) return [own, null];
  if (own.value === given.value) {
    const doubt = (1 - own.confidence) * DOUBT_LEFT;
    return [{ ...own, confidence: Math.max(own.confidence, Math.round((1 - doubt) * 1000) / 1000), evidence: [...own.evidence, { what: `${given.evidence[0]?.what ?? 'a service'} of the same value`, factor: 1 }] }, null];
  }
  return own.confidence >= given.confidence ? [own, given] : [given, own];
}

function tablesWith(tables: Readings['tables'], kind: KindDefinition, use: ServiceUse, answer: ServiceAnswer): Readings['tables'] {
  const filled = { ...tables };
  for (const table of kind.tables) {
    const mapped = use.tables?.[table.key];
    const theirs = mapped ? answer.tables[mapped.name] : undefined;
    if (!mapped || !theirs || theirs.length === 0) continue;
    const given = theirs.map((row): Row => Object.fromEntries(table.columns.flatMap((column) => {
      const value = row[mapped.columns[column.key] ?? ''];
      return value ? [[column.key, readingFrom(column, value, use)]] : [];
    })));
    const own = tables[table.key] ?? [];
    // Rows can be laid beside each other only where both saw the same number of them; otherwise one table stands as a whole.
    filled[table.key] = own.length === given.length ? own.map((row, index) => rowWith(row, given[index] ?? {})) : meanSureness(own) >= meanSureness(given) ? own : given;
  }
  return filled;
}

const rowWith = (own: Row, given: Row): Row => ({ ...own, ...Object.fromEntries(Object.entries(given).map(([key, reading]) => [key, settled(own[key], reading)[0]])) });

function meanSureness(rows: readonly Row[]): number {
  const cells = rows.flatMap((row) => Object.values(row));
  return cells.length === 0 ? 0 : cells.reduce((sum, cell) => sum + (cell.value === null ? 0 : cell.confidence), 0) / cells.length;
}

/** What asking a service for a document of so many pages is expected to cost. */
export const expectedCost = (use: ServiceUse, pages: number): Decimal => new Decimal(use.price).times(pages);
