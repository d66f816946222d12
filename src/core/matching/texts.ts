import Decimal from 'decimal.js';
import { distance } from 'fastest-levenshtein';
import { jaroWinkler } from './jaro';

/** Words less alike than this are different words. */
const SAME_WORD = 0.9;
/** What a shortened word ("galv." for "galvanised") is worth; at least so many letters. */
const SHORTENED = 0.92;
const LEAST_LETTERS = 3;
/** The shorter text says what is meant, the longer adds packing and remarks: so much of the likeness hangs on the shorter. */
const SHORTER_COUNTS = 0.7;

/** Words and figures of a text, lower case, without accents; "12mm" is "12" and "mm", "1,50" is "1.5". */
export function wordsOf(text: string): string[] {
  const plain = text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
  return (plain.match(/\d+(?:[.,]\d+)?|\p{L}+/gu) ?? []).map((word) => (isFigure(word) ? new Decimal(word.replace(',', '.')).toFixed() : word));
}
const isFigure = (word: string): boolean => /^\d/.test(word);

/** Two words: figures are the same or not, words may be shortened or misspelt. */
export function wordLikeness(a: string, b: string): number {
  if (a === b) return 1;
  if (isFigure(a) || isFigure(b)) return 0;
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  if (short.length >= LEAST_LETTERS && long.startsWith(short)) return SHORTENED;
  const alike = jaroWinkler(a, b);
  return alike >= SAME_WORD ? alike : 0;
}

/**
 * How alike short texts are, 0..1, such as what a supplier calls an article and what an order calls it. Words are compared softly and weighed by
 * how rare they are among all texts at hand, so that "12 mm" tells ropes apart and "rope" does not (after SoftTFIDF: Cohen, Ravikumar and Fienberg
 * 2003). One instance serves many comparisons and remembers the pairs of words it has seen.
 */
export class Texts {
  readonly #weights = new Map<string, number>();
  readonly #words = new Map<string, readonly string[]>();
  readonly #pairs = new Map<string, number>();

  constructor(texts: readonly string[]) {
    const count = new Map<string, number>();
    for (const text of texts) for (const word of new Set(this.#wordsOf(text))) count.set(word, (count.get(word) ?? 0) + 1);
    for (const [word, times] of count) this.#weights.set(word, Math.log(1 + texts.length / times));
  }

  likeness(a: string, b: string): number {
    const [ours, theirs] = [this.#wordsOf(a), this.#wordsOf(b)];
    if (ours.length === 0 || theirs.length === 0) return 0;
    const covered = [this.#covered(ours, theirs), this.#covered(theirs, ours)] as const;
    const [shorter, longer] = ours.length <= theirs.length ? covered : ([covered[1], covered[0]] as const);
    return Math.max(SHORTER_COUNTS * shorter + (1 - SHORTER_COUNTS) * longer, joined(ours, theirs));
  }

  /** Share of the weight of some words that is found again among others. */
  #covered(words: readonly string[], among: readonly string[]): number {
    let [found, all] = [0, 0];
    for (const word of words) {
      const weight = this.#weights.get(word) ?? 1;
      all += weight;
      found += weight * Math.max(...among.map((other) => this.#pair(word, other)));
    }
    return found / all;
  }

  #wordsOf(text: string): readonly string[] {
    const words = this.#words.get(text) ?? wordsOf(text);
    this.#words.set(text, words);
    return words;
  }

  #pair(a: string, b: string): number {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const alike = this.#pairs.get(key) ?? wordLikeness(a, b);
    this.#pairs.set(key, alike);
    return alike;
  }
}

/** Texts that differ in blanks alone ("fish box", "fishbox") are nearly the same; anything farther apart says nothing here. */
function joined(ours: readonly string[], theirs: readonly string[]): number {
  const [a, b] = [ours.join(''), theirs.join('')];
  // With figures in them, one letter may be another article.
  if (/\d/.test(a + b) && a !== b) return 0;
  const alike = 1 - distance(a, b) / Math.max(a.length, b.length);
  return alike >= SAME_WORD ? alike : 0;
}
