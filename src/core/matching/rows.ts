import { distance } from 'fastest-levenshtein';
import { bareKey, foldedKey } from '@/core/list/find-key';
import type { ListRow } from '@/core/list/list';
import { decimalOf } from '@/core/value/amount';
import { assign } from './assignment';
import { Texts } from './texts';

/**
 * How two values are compared. `identifier` and `text` say which rows belong together, `amount` too, a little; `at most` says nothing of that, but
 * ours above theirs is a difference that somebody must look at (more delivered than is still open).
 */
export const MATCH_WAYS = ['identifier', 'text', 'amount', 'at most'] as const;
export type MatchWay = (typeof MATCH_WAYS)[number];

export interface Comparison {
  /** What is compared, as people call it. */
  readonly name: string;
  /** Column of the rows that are matched with. */
  readonly theirs: string;
  readonly by: MatchWay;
  /** The value is the same for all of our rows (a number of the whole order): it tells rows apart, but does not make two rows alike. */
  readonly shared?: boolean;
  /** How far amounts may be apart, as a decimal. Default 0. */
  readonly tolerance?: string;
}

/** Values of one of our rows, in the order of the comparisons. */
export type OurRow = readonly (string | null)[];

export interface Pair {
  /** Index of the row that ours belongs to; null: none comes near. */
  readonly row: number | null;
  /** 0..1. */
  readonly score: number;
  /** So good, and so far before any other, that nobody needs to be asked. */
  readonly sure: boolean;
  readonly reasons: readonly string[];
  /** What does not agree though the rows belong together. */
  readonly differences: readonly string[];
  /** The rows that come nearest, best first. */
  readonly near: readonly { readonly row: number; readonly score: number }[];
}

export interface Matching {
  /** One for each of our rows. */
  readonly pairs: readonly Pair[];
  /** Rows that none of ours belongs to. */
  readonly left: readonly number[];
}

/** Score from which on nobody is asked, unless it is said otherwise. */
export const SURE = 0.8;
/** Rows less alike are not even proposed. */
const LEAST = 0.45;
/** A rival nearer than this makes a pair unsure. */
const LEAD = 0.1;
const MOST_NEAR = 5;

/** What an observation weighs. An agreed price says less than an article's text, and that less than its number. */
const WEIGHTS = { identifier: 3, text: 2, amount: 1, 'at most': 0 } as const;
/** What the very same amount weighs where another is just as well. */
const SAME_AMOUNT = 0.5;
/** Another order number on the paper makes a row less likely, but the number itself may be wrong. */
const OTHER_SHARED = 0.7;
/** One letter of a long identifier is another one: a misreading, more likely than another article. */
const ONE_APART = 0.8;
const LONG_IDENTIFIER = 6;

/** The limits of one matching: it compares each with each, and the assignment takes cubic time. */
export const MOST_LINES = 500;
export const MOST_ROWS = 2_000;

/**
 * Find for each of our rows the row of theirs that it belongs to, each used once (common practice, no source: an order line is used once). Scores
 * are weighted means of what is compared; the pairs together are the best there are (assignment). A pair is sure when its score is high enough,
 * no other way comes near, and nothing that must agree differs.
 */
export function matchRows(ours: readonly OurRow[], theirs: readonly ListRow[], comparisons: readonly Comparison[], sureFrom = SURE): Matching {
  const texts = new Texts(comparisons.flatMap(({ by, theirs: column }) => (by === 'text' ? theirs.map((row) => row[column] ?? '') : [])));
  const scores = ours.map((row) => theirs.map((other) => scoreOf(row, other, comparisons, texts)));
  const chosen = assign(scores, LEAST);
  const taken = new Map(chosen.flatMap((row, line) => (row === null ? [] : [[row, line] as const])));
  const pairs = chosen.map((row, line): Pair => {
    const near = nearest(scores[line] ?? []);
    const [our, their] = [ours[line] ?? [], row === null ? undefined : theirs[row]];
    if (row === null || !their) return { row: null, score: 0, sure: false, reasons: [near.length === 0 ? 'nothing is like it' : 'nothing is like it enough'], differences: [], near };
    const score = scores[line]?.[row] ?? 0;
    const differences = comparisons.flatMap((comparison, at) => differenceOf(comparison, our[at] ?? null, their[comparison.theirs] ?? null));
    const reasons = comparisons.flatMap((comparison, at) => reasonOf(comparison, our[at] ?? null, their[comparison.theirs] ?? null, texts));
    const close = leadOf({ scores, taken }, line, row) < LEAD;
    return { row, score: rounded(score), sure: score >= sureFrom && !close && differences.length === 0, reasons: close ? [...reasons, 'another row is as near'] : reasons, differences, near };
  });
  return { pairs, left: theirs.flatMap((_, index) => (taken.has(index) ? [] : [index])) };
}

const nearest = (scores: readonly number[]): Pair['near'] => scores.map((score, row) => ({ row, score: rounded(score) })).filter(({ score }) => score > 0).sort((a, b) => b.score - a.score).slice(0, MOST_NEAR);
const rounded = (score: number): number => Math.round(score * 100) / 100;

/** By how much a pair is better than the best other way: another row for this line, or, where a line has that row, both lines exchanged. */
function leadOf({ scores, taken }: { readonly scores: readonly (readonly number[])[]; readonly taken: ReadonlyMap<number, number> }, line: number, row: number): number {
  const ours = scores[line] ?? [];
  const leads = ours.flatMap((other, index) => {
    if (index === row) return [];
    const holder = taken.get(index);
    if (holder === undefined) return [(ours[row] ?? 0) - other];
    const theirs = scores[holder] ?? [];
    return [(ours[row] ?? 0) + (theirs[index] ?? 0) - other - (theirs[row] ?? 0)];
  });
  return Math.min(1, ...leads);
}

function scoreOf(our: OurRow, their: ListRow, comparisons: readonly Comparison[], texts: Texts): number {
  let [sum, weights, factor] = [0, 0, 1];
  for (const [at, comparison] of comparisons.entries()) {
    const [a, b] = [our[at] ?? null, their[comparison.theirs] ?? null];
    // What is missing on either side says nothing.
    if (a === null || b === null) continue;
    const alike = likenessOf(comparison, a, b, texts);
    if (comparison.by === 'at most') {
      // The very same amount speaks a little for a row; another says nothing.
      if (sameAmount(a, b)) [sum, weights] = [sum + SAME_AMOUNT, weights + SAME_AMOUNT];
    } else if (comparison.shared) factor *= OTHER_SHARED + (1 - OTHER_SHARED) * alike;
    else {
      sum += WEIGHTS[comparison.by] * alike;
      weights += WEIGHTS[comparison.by];
    }
  }
  // An amount alone makes no pair.
  return weights <= SAME_AMOUNT ? 0 : (factor * sum) / weights;
}

function likenessOf({ by, tolerance }: Comparison, a: string, b: string, texts: Texts): number {
  switch (by) {
    case 'identifier':
      return identifierLikeness(a, b);
    case 'text':
      return texts.likeness(a, b);
    case 'amount':
    case 'at most':
      return above(a, b, tolerance) || above(b, a, tolerance) ? 0 : 1;
  }
}

function identifierLikeness(a: string, b: string): number {
  const [left, right] = [bareKey(a), bareKey(b)];
  if (left === right) return 1;
  const [foldedLeft, foldedRight] = [foldedKey(left), foldedKey(right)];
  if (foldedLeft === foldedRight) return ONE_APART;
  return Math.min(left.length, right.length) >= LONG_IDENTIFIER && distance(foldedLeft, foldedRight) === 1 ? ONE_APART : 0;
}

/** Whether an amount is above another by more than is tolerated; what is no amount is above nothing. */
function above(a: string, b: string, tolerance = '0'): boolean {
  const [left, right] = [decimalOf(a), decimalOf(b)];
  return left !== null && right !== null && left.minus(right).greaterThan(decimalOf(tolerance) ?? 0);
}

const sameAmount = (a: string, b: string): boolean => decimalOf(a) !== null && !above(a, b) && !above(b, a);

function differenceOf({ name, by, tolerance }: Comparison, a: string | null, b: string | null): string[] {
  if (a === null || b === null) return [];
  if (by === 'at most' && above(a, b, tolerance)) return [`${name} is ${a}, at most ${b} is expected`];
  if (by === 'amount' && (above(a, b, tolerance) || above(b, a, tolerance))) return [`${name} is ${a}, ${b} is expected`];
  return [];
}

function reasonOf(comparison: Comparison, a: string | null, b: string | null, texts: Texts): string[] {
  const { by, name } = comparison;
  if (a === null || b === null || by === 'at most' || by === 'amount') return [];
  const alike = likenessOf(comparison, a, b, texts);
  if (by === 'text') return [`${name} is ${Math.round(alike * 100)} of 100 alike`];
  return [alike === 1 ? `${name} is the same` : alike > 0 ? `${name} is one letter apart` : `${name} is another (${a}, not ${b})`];
}
