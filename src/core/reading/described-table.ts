import { overlap } from '@/core/page/page';
import { stackedLine, type Line, type Phrase } from '@/core/page/lines';
import { decimalOf } from '@/core/value/amount';
import type { LocaleHints } from '@/core/value/normalise';
import type { FieldDefinition, TableDefinition, TableSettings } from './kind';
import type { AmountColumns } from './mend-rows';
import { findLandmarks, type Landmark } from './landmark';
import { confidenceOf, type Evidence, type Reading, type Row } from './reading';
import { readTable, type TableReading } from './table';
import { CARRIED, CONCEPTS, HEADING_CONCEPTS, wordingsOf, type Concept } from './wordings';

/** A table found from the names of its columns alone, with the settings by which it was read. */
export interface FoundTable extends TableReading {
  readonly settings: TableSettings;
  /** Lines that belong to it, so that nobody seeks fields among them. */
  readonly lines: ReadonlySet<Line>;
}

/** What the line after the last row begins with. */
const ENDS: readonly Concept[] = ['net total', 'tax total', 'grand total', 'closing balance', 'discount', 'shipping', 'paid amount'];
const END_WORDS = ENDS.flatMap((concept) => [...CONCEPTS[concept]]);

/** Columns that a row fills once, the most telling first. */
const ONCE: readonly Concept[] = ['line amount', 'entry amount', 'running balance', 'quantity', 'result', 'unit price', 'entry date', 'item code'];

/** Few lines can be headings; more are not tried. */
const MOST_HEADINGS = 4;

/** The table of a document whose layout nobody has taught, or null. */
export function findTable(lines: readonly Line[], table: TableDefinition, kindName: string, locale: LocaleHints): FoundTable | null {
  const tried = headingCandidates(lines, table, kindName).slice(0, MOST_HEADINGS).map((heading) => readFrom(lines, table, heading, kindName, locale));
  const [best] = tried.filter((found) => found.rows.length > 0).sort((a, b) => worth(b, table) - worth(a, table));
  return best ? { ...best, rows: best.rows.map((row) => inTable(row, best, table, kindName)) } : null;
}

interface HeadingCandidate {
  readonly line: Line;
  readonly found: ReadonlyMap<string, Landmark>;
  readonly spare: readonly Phrase[];
}

function headingCandidates(lines: readonly Line[], table: TableDefinition, kindName: string): HeadingCandidate[] {
  return lines
    .flatMap((line, index) => [line, stackedLine(line, lines[index + 1])].filter((candidate): candidate is Line => candidate !== null))
    .map((line) => headingFrom(line, table, kindName))
    .filter(({ line, found }) => found.size >= Math.min(2, table.columns.length) && covered(line, found) >= 0.35)
    .sort((a, b) => b.found.size + covered(b.line, b.found) - a.found.size - covered(a.line, a.found));
}

const covered = (line: Line, found: ReadonlyMap<string, Landmark>): number => [...found.values()].reduce((sum, landmark) => sum + landmark.phrase.words.length, 0) / line.words.length;

/** Each column takes the wording that names it best; no word is taken twice. */
function headingFrom(line: Line, table: TableDefinition, kindName: string): HeadingCandidate {
  const asked = table.columns.map((column) => ({ key: column.key as string | null, ...wordingsOf(column, 'column', kindName) }));
  const others = HEADING_CONCEPTS.filter((concept) => !asked.some((column) => column.concept === concept)).map((concept) => ({ key: null, concept, wordings: CONCEPTS[concept] as readonly string[] }));
  const offers = [...asked, ...others]
    .flatMap(({ key, wordings, concept }) => findLandmarks([line], wordings).map((landmark) => ({ key, name: key ?? `not asked: ${concept ?? ''}`, landmark, score: landmark.similarity + 0.3 * landmark.phrase.words.length - 0.25 * rank(landmark, wordings) - (key === null ? 0.06 : 0) })))
    .sort((a, b) => b.score - a.score);
  const taken = new Map<string, { key: string | null; landmark: Landmark }>();
  for (const { key, name, landmark } of offers) {
    const used = [...taken.values()].some((other) => other.landmark.phrase.words.some((word) => landmark.phrase.words.includes(word)));
    if (!used && !taken.has(name)) taken.set(name, { key, landmark });
  }
  const found = new Map([...taken.values()].flatMap(({ key, landmark }): [string, Landmark][] => (key === null ? [] : [[key, landmark]])));
  const words = new Set([...found.values()].flatMap((landmark) => landmark.phrase.words));
  return { line, found, spare: line.phrases.filter((phrase) => !phrase.words.some((word) => words.has(word))) };
}

function rank(landmark: Landmark, wordings: readonly string[]): number {
  const text = landmark.phrase.text.toLowerCase().replace(/[:.]+$/, '');
  const index = wordings.indexOf(text);
  return index < 0 ? 0.7 : index / wordings.length;
}

function readFrom(lines: readonly Line[], table: TableDefinition, heading: HeadingCandidate, kindName: string, locale: LocaleHints): FoundTable {
  const headings = Object.fromEntries([...heading.found].map(([column, landmark]) => [column, [landmark.phrase.text]]));
  const from = lines.indexOf(heading.line.words.length > 0 ? (lines.find((line) => line.page === heading.line.page && line.words.includes(heading.line.words[0] as never)) ?? heading.line) : heading.line);
  const below = lines.slice(Math.max(0, from));
  const end = endOf(below);
  const settingsFor = (more: Record<string, string[]>): TableSettings => {
    const all = { ...headings, ...more };
    return { reader: 'table', headings: all, end, skip: [...CARRIED], once: onceOf(table, all, kindName) };
  };
  const read = (settings: TableSettings) => readTable(below, settings, table.columns, locale);
  let settings = settingsFor({});
  let reading = read(settings);
  // A heading that no wording fits may still be the column that is missing: its cells tell by their type.
  for (const phrase of heading.spare) {
    for (const column of table.columns.filter((candidate) => settings.headings[candidate.key] === undefined && candidate.type !== 'text')) {
      const widened = settingsFor({ ...spareOf(settings, headings), [column.key]: [phrase.text] });
      const again = read(widened);
      if (again.rows.length > 0 && again.rows.filter((row) => (row[column.key]?.value ?? null) !== null).length >= 0.8 * again.rows.length && plausible(again.rows, column, table, kindName)) {
        [settings, reading] = [widened, again];
        break;
      }
    }
  }
  const above = wrappedAbove(reading, read, settings);
  const used = linesOfTable(below, above.reading);
  used.add(heading.line);
  for (const line of below) if (line.page === heading.line.page && line.words.some((word) => heading.line.words.includes(word))) used.add(line);
  return { ...above.reading, settings: above.settings, lines: used };
}

const spareOf = (settings: TableSettings, headings: Readonly<Record<string, unknown>>): Record<string, string[]> => Object.fromEntries(Object.entries(settings.headings).filter(([key]) => !(key in headings)).map(([key, texts]) => [key, [...texts]]));

/** Running numbers fit every column of numbers and are none of them. */
function plausible(rows: readonly Row[], column: FieldDefinition, table: TableDefinition, kindName: string): boolean {
  const values = rows.map((row) => row[column.key]?.value ?? null);
  if (values.length > 1 && values.every((value, index) => value === String(index + 1) || value === String((index + 1) * 10))) return false;
  return arithmeticShare(rows, table, kindName) !== 0;
}

/** Rows in which quantity × price = amount; null where the table has not all three. */
function arithmeticShare(rows: readonly Row[], table: TableDefinition, kindName: string): number | null {
  const keys = amountKeys(table, kindName);
  if (!keys) return null;
  const judged = rows.flatMap((row) => {
    const [quantity, price, amount] = keys.map((key) => decimalOf(row[key]?.value));
    return quantity && price && amount ? [quantity.times(price).minus(amount).abs().lte('0.02')] : [];
  });
  return judged.length === 0 ? null : judged.filter(Boolean).length / judged.length;
}

/** Quantity, price and amount, where the table has all three. */
export function amountColumns(table: TableDefinition, kindName: string): AmountColumns | null {
  const of = (concept: Concept) => table.columns.find((column) => wordingsOf(column, 'column', kindName).concept === concept);
  const [quantity, price, amount] = [of('quantity'), of('unit price'), of('line amount')];
  return quantity && price && amount ? { quantity, price, amount } : null;
}

function amountKeys(table: TableDefinition, kindName: string): [string, string, string] | null {
  const columns = amountColumns(table, kindName);
  return columns && [columns.quantity.key, columns.price.key, columns.amount.key];
}

/** The leading words of the first line below that closes a table: a known wording that stands alone before a figure. */
function endOf(below: readonly Line[]): string[] {
  const ends = findLandmarks(below.slice(2), END_WORDS).filter((landmark) => landmark.after === landmark.phrase.words.length && landmark.alone && onlyFiguresAfter(landmark));
  return [...new Set(ends.map((landmark) => landmark.phrase.text))].slice(0, 30);
}

const onlyFiguresAfter = (landmark: Landmark): boolean => landmark.line.words.slice(landmark.after).every((word) => !/\p{L}{4,}/u.test(word.text));

function onceOf(table: TableDefinition, headings: Readonly<Record<string, unknown>>, kindName: string): string {
  const present = table.columns.filter((column) => headings[column.key] !== undefined);
  for (const concept of ONCE) {
    const column = present.find((candidate) => wordingsOf(candidate, 'column', kindName).concept === concept && candidate.type !== 'text');
    if (column) return column.key;
  }
  const typed = present.filter((column) => column.type === 'money' || column.type === 'number');
  return (typed.at(-1) ?? present.find((column) => column.type === 'date') ?? present.find((column) => column.type === 'identifier') ?? present[0] ?? table.columns[0])?.key ?? '';
}

/** Where the first row has no text and text stands above it, the rows are wrapped upwards. */
function wrappedAbove(reading: TableReading, read: (settings: TableSettings) => TableReading, settings: TableSettings): { reading: TableReading; settings: TableSettings } {
  const texts = (of: TableReading): number => of.rows.reduce((sum, row) => sum + Object.values(row).filter((cell) => cell.value !== null).length, 0);
  const above: TableSettings = { ...settings, wrapped: 'above' };
  const other = read(above);
  return texts(other) > texts(reading) && other.rows.length === reading.rows.length ? { reading: other, settings: above } : { reading, settings };
}

function linesOfTable(lines: readonly Line[], reading: TableReading): Set<Line> {
  const places = reading.rows.flatMap((row) => Object.values(row).flatMap((cell) => (cell.place ? [cell.place] : [])));
  return new Set(lines.filter((line) => places.some((place) => place.page === line.page && overlap(place.box[1], place.box[3], line.box[1], line.box[3]) > 0.5 * (line.box[3] - line.box[1]))));
}

/** Rows, columns and cells that make sense together. */
function worth(found: FoundTable, table: TableDefinition): number {
  const columns = Object.keys(found.settings.headings).length / table.columns.length;
  const cells = found.rows.reduce((sum, row) => sum + Object.values(row).filter((cell) => cell.value !== null).length, 0);
  const wrong = found.rows.reduce((sum, row) => sum + Object.values(row).filter((cell) => cell.problem !== undefined).length, 0);
  return columns * 4 + Math.min(cells, 30) / 10 + Math.min(found.rows.length, 500) / 500 - wrong / 2;
}

/** What the table as a whole says about a row: a column nobody named, and whether quantity × price gives the amount. */
function inTable(row: Row, found: FoundTable, table: TableDefinition, kindName: string): Row {
  const keys = amountKeys(table, kindName);
  const [quantity, price, amount] = (keys ?? []).map((key) => decimalOf(row[key]?.value));
  const holds = quantity && price && amount ? quantity.times(price).minus(amount).abs().lte('0.02') : null;
  return Object.fromEntries(
    Object.entries(row).map(([key, cell]): [string, Reading] => {
      if (cell.reader === 'none') return [key, cell];
      const evidence: Evidence[] = [...cell.evidence];
      const counted = keys?.includes(key) ?? false;
      if (counted && holds === true) return [key, { ...cell, reader: 'described', evidence: [...evidence, { what: 'quantity × price gives the amount', factor: 1 }], confidence: Math.max(cell.confidence, 0.97) }];
      evidence.push(counted && holds === false ? { what: 'quantity × price does not give the amount', factor: 0.6 } : { what: 'found from the description of the kind alone', factor: 0.93 });
      return [key, { ...cell, reader: 'described', evidence, confidence: confidenceOf(evidence) }];
    }),
  );
}
