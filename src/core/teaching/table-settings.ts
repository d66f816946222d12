import { beginsWith } from '@/core/reading/landmark';
import { stackedLine, textOf, type Line } from '@/core/page/lines';
import { overlap, type Word } from '@/core/page/page';
import { isRight, verdictOf, type Truth } from '@/core/measuring/compare';
import { normaliseWords, type FieldDefinition, type TableDefinition, type TableSettings } from '@/core/reading/kind';
import { CARRIED } from '@/core/reading/wordings';
import type { LocaleHints } from '@/core/value/normalise';

type TruthRow = NonNullable<Truth['tables']>[string][number];

/** One confirmed row on the page: its own line, and the words of each cell on it. */
interface PlacedRow {
  readonly index: number;
  readonly line: Line;
  readonly cells: ReadonlyMap<string, readonly Word[]>;
}

/**
 * How the rows of a sample can be read again, worked out from where its confirmed cells stand: headings over the columns, the line
 * that ends the table, lines in between that are no rows, the column filled once a row. Null where too few rows are found.
 */
export function tableSettingsFrom(lines: readonly Line[], table: TableDefinition, truth: readonly TruthRow[], locale: LocaleHints): TableSettings | null {
  const placed = placeRows(lines, table, truth, locale);
  const [first, last] = [placed[0], placed.at(-1)];
  if (!first || !last || placed.length < truth.length * 0.6) return null;
  const spans = spansOf(placed);
  const headings = headingsAbove(lines, first.line, spans);
  const once = onceOf(table, placed);
  if (Object.keys(headings).length === 0 || once === null) return null;
  const own = new Set(placed.map((row) => row.line));
  const texts = truth.flatMap((row) => table.columns.filter((column) => column.type === 'text').map((column) => (row[column.key] ?? '').toLowerCase()));
  const isPartOfText = (line: Line): boolean => line.phrases.every((phrase) => texts.some((text) => text.includes(phrase.text.toLowerCase())));
  const [from, to] = [lines.indexOf(first.line), lines.indexOf(last.line)];
  const between = lines.slice(from, to + 1).filter((line) => !own.has(line) && !isPartOfText(line));
  const after = lines.slice(to + 1).find((line) => line.page === last.line.page && !isPartOfText(line) && leadOf(line) !== null);
  const heads = Object.values(headings).map(([text]) => text ?? '');
  const skip = [...new Set(between.flatMap((line) => leadOf(line) ?? []))].filter((text) => !heads.some((head) => head.startsWith(text)) && ![...own].some((line) => beginsWith(line, [text]))).slice(0, 20);
  const end = after ? (leadOf(after) ?? '') : '';
  return {
    reader: 'table', headings, once, skip: [...new Set([...skip, ...CARRIED])],
    end: end === '' || skip.includes(end) ? ['—'] : [end],
    ...(wrapsAbove(lines, placed, table, truth) ? { wrapped: 'above' as const } : {}),
    bands: Object.fromEntries([...spans].map(([key, [x0, x1]]) => [key, [Math.round(x0), Math.round(x1)] as const])),
  };
}

/** Rows in their order, each on the first line below the one before on which its figures stand. */
function placeRows(lines: readonly Line[], table: TableDefinition, truth: readonly TruthRow[], locale: LocaleHints): PlacedRow[] {
  const placed: PlacedRow[] = [];
  let from = 0;
  for (const [index, row] of truth.entries()) {
    const wanted = table.columns.filter((column) => (row[column.key] ?? null) !== null);
    // What repeats from the row above may be printed once for both.
    const typed = wanted.filter((column) => column.type !== 'text' && row[column.key] !== truth[index - 1]?.[column.key]);
    const least = Math.max(1, Math.min(2, typed.length));
    for (let at = from; at < lines.length; at += 1) {
      const line = lines[at] as Line;
      const cells = cellsOn(line, wanted, row, locale);
      const found = typed.filter((column) => cells.has(column.key)).length;
      if (typed.length > 0 ? found < least : cells.size < 1) continue;
      placed.push({ index, line, cells });
      from = at + 1;
      break;
    }
  }
  return placed;
}

/** Figures are looked for from the right, since the last columns are amounts; texts by their first words. */
function cellsOn(line: Line, wanted: readonly FieldDefinition[], row: TruthRow, locale: LocaleHints): Map<string, readonly Word[]> {
  const cells = new Map<string, readonly Word[]>();
  const taken = new Set<Word>();
  for (const column of [...wanted].sort((a, b) => Number(a.type === 'text') - Number(b.type === 'text'))) {
    const words = column.type === 'text' ? textRun(line, row[column.key] ?? '', taken) : figureRun(line, column, row[column.key] ?? '', taken, locale);
    if (!words) continue;
    cells.set(column.key, words);
    for (const word of words) taken.add(word);
  }
  return cells;
}

function figureRun(line: Line, column: FieldDefinition, value: string, taken: ReadonlySet<Word>, locale: LocaleHints): readonly Word[] | null {
  const fromRight = column.type === 'money' || column.type === 'number';
  const runs: (readonly Word[])[] = [];
  for (let start = 0; start < line.words.length; start += 1) for (let end = start + 1; end <= Math.min(line.words.length, start + 3); end += 1) runs.push(line.words.slice(start, end));
  const fitting = runs.filter((words) => words.every((word) => !taken.has(word)) && fits(words, column, value, locale)).sort((a, b) => a.length - b.length);
  const shortest = fitting.filter((words) => words.length === fitting[0]?.length);
  return (fromRight ? shortest.at(-1) : shortest[0]) ?? null;
}

function fits(words: readonly Word[], column: FieldDefinition, value: string, locale: LocaleHints): boolean {
  const fit = normaliseWords(column, words, locale);
  return fit.ok && isRight(verdictOf(column.type, value, fit.value));
}

/** The words of a line with which a text begins, or of which it consists. */
function textRun(line: Line, value: string, taken: ReadonlySet<Word>): readonly Word[] | null {
  const wanted = value.toLowerCase().split(/\s+/).filter(Boolean);
  for (let start = 0; start < line.words.length; start += 1) {
    let length = 0;
    while (start + length < line.words.length && length < wanted.length && !taken.has(line.words[start + length] as Word) && line.words[start + length]?.text.toLowerCase() === wanted[length]) length += 1;
    if (length > 0 && (length >= Math.min(2, wanted.length))) return line.words.slice(start, start + length);
  }
  return null;
}

function spansOf(placed: readonly PlacedRow[]): Map<string, [number, number]> {
  const spans = new Map<string, [number, number]>();
  for (const { cells } of placed) for (const [key, words] of cells) for (const { box } of words) {
    const span = spans.get(key) ?? [box[0], box[2]];
    spans.set(key, [Math.min(span[0], box[0]), Math.max(span[1], box[2])]);
  }
  return spans;
}

/** The nearest line above the first row, or two of them, whose words stand over most of the columns. */
function headingsAbove(lines: readonly Line[], row: Line, spans: ReadonlyMap<string, readonly [number, number]>): Record<string, string[]> {
  const at = lines.indexOf(row);
  let best: Record<string, string[]> = {};
  for (let index = at - 1; index >= Math.max(0, at - 5); index -= 1) {
    const line = lines[index] as Line;
    if (line.page !== row.page) break;
    for (const candidate of [line, stackedLine(lines[index - 1] ?? line, line)]) {
      const headings = candidate ? headingsOn(candidate, spans) : {};
      if (Object.keys(headings).length > Object.keys(best).length) best = headings;
    }
    if (Object.keys(best).length >= Math.max(2, spans.size * 0.6)) break;
  }
  return best;
}

/** Words that stand over one column only; a word between two belongs to the one it covers more. */
function headingsOn(line: Line, spans: ReadonlyMap<string, readonly [number, number]>): Record<string, string[]> {
  const words = new Map<string, Word[]>();
  for (const phrase of line.phrases) {
    const columns = [...spans].map(([key, span]) => ({ key, common: overlap(phrase.box[0] - 2, phrase.box[2] + 2, span[0], span[1]) })).filter(({ common }) => common > 0).sort((a, b) => b.common - a.common);
    if (columns.length === 0) continue;
    if (columns.length === 1) words.set(columns[0]?.key ?? '', [...(words.get(columns[0]?.key ?? '') ?? []), ...phrase.words]);
    else for (const word of phrase.words) {
      const [mine] = columns.map(({ key }) => ({ key, common: overlap(word.box[0], word.box[2], ...(spans.get(key) as [number, number])) })).sort((a, b) => b.common - a.common);
      if (mine && mine.common > 0) words.set(mine.key, [...(words.get(mine.key) ?? []), word]);
    }
  }
  return Object.fromEntries([...words].filter(([, own]) => own.some((word) => /\p{L}|#|%/u.test(word.text))).map(([key, own]) => [key, [textOf(own)]]));
}

function onceOf(table: TableDefinition, placed: readonly PlacedRow[]): string | null {
  const filled = (column: FieldDefinition): number => placed.filter((row) => row.cells.has(column.key)).length;
  const typed = table.columns.filter((column) => column.type !== 'text' && filled(column) === placed.length);
  const figure = [...typed].reverse().find((column) => column.type === 'money' || column.type === 'number');
  return (figure ?? typed[0] ?? table.columns.find((column) => filled(column) === placed.length))?.key ?? null;
}

/** The words by which a line can be told again: its first ones, up to a figure. */
function leadOf(line: Line): string | null {
  const end = line.words.findIndex((word) => /\d/.test(word.text));
  const words = line.words.slice(0, end < 0 ? line.words.length : end).slice(0, 3);
  const text = textOf(words).replace(/[:.]+$/, '');
  return /\p{L}{2,}/u.test(text) ? text : null;
}

/** Does the text of rows begin above the line of their figures? */
function wrapsAbove(lines: readonly Line[], placed: readonly PlacedRow[], table: TableDefinition, truth: readonly TruthRow[]): boolean {
  const text = table.columns.find((column) => column.type === 'text');
  if (!text) return false;
  const above = placed.filter(({ index, line }) => {
    const start = (truth[index]?.[text.key] ?? '').split(/\s+/)[0]?.toLowerCase();
    const before = lines[lines.indexOf(line) - 1];
    return start !== undefined && start !== '' && before?.words.some((word) => word.text.toLowerCase() === start) === true && !line.words.some((word) => word.text.toLowerCase() === start);
  });
  return above.length > placed.length / 3;
}
