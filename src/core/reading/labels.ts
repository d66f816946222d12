import { phrasesOf, type Line, type Phrase } from '@/core/page/lines';
import type { Word } from '@/core/page/page';
import { CONCEPT_NAMES, CONCEPTS } from './wordings';
import { findLandmarks, type Landmark } from './landmark';

/**
 * Where labels stand on a document, whoever asks. A word that belongs to a longer label of something else ("date" in "due date")
 * is no label of its own, and a label is never a value.
 */
export interface Labels {
  /** Labels of the wordings, best first; parts of longer labels are left out. */
  find(wordings: readonly string[]): readonly Label[];
  /** Does the word belong to any label that is known in the trade? */
  isLabel(word: Word): boolean;
}

export interface Label extends Landmark {
  /** Rank of its wording: 0 is the field's own name, 1 the last of its synonyms. */
  readonly rank: number;
}

interface Span {
  readonly line: Line;
  readonly start: number;
  readonly end: number;
}

const spanOf = (landmark: Landmark): Span => ({ line: landmark.line, start: landmark.after - landmark.phrase.words.length, end: landmark.after });
const inside = (inner: Span, outer: Span): boolean => inner.line === outer.line && inner.start >= outer.start && inner.end <= outer.end && inner.end - inner.start < outer.end - outer.start;

/** Labels shorter than this are found by the letter only: "no" is like "nr", "to", "on". */
const SHORT = 4;

export function labelsOn(lines: readonly Line[], own: readonly (readonly string[])[]): Labels {
  // Every wording of the trade counts as a possible label, so that "Date" in "Delivery date" is not taken where only "Date" is asked for.
  const known = [...CONCEPT_NAMES.map((name) => CONCEPTS[name]), ...own];
  const spans = known.flatMap((wordings) => landmarksOf(lines, wordings)).filter(isLabelLike).map(spanOf);
  const byLine = new Map<Line, Span[]>();
  for (const span of spans) byLine.set(span.line, [...(byLine.get(span.line) ?? []), span]);
  const words = new Set(spans.flatMap((span) => span.line.words.slice(span.start, span.end)));
  return {
    isLabel: (word) => words.has(word),
    find: (wordings) =>
      landmarksOf(lines, wordings)
        .filter((landmark) => !(byLine.get(landmark.line) ?? []).some((other) => inside(spanOf(landmark), other)))
        .map((landmark) => ({ ...landmark, rank: rankOf(landmark, wordings) })),
  };
}

const landmarksOf = (lines: readonly Line[], wordings: readonly string[]): Landmark[] => findLandmarks(lines, wordings).filter((landmark) => landmark.similarity === 1 || landmark.phrase.text.length > SHORT);

/** In the middle of a sentence a word is no label: labels stand at the beginning of a phrase. */
const isLabelLike = (landmark: Landmark): boolean => landmark.alone || landmark.phrase.text.includes(' ') || /:$/.test(landmark.phrase.text);

function rankOf(landmark: Landmark, wordings: readonly string[]): number {
  const words = landmark.phrase.words.length;
  const index = wordings.findIndex((wording) => wording.split(' ').length === words && landmark.phrase.text.toLowerCase().startsWith(wording.slice(0, 3)));
  return index < 0 ? 1 : index / wordings.length;
}

/** The words behind a label on its line, as phrases, up to the next label. */
export function behind(label: Landmark, labels: Labels): Phrase[] {
  const rest = label.line.words.slice(label.after);
  const next = rest.findIndex((word, index) => index > 0 && labels.isLabel(word));
  return phrasesOf(next < 0 ? rest : rest.slice(0, next));
}
