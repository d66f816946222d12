/**
 * Page space: points (1/72 inch), origin at the top-left of the upright page. Everything that has a place on paper is
 * expressed in it, whatever it came from.
 */

/** `[x0, y0, x1, y1]` in page space; x1 ≥ x0, y1 ≥ y0. */
export type Box = readonly [number, number, number, number];

/** One printed word: no blanks inside, text as the file gives it. */
export interface Word {
  readonly text: string;
  readonly box: Box;
  /** How sure the recogniser was, 0..1; absent where the text is the file's own. */
  readonly sure?: number;
}

/** Where the words of a page come from: its text layer, its picture, a text that has no pages of its own, or data. */
export const PAGE_ORIGINS = ['text layer', 'picture', 'typed', 'data'] as const;
export type PageOrigin = (typeof PAGE_ORIGINS)[number];

/** One upright page with its words in the order of the text layer. */
export interface Page {
  /** Counted from 1. */
  readonly number: number;
  /** Points. */
  readonly width: number;
  /** Points. */
  readonly height: number;
  readonly words: readonly Word[];
  /** Default `text layer`. */
  readonly origin?: PageOrigin;
  /** Why it was read so, in a plain sentence. */
  readonly why?: string;
}

/** A place on paper, so that any value can be shown where it stands. */
export interface Place {
  /** Page number, counted from 1. */
  readonly page: number;
  readonly box: Box;
}

export const boxHeight = (box: Box): number => box[3] - box[1];
export const boxWidth = (box: Box): number => box[2] - box[0];
export const centreX = (box: Box): number => (box[0] + box[2]) / 2;
export const centreY = (box: Box): number => (box[1] + box[3]) / 2;

/** The smallest box around all the given ones. Throws on an empty list: there is no such box. */
export function unionOf(boxes: readonly Box[]): Box {
  const [first, ...rest] = boxes;
  if (!first) throw new Error('unionOf needs at least one box');
  return rest.reduce<Box>((a, b) => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])], first);
}

/** Length of the common part of two intervals; 0 when they are apart. */
export function overlap(a0: number, a1: number, b0: number, b1: number): number {
  return Math.max(0, Math.min(a1, b1) - Math.max(a0, b0));
}

/** Do two boxes stand on the same printed line? True when half of the lower of the two overlaps vertically. */
export function onSameLine(a: Box, b: Box): boolean {
  return overlap(a[1], a[3], b[1], b[3]) > 0.5 * Math.min(boxHeight(a), boxHeight(b));
}

/** Do two boxes share more than `least` points in both directions? */
export const boxesMeet = (a: Box, b: Box, least = 0): boolean => overlap(a[0], a[2], b[0], b[2]) > least && overlap(a[1], a[3], b[1], b[3]) > least;
