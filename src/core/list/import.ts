import { localeOf } from '@/core/value/locale';
import { normalise, quoted, type LocaleHints, type ValueType } from '@/core/value/normalise';
import type { ListColumn, ListRow } from './list';

/** Largest list that is looked through for a key on every document. */
export const MOST_LIST_ROWS = 50_000;
export const MOST_LIST_COLUMNS = 60;
/** Rows looked at to guess the type of a column. */
const LOOKED_AT = 200;
/** Wrong cells told one by one; the rest is counted. */
const MOST_COMPLAINTS = 5;

export interface ImportedList {
  readonly columns: readonly ListColumn[];
  readonly keyColumn: string;
  readonly rows: readonly ListRow[];
}

export type Import = { readonly ok: true; readonly list: ImportedList } | { readonly ok: false; readonly problems: readonly string[] };

/**
 * A table of texts, its first row the names of the columns, as a typed list. Types that are not given are guessed: a column is of a
 * type when every cell that is filled can be read as it. The key is the column named, or else the first one that is filled in every
 * row and nowhere twice. Everything that does not fit is told with its row (counted as a spreadsheet does, the names being row 1).
 */
export function importList(table: readonly (readonly string[])[], wanted: { readonly keyColumn?: string; readonly types?: Readonly<Record<string, ValueType>> } = {}): Import {
  const [head, ...body] = table.filter((row) => row.some((cell) => cell.trim() !== ''));
  if (!head) return { ok: false, problems: ['There is nothing in this file: the first row should hold the names of the columns.'] };
  const names = head.map((cell) => cell.trim());
  const shape = shapeProblems(names, body.length);
  if (shape.length > 0) return { ok: false, problems: shape };
  const locale = localeOf(body.slice(0, LOOKED_AT).flat());
  const columns = names.map((name, at): ListColumn => ({ name, type: wanted.types?.[name] ?? typeOf(body.slice(0, LOOKED_AT).map((row) => row[at] ?? ''), locale) }));
  const cells = cellsOf(body, columns, locale);
  if (cells.problems.length > 0) return { ok: false, problems: shortened(cells.problems) };
  const keyColumn = wanted.keyColumn ?? columns.find((column) => keyProblems(cells.rows, column.name).length === 0)?.name;
  if (keyColumn === undefined) return { ok: false, problems: ['No column tells the rows apart: every one is empty somewhere or holds a value twice. Give each row a number of its own.'] };
  if (!names.includes(keyColumn)) return { ok: false, problems: [`There is no column “${quoted(keyColumn)}” to be the key. There are: ${names.join(', ')}.`] };
  const doubled = keyProblems(cells.rows, keyColumn);
  return doubled.length > 0 ? { ok: false, problems: shortened(doubled) } : { ok: true, list: { columns, keyColumn, rows: cells.rows } };
}

function shapeProblems(names: readonly string[], rows: number): string[] {
  const twice = names.find((name, index) => names.indexOf(name) !== index);
  return [
    ...(names.includes('') ? [`Column ${names.indexOf('') + 1} has no name in the first row.`] : []),
    ...(twice ? [`Two columns are called “${quoted(twice)}”.`] : []),
    ...(names.length > MOST_LIST_COLUMNS ? [`The file has ${names.length} columns; a list has at most ${MOST_LIST_COLUMNS}.`] : []),
    ...(rows > MOST_LIST_ROWS ? [`The file has ${rows} rows; a list has at most ${MOST_LIST_ROWS}.`] : []),
    ...(rows === 0 ? ['Below the names of the columns there are no rows.'] : []),
  ];
}

/** Leading zeros and long figures are identifiers: computing with them would lose what they say. */
function typeOf(cells: readonly string[], locale: LocaleHints): ValueType {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  const all = (fits: (cell: string) => boolean): boolean => filled.length > 0 && filled.every(fits);
  const is = (type: ValueType) => (cell: string): boolean => normalise(type, cell, locale).ok;
  if (all((cell) => /^(?:yes|no|true|false)$/i.test(cell))) return 'yes-no';
  if (all((cell) => /\d\D+\w/.test(cell) && is('date')(cell))) return 'date';
  if (all((cell) => is('number')(cell) && !/^0\d|^\d{8,}$/.test(cell))) return filled.every((cell) => /[.,]\d{2}$/.test(cell)) ? 'money' : 'number';
  return all((cell) => !/\s/.test(cell) && /\d/.test(cell)) ? 'identifier' : 'text';
}

function cellsOf(body: readonly (readonly string[])[], columns: readonly ListColumn[], locale: LocaleHints): { readonly rows: ListRow[]; readonly problems: string[] } {
  const problems: string[] = [];
  const rows = body.map((row, index) =>
    Object.fromEntries(columns.map(({ name, type }, at) => {
      const text = (row[at] ?? '').trim();
      if (text === '') return [name, null];
      const fit = normalise(type, text, locale);
      if (!fit.ok) problems.push(`Row ${index + 2}, ${name}: ${fit.why}.`);
      return [name, fit.ok ? fit.value : null];
    })),
  );
  return { rows, problems };
}

function keyProblems(rows: readonly ListRow[], keyColumn: string): string[] {
  const first = new Map<string, number>();
  return rows.flatMap((row, index) => {
    const value = row[keyColumn] ?? null;
    if (value === null) return [`Row ${index + 2} has no ${keyColumn}; the key may not be empty.`];
    const before = first.get(value);
    first.set(value, before ?? index);
    return before === undefined ? [] : [`Row ${index + 2} has the same ${keyColumn} “${quoted(value)}” as row ${before + 2}.`];
  });
}

const shortened = (problems: readonly string[]): string[] => (problems.length <= MOST_COMPLAINTS ? [...problems] : [...problems.slice(0, MOST_COMPLAINTS), `And ${problems.length - MOST_COMPLAINTS} more.`]);
