import { linearSumAssignment } from 'linear-sum-assignment';
import { textOf, type Line } from '@/core/page/lines';
import type { Word } from '@/core/page/page';
import { findTable } from '@/core/reading/described-table';
import { normaliseWords, type FieldDefinition, type TableDefinition } from '@/core/reading/kind';
import type { LocaleHints } from '@/core/value/normalise';

export type BoxRow = Readonly<Record<string, string | null>>;

/** Blank space as wide as this down all lines parts two columns, points. */
const COLUMN_GAP = 5;

interface Band {
  readonly from: number;
  readonly to: number;
}

/**
 * A first guess of a table's rows from the lines that were dragged over. Headings tell the columns where they are among the lines;
 * otherwise the blank spaces that run down all of them part the columns, and each of our columns takes the one whose cells fit its
 * type best (assignment problem; Kuhn 1955). Lines without a figure where most have one continue the row before.
 */
export function rowsInBox(lines: readonly Line[], table: TableDefinition, kindName: string, locale: LocaleHints): readonly BoxRow[] {
  const headed = findTable(lines, table, kindName, locale);
  if (headed && headed.rows.length > 0) return headed.rows.map((row) => Object.fromEntries(table.columns.map((column) => [column.key, row[column.key]?.value ?? null])));
  const bands = bandsOf(lines);
  const columns = assigned(bands, lines, table.columns, locale);
  const once = onceAmong(columns, lines);
  const groups: Line[][] = [];
  for (const line of lines) {
    const begins = once === null || wordsIn(line, once).length > 0;
    const current = groups.at(-1);
    if (begins || !current) groups.push([line]);
    else current.push(line);
  }
  return groups.map((group) => Object.fromEntries(table.columns.map((column) => {
    const band = columns.get(column.key);
    return [column.key, band ? valueOf(column, group.flatMap((line) => wordsIn(line, band)), locale) : null];
  })));
}

function bandsOf(lines: readonly Line[]): Band[] {
  const spans = lines.flatMap((line) => line.words.map((word): Band => ({ from: word.box[0], to: word.box[2] }))).sort((a, b) => a.from - b.from);
  const bands: { from: number; to: number }[] = [];
  for (const { from, to } of spans) {
    const current = bands.at(-1);
    if (current && from - current.to < COLUMN_GAP) current.to = Math.max(current.to, to);
    else bands.push({ from, to });
  }
  return bands;
}

const wordsIn = ({ words }: Line, { from, to }: Band): readonly Word[] => words.filter(({ box }) => (box[0] + box[2]) / 2 >= from && (box[0] + box[2]) / 2 <= to);

/** Each column takes at most one band; of equally fitting ones those in the same order from left to right. */
function assigned(bands: readonly Band[], lines: readonly Line[], columns: readonly FieldDefinition[], locale: LocaleHints): ReadonlyMap<string, Band> {
  if (bands.length === 0 || columns.length === 0) return new Map();
  const worth = bands.map((band, at) => columns.map((column, place) => fitOf(lines.map((line) => wordsIn(line, band)), column, locale) - 0.15 * Math.abs((at + 0.5) / bands.length - (place + 0.5) / columns.length)));
  const { rowAssignments } = linearSumAssignment(worth, { maximaze: true });
  const taken = new Map<string, Band>();
  for (const [at, place] of [...rowAssignments].entries()) {
    const [band, column] = [bands[at], columns[place]];
    if (band && column && place >= 0) taken.set(column.key, band);
  }
  return taken;
}

/** Share of the filled cells that fit the column's type; a figure in a column of text fits a little, letters in one of figures do not. */
function fitOf(cells: readonly (readonly Word[])[], column: FieldDefinition, locale: LocaleHints): number {
  const filled = cells.filter((words) => words.length > 0);
  if (filled.length === 0) return 0;
  const isText = column.type === 'text' || column.type === 'choice';
  const fits = filled.map((words): number => {
    const text = textOf(words);
    if (isText) return /\p{L}{2,}/u.test(text) ? 1 : 0.3;
    if (!normaliseWords(column, words, locale, text).ok) return 0;
    return column.type === 'money' ? (/[.,]\d{2}\b/.test(text) ? 1 : 0.5) : column.type === 'number' ? (/[.,]\d{2}\b/.test(text) ? 0.6 : 1) : 0.9;
  });
  return fits.reduce((sum, fit) => sum + fit, 0) / filled.length;
}

/** The band that is filled most often with figures: by it rows are told from their continuations. */
function onceAmong(columns: ReadonlyMap<string, Band>, lines: readonly Line[]): Band | null {
  const counted = [...columns.values()].map((band) => ({ band, figures: lines.filter((line) => wordsIn(line, band).some((word) => /\d/.test(word.text))).length }));
  const [best] = counted.sort((a, b) => b.figures - a.figures || b.band.from - a.band.from);
  return best && best.figures > 0 ? best.band : null;
}

function valueOf(column: FieldDefinition, words: readonly Word[], locale: LocaleHints): string | null {
  if (words.length === 0) return null;
  const fit = normaliseWords(column, words, locale);
  return fit.ok ? fit.value : textOf(words);
}
