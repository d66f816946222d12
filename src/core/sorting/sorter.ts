import type { Page } from '@/core/page/page';

/** Words of a document that can tell its kind: those without figures, each once. */
export type WordSet = ReadonlySet<string>;

/** A document of a known kind. */
export interface SortSample {
  readonly kind: string;
  readonly words: WordSet;
}

/** How often each word stands on documents of each kind. */
export interface Sorter {
  readonly documents: ReadonlyMap<string, number>;
  readonly holding: ReadonlyMap<string, ReadonlyMap<string, number>>;
  readonly all: number;
  /** By what scores are multiplied before they become shares; as large as the samples themselves bear out. */
  readonly weight: number;
}

const LEAST_LETTERS = 3;
/** The kind of a paper shows on its first pages; the rest is more rows of the same. */
const LOOKED_AT_PAGES = 2;
const MOST_WORDS = 600;

export function wordSetOf(pages: readonly Page[], subject: string | null = null): WordSet {
  const texts = [...pages.slice(0, LOOKED_AT_PAGES).flatMap((page) => page.words.map((word) => word.text)), ...(subject ?? '').split(/\s+/)];
  return new Set(texts.map((text) => text.toLowerCase().replace(/^[^\p{L}]+|[^\p{L}]+$/gu, '')).filter((text) => text.length >= LEAST_LETTERS && !/\d/.test(text)).slice(0, MOST_WORDS));
}

export function trainSorter(samples: readonly SortSample[]): Sorter {
  const documents = new Map<string, number>();
  const holding = new Map<string, Map<string, number>>();
  for (const { kind, words } of samples) {
    documents.set(kind, (documents.get(kind) ?? 0) + 1);
    for (const word of words) {
      const counts = holding.get(word) ?? new Map<string, number>();
      holding.set(word, counts.set(kind, (counts.get(kind) ?? 0) + 1));
    }
  }
  const counted: Sorter = { documents, holding, all: samples.length, weight: 1 };
  return { ...counted, weight: fittingWeight(counted, samples) };
}

/**
 * What is left out when a sample is measured: the sample itself, and one of every other kind. Leaving out the sample alone would take
 * words away from its own kind only and make every other kind look likelier than it is, badly so with few samples.
 */
export function heldOutWith(sample: SortSample, samples: readonly SortSample[]): readonly SortSample[] {
  const ofKind = (kind: string): readonly SortSample[] => samples.filter((one) => one.kind === kind);
  const place = ofKind(sample.kind).indexOf(sample);
  return [...new Set(samples.map((one) => one.kind))].flatMap((kind) => {
    const own = ofKind(kind);
    const out = own[place % own.length];
    return out ? [out] : [];
  });
}

/** Weights that are tried. */
const WEIGHTS = [1, 1.5, 2, 3, 4, 5, 7] as const;
/** Logarithm of how likely it is, before anything is looked at, that a document is none of the kinds. */
export const NONE = 1.5;

/**
 * The weight at which the shares that the samples would get, each as if it had not been seen, are nearest to the truth: the smallest
 * mean logarithmic loss (temperature scaling; Guo and others 2017). Few samples, or kinds that are much alike, give a small one.
 */
function fittingWeight(sorter: Sorter, samples: readonly SortSample[]): number {
  const kinds = [...sorter.documents.keys()];
  const scored = samples.map((sample) => ({ own: kinds.indexOf(sample.kind), scores: kinds.map((kind) => wordEvidence(sorter, kind, sample.words, heldOutWith(sample, samples)).score) }));
  const loss = (weight: number): number => scored.reduce((sum, { own, scores }) => {
    const total = scores.reduce((all, score) => all + Math.exp(weight * score), Math.exp(NONE));
    return sum - Math.log(Math.max(1e-9, Math.exp(weight * (scores[own] ?? 0)) / total));
  }, 0);
  return samples.length === 0 ? WEIGHTS[0] : [...WEIGHTS].sort((a, b) => loss(a) - loss(b))[0] ?? WEIGHTS[0];
}

/** What the words of a document say for a kind. */
export interface WordEvidence {
  /** Mean log-likelihood ratio per word against documents of all kinds; above 0 speaks for the kind. */
  readonly score: number;
  /** Words that speak for it most. */
  readonly telling: readonly string[];
}

/**
 * Naive Bayes over the presence and absence of words (Bernoulli model; McCallum and Nigam 1998), as a ratio against all other kinds. The
 * ratios are averaged instead of summed, because words of one paper are far from independent and their sum would be sure of
 * everything; and a word counts by how regularly it stands on a kind's papers, because with five samples a name that stands on one
 * says little. Samples in `without` are left out, for measuring.
 */
export function wordEvidence(sorter: Sorter, kind: string, words: WordSet, without: readonly SortSample[] = []): WordEvidence {
  const size = (sorter.documents.get(kind) ?? 0) - without.filter((sample) => sample.kind === kind).length;
  const others = sorter.all - without.length - size;
  if (size <= 0 || words.size === 0) return { score: 0, telling: [] };
  const countOf = (word: string): { here: number; elsewhere: number } => {
    const counts = sorter.holding.get(word);
    const left = without.filter((sample) => sample.words.has(word));
    const here = (counts?.get(kind) ?? 0) - left.filter((sample) => sample.kind === kind).length;
    const everywhere = [...(counts?.values() ?? [])].reduce((sum, count) => sum + count, 0) - left.length;
    return { here, elsewhere: everywhere - here };
  };
  const present = [...words].map((word) => {
    const { here, elsewhere } = countOf(word);
    if (here + elsewhere === 0) return { word, ratio: UNKNOWN_WORD, weight: UNKNOWN_WEIGHT };
    return { word, ratio: Math.log((here + 0.5) / (size + 1)) - Math.log((elsewhere + 0.5) / (others + 1)), weight: Math.max(here / size, others === 0 ? 0 : elsewhere / others) };
  });
  const absent = [...sorter.holding.keys()].filter((word) => !words.has(word)).flatMap((word) => {
    const { here, elsewhere } = countOf(word);
    const regular = here / size;
    return regular < REGULAR ? [] : [{ word, ratio: Math.log((size - here + 0.5) / (size + 1)) - Math.log((others - elsewhere + 0.5) / (others + 1)), weight: regular }];
  });
  const all = [...present, ...absent];
  const weight = all.reduce((sum, one) => sum + one.weight, 0);
  const telling = present.filter(({ ratio }) => ratio > 1).sort((x, y) => y.ratio * y.weight - x.ratio * x.weight).slice(0, MOST_TELLING).map(({ word }) => word);
  return { score: weight === 0 ? 0 : all.reduce((sum, one) => sum + one.weight * one.ratio, 0) / weight, telling };
}

/** A word that no sample holds speaks against every kind a little: the paper may be none of them. */
const UNKNOWN_WORD = -0.6;
const UNKNOWN_WEIGHT = 0.3;
/** A word on this share of a kind's papers is missed where it does not stand. */
const REGULAR = 0.6;
const MOST_TELLING = 5;
