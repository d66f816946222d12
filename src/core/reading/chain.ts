import type { Page } from '@/core/page/page';
import { linesOf, type Line } from '@/core/page/lines';
import { readByAnchor } from './anchor';
import { DEFAULT_ENOUGH, type FieldDefinition, type FieldReaderSettings, type KindDefinition, type LayoutDefinition, type PageChoice } from './kind';
import { findLandmarks } from './landmark';
import { readByPattern } from './pattern';
import { NOTHING_READ, type ColumnBand, type DocumentReading, type Reading, type Row, type Tried } from './reading';
import { readTable } from './table';

/** Suggestions kept per field besides the reading itself. */
const MOST_ALTERNATIVES = 4;

/** Read a whole document: choose the layout, then ask each field's readers in order until one is sure enough. */
export function readDocument(pages: readonly Page[], kind: KindDefinition): DocumentReading {
  const lines = pages.flatMap(linesOf);
  const { layout, misses } = chooseLayout(lines, kind);
  const read = new Map(kind.fields.map((field) => [field.key, layout ? readField(lines, field, layout) : { best: NOTHING_READ, others: [], tried: [] }]));
  const tables = readTables(lines, kind, layout);
  return {
    kind: kind.key,
    layout: layout?.key ?? null,
    misses,
    fields: Object.fromEntries([...read].map(([key, result]) => [key, result.best])),
    tables: tables.rows,
    bands: tables.bands,
    alternatives: Object.fromEntries([...read].map(([key, result]) => [key, result.others])),
    tried: Object.fromEntries([...read].map(([key, result]) => [key, result.tried])),
  };
}

function chooseLayout(lines: readonly Line[], kind: KindDefinition): { layout: LayoutDefinition | null; misses: string[] } {
  const misses: string[] = [];
  for (const layout of kind.layouts) {
    const missing = layout.recognise.filter((wording) => findLandmarks(lines, [wording]).length === 0);
    if (missing.length === 0) return { layout, misses };
    misses.push(`${layout.name}: ${missing.map((wording) => `“${wording}”`).join(', ')} not found on the document`);
  }
  return { layout: null, misses };
}

interface FieldResult {
  readonly best: Reading;
  readonly others: readonly Reading[];
  readonly tried: readonly Tried[];
}

function readField(lines: readonly Line[], field: FieldDefinition, layout: LayoutDefinition): FieldResult {
  const found: Reading[] = [];
  const tried: Tried[] = [];
  for (const settings of layout.fields[field.key] ?? []) {
    const readings = readWith(settings, linesFor(lines, settings.page), field, layout);
    tried.push({ reader: settings.reader, found: readings.length, best: readings[0]?.confidence ?? null });
    found.push(...readings);
    if ((readings[0]?.confidence ?? 0) >= (settings.enough ?? DEFAULT_ENOUGH)) break;
  }
  const ordered = found.sort((a, b) => b.confidence - a.confidence);
  const best = ordered[0] ?? NOTHING_READ;
  return { best, others: distinct(ordered.slice(1), best).slice(0, MOST_ALTERNATIVES), tried };
}

function readWith(settings: FieldReaderSettings, lines: readonly Line[], field: FieldDefinition, layout: LayoutDefinition): Reading[] {
  switch (settings.reader) {
    case 'pattern':
      return readByPattern(lines, settings, field, layout.locale);
    case 'anchor':
      return readByAnchor(lines, settings, field, layout.locale);
  }
}

function linesFor(lines: readonly Line[], choice: PageChoice = 'any'): readonly Line[] {
  if (choice === 'any') return lines;
  const page = choice === 'first' ? lines[0]?.page : lines.at(-1)?.page;
  return lines.filter((line) => line.page === page);
}

function distinct(readings: readonly Reading[], best: Reading): Reading[] {
  const seen = new Set([best.value ?? best.text]);
  return readings.filter((reading) => {
    const value = reading.value ?? reading.text;
    if (reading.value === null || seen.has(value)) return false;
    seen.add(value);
    return true;
  });
}

function readTables(lines: readonly Line[], kind: KindDefinition, layout: LayoutDefinition | null) {
  const rows: Record<string, readonly Row[]> = {};
  const bands: ColumnBand[] = [];
  for (const table of kind.tables) {
    const settings = layout?.tables[table.key];
    const reading = settings && layout ? readTable(lines, settings, table.columns, layout.locale) : { rows: [], bands: [] };
    rows[table.key] = reading.rows;
    bands.push(...reading.bands);
  }
  return { rows, bands };
}
