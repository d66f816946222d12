import { MOST_LINES, MOST_ROWS, matchRows, type Comparison, type Pair } from '@/core/matching/rows';
import { unionOf, type Place } from '@/core/page/page';
import { NOTHING_READ, type Row } from '@/core/reading/reading';
import { valueText } from './catalogue/entry';
import type { MatchComparison, MatchStep } from './definition';
import type { Given, RowMatched, StepResult } from './facts';
import { ValueProblem, partsOfSource, valueAt, valueOf, type Scope } from './values';

type Matches = Extract<StepResult, { made: 'matches' }>;

/** Which rows belong together as far as can be told, and all that is needed to decide otherwise. */
export interface ProposedMatch {
  /** Key of our table. */
  readonly of: string;
  /** What is compared: our value and their column. `shared`: the same for all of our rows. */
  readonly heads: readonly { readonly ours: string; readonly theirs: string; readonly shared: boolean }[];
  /** Our rows, each with the values that are compared and the row proposed for it. */
  readonly lines: readonly (Pair & { readonly cells: readonly (string | null)[]; /** Where the row stands on the page. */ readonly place: Place | null })[];
  /** Their rows, with the columns that are compared or brought along. */
  readonly rows: readonly Given[];
  readonly bring: MatchStep['bring'];
}

/** Records in a value: a JSON list of objects, or one object. Nothing gives none. Throws {@link ValueProblem} for anything else. */
export function recordsIn(text: string | null): readonly Given[] {
  if (text === null) return [];
  const found = parsed(text);
  const list: readonly unknown[] = Array.isArray(found) ? found : [found];
  if (list.some((record) => typeof record !== 'object' || record === null || Array.isArray(record))) throw new ValueProblem(`“${text.slice(0, 60)}” holds no list of records to match with. Take a list of objects from the answer`);
  return list.map((record) => Object.fromEntries(Object.entries(record as object).map(([name, value]) => [name, cellFrom(value)])));
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function cellFrom(value: unknown): string | null {
  if (value === null || value === undefined || value === '') return null;
  return typeof value === 'string' ? value : JSON.stringify(value);
}

/** Which rows of a list: those that have the value in the column. */
export interface RowsWanted {
  readonly column: string;
  readonly value: string | null;
}
/** Rows of a list; null: all of them. */
export type RowsOf = (list: string, where: RowsWanted | null) => Promise<readonly Given[]>;

/** The records that a step matches with. */
export async function recordsFor(step: MatchStep, scope: Scope, rowsOf: RowsOf): Promise<readonly Given[]> {
  if (step.list === undefined) return recordsIn(step.among === undefined ? null : (await valueOf(step.among, scope)).value);
  return rowsOf(step.list, step.column === undefined || step.find === undefined ? null : { column: step.column, value: (await valueOf(step.find, scope)).value });
}

const isShared = ({ ours }: MatchComparison): boolean => partsOfSource(ours).head !== 'row';
/** What people call one of our values. */
const nameOf = ({ ours }: MatchComparison): string => valueText(ours);

/** The place of a row: around those of its values that stand on one page. */
function placeOf(row: Row): Place | null {
  const places = Object.values(row).flatMap(({ place }) => (place ? [place] : []));
  const page = places[0]?.page;
  return page === undefined ? null : { page, box: unionOf(places.filter((place) => place.page === page).map(({ box }) => box)) };
}

/** Match the rows of a table with records. Throws {@link ValueProblem} where there are too many of either. */
export function proposeMatch(step: MatchStep, scope: Scope, records: readonly Given[]): ProposedMatch {
  const table = scope.known.readings.tables[step.each] ?? [];
  if (table.length > MOST_LINES || records.length > MOST_ROWS) throw new ValueProblem(`${table.length} rows cannot be matched with ${records.length}; at most ${MOST_LINES} are, with ${MOST_ROWS}. Ask for fewer, such as those of one supplier that are still open`);
  const ours = table.map((row) => step.compare.map((comparison) => valueAt(comparison.ours, { ...scope, row }).value));
  const comparisons = step.compare.map((comparison): Comparison => ({ name: nameOf(comparison), theirs: comparison.theirs, by: comparison.by, shared: isShared(comparison), ...(comparison.tolerance === undefined ? {} : { tolerance: comparison.tolerance }) }));
  const { pairs } = matchRows(ours, records, comparisons, step.sure);
  const wanted = [...new Set([...step.compare.map(({ theirs }) => theirs), ...Object.values(step.bring)])];
  return {
    of: step.each, bring: step.bring, heads: step.compare.map((comparison) => ({ ours: nameOf(comparison), theirs: comparison.theirs, shared: isShared(comparison) })),
    lines: pairs.map((pair, line) => ({ ...pair, cells: ours[line] ?? [], place: placeOf(table[line] ?? {}) })),
    rows: records.map((record) => Object.fromEntries(wanted.map((column) => [column, record[column] ?? null]))),
  };
}

/** Lines for which somebody must be asked. */
export const unsureLines = ({ lines }: ProposedMatch): number => lines.filter(({ sure }) => !sure).length;

/** Why somebody is asked. */
export function unsureText(match: ProposedMatch): string {
  if (match.rows.length === 0) return 'There is nothing to match with.';
  const unsure = match.lines.flatMap(({ sure }, line) => (sure ? [] : [line + 1]));
  if (match.lines.length === 1) return 'The row is not sure.';
  return `${unsure.length} of ${match.lines.length} rows ${unsure.length === 1 ? 'is' : 'are'} not sure: ${unsure.length === 1 ? 'row' : 'rows'} ${unsure.slice(0, MOST_NAMED).join(', ')}${unsure.length > MOST_NAMED ? ' …' : ''}.`;
}

/** Rows that are named in one sentence, at most. */
const MOST_NAMED = 8;

/** What comes of a match: as proposed, or as a person has it (`chosen`: a row of theirs, or null, for each of ours). */
export function matchesFrom({ of, bring, lines, rows }: ProposedMatch, decided?: { readonly chosen: readonly (number | null)[]; readonly by: string }): Matches {
  const made = lines.map((line, index): RowMatched => {
    const row = decided ? (decided.chosen[index] ?? null) : line.row;
    const found = row === null ? undefined : rows[row];
    const values = found ? Object.fromEntries(Object.entries(bring).map(([column, theirs]) => [column, found[theirs] ?? null])) : null;
    return decided ? { values, score: 1, reasons: [`${decided.by} says so`] } : { values, score: line.score, reasons: line.reasons };
  });
  return { made: 'matches', of, rows: made, left: rows.length - made.filter(({ values }) => values !== null).length, ...(decided ? { by: decided.by } : {}) };
}

/** The rows of a table with what their partners brought along. */
export function rowsMatched(rows: readonly Row[], { rows: matched }: Matches): readonly Row[] {
  return rows.map((row, index) => {
    const { values, score, reasons } = matched[index] ?? { values: null, score: 0, reasons: [] };
    const brought = Object.entries(values ?? {}).map(([column, value]) => [column, { ...NOTHING_READ, text: value ?? '', value, reader: 'list' as const, confidence: score, evidence: [{ what: `matched: ${reasons.join(', ')}`, factor: score }] }]);
    return { ...row, ...Object.fromEntries(brought) };
  });
}

/** What later steps can ask of a match. */
export const MATCH_COUNTS = [['matched', 'Rows that were matched'], ['unmatched', 'Rows that belong to nothing'], ['left', 'Rows of theirs that are left']] as const;

export function matchCounts({ rows, left }: Matches): Given {
  const matched = rows.filter(({ values }) => values !== null).length;
  return { matched: String(matched), unmatched: String(rows.length - matched), left: String(left) };
}
