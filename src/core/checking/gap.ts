import Decimal from 'decimal.js';
import type { Page, Place, Word } from '@/core/page/page';
import { linesOf, textOf, type Line } from '@/core/page/lines';
import { parseAmount, plainAmount, shownAmount, type DecimalMark } from '@/core/value/amount';
import type { GapExplanation } from './finding';

/** An amount printed on the page, with the words before it on its line. */
export interface StrayAmount {
  readonly value: Decimal;
  readonly printed: string;
  /** Words that name it: those before it on its line, else the line above and those after it. */
  readonly label: string;
  /** Its line and the one above: where words that speak for a direction may stand. */
  readonly context: string;
  readonly place: Place;
}

/** A field that may be missing from the sum, with the direction in which it would count and the words that name it. */
export interface GapField {
  readonly key: string;
  readonly label: string;
  readonly sign: 1 | -1;
  readonly current: Decimal;
}

export interface GapSearch {
  /** printed total − computed total. */
  readonly difference: Decimal;
  readonly tolerance: Decimal;
  readonly amounts: readonly StrayAmount[];
  readonly fields: readonly GapField[];
}

/** A page with more amounts than this is a price list; the search is cut there. */
const MOST_AMOUNTS = 200;
/** Amounts that are combined; with words that speak for them there are never many. */
const MOST_COMBINED = 16;
const MOST_EXPLANATIONS = 4;
/** A figure with this many places, or a currency mark, is taken for an amount of money; years and counts are not. */
const MONEY_LIKE = /[.,]\d{2}\b|[€$£¥]|\b[A-Z]{3}\b/;
export const MINUS_WORDS = /discount|allowance|rebate|deduct|credit|less\b|reduction|retention/i;
export const PLUS_WORDS = /charge|supplement|surcharge|fee|freight|fuel|waiting|postage|deposit/i;

/** All amounts of money on the pages that are not among the places already counted. */
export function strayAmounts(pages: readonly Page[], mark: DecimalMark, counted: readonly Place[]): StrayAmount[] {
  return pages
    .flatMap((page) => linesOf(page).flatMap((line, index, lines) => amountsOn(line, lines[index - 1], mark)))
    .filter((amount) => !counted.some((place) => samePlace(place, amount.place)))
    .slice(0, MOST_AMOUNTS);
}

function amountsOn(line: Line, above: Line | undefined, mark: DecimalMark): StrayAmount[] {
  const near = above && line.box[1] - above.box[3] < 1.5 * (line.box[3] - line.box[1]) ? above.text : '';
  return line.words.flatMap((word, index) => {
    const value = MONEY_LIKE.test(word.text) ? parseAmount(word.text.replace(/[;:)]+$|[.,]$/, ''), mark) : null;
    if (value === null || value.isZero()) return [];
    const named = (words: readonly Word[]) => textOf(words.filter((other) => parseAmount(other.text, mark) === null && !/^([A-Z]{3}|[€$£¥])$/.test(other.text)).slice(-8));
    const label = named(line.words.slice(0, index)) || `${near} … ${named(line.words.slice(index + 1))}`.slice(-80).trim();
    return [{ value: value.abs(), printed: word.text, label, context: `${near} ${line.text}`, place: { page: line.page, box: word.box } }];
  });
}

function samePlace(a: Place, b: Place): boolean {
  return a.page === b.page && Math.min(a.box[2], b.box[2]) - Math.max(a.box[0], b.box[0]) > 1 && Math.min(a.box[3], b.box[3]) - Math.max(a.box[1], b.box[1]) > 1;
}

/**
 * The smallest sets of amounts on the page whose signed sum is the difference: single amounts first, then pairs, then triples.
 * A single amount may stand anywhere: that it fits to the cent is hardly chance. Among many amounts some pair or triple nearly
 * always fits, so those are made only of amounts beside which a word speaks for their direction ("discount" takes off,
 * "surcharge" adds). Among sets of one size, those with such words come first.
 */
export function explainGap(search: GapSearch): GapExplanation[] {
  const amounts = distinctAmounts(search.amounts);
  const anySign = amounts.flatMap((amount): Signed[] => [{ amount, sign: 1 }, { amount, sign: -1 }]);
  const spoken = anySign.filter(speaksFor).slice(0, MOST_COMBINED);
  for (const [size, candidates] of [[1, anySign], [2, spoken], [3, spoken]] as const) {
    const sets = setsOf(candidates, size).filter((set) => sumOf(set).minus(search.difference).abs().lte(search.tolerance));
    if (sets.length > 0) {
      return sets
        .sort((a, b) => plausibility(b) - plausibility(a))
        .slice(0, MOST_EXPLANATIONS)
        .map((set) => explanation(set, search));
    }
  }
  return [];
}

interface Signed {
  readonly amount: StrayAmount;
  readonly sign: 1 | -1;
}

const sumOf = (set: readonly Signed[]): Decimal => set.reduce((sum, { amount, sign }) => sum.plus(amount.value.times(sign)), new Decimal(0));

function distinctAmounts(amounts: readonly StrayAmount[]): StrayAmount[] {
  const byValue = new Map<string, StrayAmount>();
  for (const amount of amounts) {
    const known = byValue.get(amount.value.toFixed());
    if (!known || labelWeight(amount) > labelWeight(known)) byValue.set(amount.value.toFixed(), amount);
  }
  return [...byValue.values()];
}

/** Every set of `size` candidates; no amount twice. */
function setsOf(candidates: readonly Signed[], size: number, from = 0): Signed[][] {
  if (size === 0) return [[]];
  return candidates.slice(from).flatMap((candidate, index) => setsOf(candidates, size - 1, from + index + 1).filter((rest) => rest.every((other) => other.amount !== candidate.amount)).map((rest) => [candidate, ...rest]));
}

const speaksFor = ({ amount, sign }: Signed): boolean => (sign < 0 ? MINUS_WORDS : PLUS_WORDS).test(amount.context);
const speaksAgainst = ({ amount, sign }: Signed): boolean => (sign < 0 ? PLUS_WORDS : MINUS_WORDS).test(amount.context);

const labelWeight = (amount: StrayAmount): number => (MINUS_WORDS.test(amount.context) || PLUS_WORDS.test(amount.context) ? 2 : amount.label === '' ? 0 : 1);

function plausibility(set: readonly Signed[]): number {
  return set.reduce((sum, signed) => sum + (speaksFor(signed) ? 2 : 0) - (speaksAgainst(signed) ? 2 : 0) + labelWeight(signed.amount) / 10, 0);
}

function explanation(set: readonly Signed[], search: GapSearch): GapExplanation {
  const parts = set.map(({ amount, sign }) => `${shownAmount(plainAmount(amount.value, 2))}${amount.label === '' ? '' : ` (“${amount.label}”)`} ${sign < 0 ? 'taken off' : 'added'}`);
  return {
    amounts: set.map(({ amount, sign }) => ({ value: plainAmount(amount.value, 2), printed: amount.printed, label: amount.label, sign, place: amount.place })),
    text: `With ${parts.join(' and ')} it adds up.`,
    mend: set.length === 1 && set[0] ? mendFor(set[0], search) : null,
  };
}

/** An empty field that counts in the right direction takes the amount; one named in the amount's label comes first. */
function mendFor({ amount, sign }: Signed, search: GapSearch): GapExplanation['mend'] {
  const open = search.fields.filter((field) => field.sign === sign && field.current.isZero());
  const named = open.find((field) => field.label.toLowerCase().split(/\W+/).some((word) => word.length > 3 && amount.context.toLowerCase().includes(word)));
  const field = named ?? open[0];
  return field ? { field: field.key, value: plainAmount(amount.value, 2), place: amount.place, printed: amount.printed } : null;
}
