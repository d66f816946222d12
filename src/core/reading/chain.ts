import type { Page } from '@/core/page/page';
import { linesOf, type Line } from '@/core/page/lines';
import { localeOf } from '@/core/value/locale';
import type { LocaleHints } from '@/core/value/normalise';
import { NO_AIDS, type Aids } from './aids';
import { readByAnchor } from './anchor';
import { confirmedByAnother } from './cross';
import { describe, type Described } from './described';
import { amountColumns } from './described-table';
import { DEFAULT_ENOUGH, type FieldDefinition, type FieldReaderSettings, type KindDefinition, type LayoutDefinition } from './kind';
import { helped } from './helped';
import { chooseLayout, type ChosenLayout } from './layout';
import { readByLearning } from './learned';
import { mendRow, mendUnit, type AmountColumns } from './mend-rows';
import { linesFor } from './page-choice';
import { readByPattern } from './pattern';
import { NOTHING_READ, type ColumnBand, type DocumentReading, type Reading, type Row, type Tried } from './reading';
import { invoiceData, readStructured, readStructuredTable, type InvoiceData } from './structured';
import { readTable, type TableReading } from './table';
import { wordingsOf } from './wordings';
import { readByZone } from './zone';

/** Suggestions kept per field besides the reading itself. */
const MOST_ALTERNATIVES = 4;
/** A proposal less sure than this is a suggestion at the desk and no reading. */
const LEAST_SURE = 0.4;

/** Everything the readers of one document share. */
interface Context extends ChosenLayout {
  readonly lines: readonly Line[];
  readonly kind: KindDefinition;
  readonly locale: LocaleHints;
  /** The data that an e-invoice carries. */
  readonly data: InvoiceData | null;
  /** Made when the first reader asks for it. */
  readonly described: () => Described;
}

/** Read a whole document: choose the layout, then ask each field's readers in order until one is sure enough. */
export function readDocument(pages: readonly Page[], kind: KindDefinition, aids: Aids = NO_AIDS): DocumentReading {
  const lines = pages.flatMap(linesOf);
  const local = readPages(pages, lines, kind);
  return helped(local.reading, { kind, lines, aids, locale: local.locale });
}

/** What the pages themselves say. */
function readPages(pages: readonly Page[], lines: readonly Line[], kind: KindDefinition): { readonly reading: DocumentReading; readonly locale: LocaleHints } {
  const chosen = chooseLayout(lines, kind);
  const locale = chosen.layout?.locale ?? localeOf(lines.flatMap((line) => line.words.map((word) => word.text)), kind.locale);
  let described: Described | null = null;
  const context: Context = { ...chosen, data: invoiceData(pages, lines), lines, kind, locale, described: () => (described ??= describe({ pages, lines, kind, locale })) };
  const read = onePlaceEach(new Map(kind.fields.map((field) => [field.key, readField(field, context)])));
  const tables = readTables(context);
  const reading: DocumentReading = {
    kind: kind.key,
    layout: chosen.layout?.key ?? null,
    misses: chosen.misses,
    fields: Object.fromEntries([...read].map(([key, result]) => [key, result.best])),
    tables: tables.rows,
    bands: tables.bands,
    alternatives: Object.fromEntries([...read].map(([key, result]) => [key, result.others])),
    tried: Object.fromEntries([...read].map(([key, result]) => [key, result.tried])),
  };
  return { reading, locale };
}

interface FieldResult {
  readonly best: Reading;
  readonly others: readonly Reading[];
  readonly tried: readonly Tried[];
}

const DESCRIBED: FieldReaderSettings = { reader: 'described' };

/** A layout written by hand says all there is to say; a learned one and an unknown one are helped out by the descriptions. */
function readersFor(field: FieldDefinition, layout: LayoutDefinition | null): readonly FieldReaderSettings[] {
  if (!layout) return [DESCRIBED];
  const own = layout.fields[field.key] ?? [];
  return layout.landmarks === undefined || own.some((reader) => reader.reader === 'described') ? own : [...own, DESCRIBED];
}

function readField(field: FieldDefinition, context: Context): FieldResult {
  const found: Reading[] = [];
  const tried: Tried[] = [];
  const given = context.data ? readStructured(context.data, field, context.kind.name) : null;
  if (context.data) tried.push({ reader: 'structured', found: given ? 1 : 0, best: given?.confidence ?? null });
  if (given?.value != null) return resultFrom([given], tried);
  for (const settings of readersFor(field, context.layout)) {
    const readings = readWith(settings, field, context);
    tried.push({ reader: settings.reader, found: readings.length, best: readings[0]?.confidence ?? null });
    found.push(...readings);
    // A value that is read twice is looked for by every reader, not by the first good one.
    if (!field.cross && (readings[0]?.confidence ?? 0) >= (settings.enough ?? DEFAULT_ENOUGH)) break;
  }
  const ordered = found.sort((a, b) => b.confidence - a.confidence);
  return resultFrom(field.cross ? confirmedByAnother(ordered) : ordered, tried);
}

function resultFrom(ordered: readonly Reading[], tried: readonly Tried[]): FieldResult {
  const first = ordered[0];
  const best = first && (first.confidence >= LEAST_SURE || first.problem !== undefined) ? first : NOTHING_READ;
  return { best, others: distinct(ordered, best).slice(0, MOST_ALTERNATIVES), tried };
}

function readWith(settings: FieldReaderSettings, field: FieldDefinition, { lines, locale, registrations, described }: Context): readonly Reading[] {
  switch (settings.reader) {
    case 'pattern':
      return readByPattern(linesFor(lines, settings.page), settings, field, locale);
    case 'anchor':
      return readByAnchor(linesFor(lines, settings.page), settings, field, locale);
    case 'zone':
      return readByZone(linesFor(lines, settings.page), settings, field, locale, registrations);
    case 'learned':
      return readByLearning(settings, { lines, field, locale, registrations });
    case 'described':
      return described().field(field.key);
  }
}

/** A place on the page is read as one field: where two claim the same words, the surer one keeps them. */
function onePlaceEach(results: ReadonlyMap<string, FieldResult>): Map<string, FieldResult> {
  const claims = new Map<string, { key: string; confidence: number }>();
  const nameOf = ({ place, reader }: Reading): string | null => (place && (reader === 'learned' || reader === 'described') ? `${place.page}/${place.box.join(',')}` : null);
  for (const [key, { best }] of results) {
    const name = nameOf(best);
    if (name !== null && best.confidence > (claims.get(name)?.confidence ?? 0)) claims.set(name, { key, confidence: best.confidence });
  }
  return new Map([...results].map(([key, result]) => {
    const name = nameOf(result.best);
    const claim = name === null ? undefined : claims.get(name);
    // Net and total may well be one printed figure; a clear lead is wanted before somebody loses a value.
    const lost = claim !== undefined && claim.key !== key && claim.confidence > result.best.confidence + 0.08;
    return [key, lost ? resultFrom(result.others.filter((other) => nameOf(other) !== name), result.tried) : result];
  }));
}

/** Of two readings of a table the one with more cells that fit; the taught one where they are alike. */
function fuller(taught: TableReading | null, described: TableReading | null): TableReading | null {
  const worth = ({ rows }: TableReading): number => rows.reduce((sum, row) => sum + Object.values(row).reduce((cells, cell) => cells + (cell.value !== null ? 1 : 0) - (cell.problem === undefined ? 0 : 2), 0), 0);
  if (!taught || !described) return taught ?? described;
  return worth(described) > worth(taught) ? described : taught;
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

function mended(row: Row, multiplied: AmountColumns | null, unit: FieldDefinition | undefined): Row {
  const right = multiplied ? mendRow(row, multiplied) : row;
  return unit ? mendUnit(right, unit) : right;
}

function readTables({ lines, kind, layout, locale, described, data }: Context) {
  const rows: Record<string, readonly Row[]> = {};
  const bands: ColumnBand[] = [];
  for (const table of kind.tables) {
    const given = data && data.lines.length > 0 ? readStructuredTable(data, table, kind.name) : null;
    if (given?.some((row) => Object.values(row).some((cell) => cell.value !== null))) {
      rows[table.key] = given;
      continue;
    }
    const settings = layout?.tables[table.key];
    const taught = settings && layout ? readTable(lines, settings, table.columns, locale) : null;
    // A layout written by hand says all there is to say; a learned one may have been learned from a page that was badly recognised.
    const reading = layout === null || layout.landmarks !== undefined ? fuller(taught, described().table(table.key)) : taught;
    const multiplied = amountColumns(table, kind.name);
    const unit = table.columns.find((column) => wordingsOf(column, 'column', kind.name).concept === 'unit of measure');
    rows[table.key] = (reading?.rows ?? []).map((row) => mended(row, multiplied, unit));
    bands.push(...(reading?.bands ?? []));
  }
  return { rows, bands };
}
