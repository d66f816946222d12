import type { ProposedMatch } from '@/core/pipeline/match';
import type { Given } from '@/core/pipeline/facts';

/** For each of our rows the row of theirs, or null for none. */
export type Chosen = readonly (number | null)[];

/** A row is used once: who takes one that another line has leaves that line with nothing. */
export const choose = (chosen: Chosen, line: number, row: number | null): Chosen => chosen.map((old, at) => (at === line ? row : row !== null && old === row ? null : old));

/** Rows that a line can be given: those that come near first, then all others in their order. */
export function rowsFor(match: ProposedMatch, line: number): { readonly row: number; readonly score: number | null }[] {
  const near = match.lines[line]?.near ?? [];
  return [...near, ...match.rows.flatMap((_, row) => (near.some((one) => one.row === row) ? [] : [{ row, score: null }]))];
}

/** A row of theirs as it is told from others: what is compared, then what it brings along. */
export function rowText(match: ProposedMatch, row: number): string {
  return textOf(match, row, [...match.heads.map(({ theirs }) => theirs), ...Object.values(match.bring)]);
}

/** What a row of theirs says besides what is compared line by line, such as the order and the line. */
export function aboutRow({ heads, rows, bring }: ProposedMatch, row: number): string {
  const named = [...heads.map(({ ours, theirs, shared }) => [theirs, shared ? ours : null] as const), ...Object.entries(bring).map(([name, theirs]) => [theirs, name.replaceAll('_', ' ')] as const)];
  const first = new Map<string, string | null>();
  for (const [column, name] of named) if (!first.has(column)) first.set(column, name);
  return [...first].flatMap(([column, name]) => (name !== null && rows[row]?.[column] ? [`${name} ${rows[row][column]}`] : [])).join(' · ');
}

function textOf({ rows }: ProposedMatch, row: number, columns: readonly string[]): string {
  const cells: Given = rows[row] ?? {};
  return [...new Set(columns)].flatMap((column) => (cells[column] ? [cells[column]] : [])).join(' · ');
}

/** Ours and theirs side by side; values that all of our rows share are left out. */
export function sides({ heads, lines, rows }: ProposedMatch, line: number, row: number | null): { readonly name: string; readonly ours: string | null; readonly theirs: string | null }[] {
  return heads.flatMap(({ ours: name, theirs: column, shared }, at) => (shared ? [] : [{ name, ours: lines[line]?.cells[at] ?? null, theirs: row === null ? null : (rows[row]?.[column] ?? null) }]));
}

/** What all of our rows share. */
export const sharedText = ({ heads, lines }: ProposedMatch): string => heads.flatMap(({ ours: name, shared }, at) => (shared && lines[0]?.cells[at] ? [`${name} ${lines[0].cells[at]}`] : [])).join(', ');

/** The longest of some texts: the one that people know a row by. */
export const mainOf = (texts: readonly (string | null)[]): string => texts.reduce<string>((longest, text) => (text !== null && text.length > longest.length ? text : longest), '');

/** Rows of theirs that no line has. */
export const rowsLeft = (match: ProposedMatch, chosen: Chosen): number[] => match.rows.flatMap((_, row) => (chosen.includes(row) ? [] : [row]));
