import { phrasesOf, textOf, type Line } from '@/core/page/lines';
import { boxHeight, centreX, centreY, unionOf, type Box, type Word } from '@/core/page/page';
import { applied, type Registration } from '@/core/page/register';
import { mendToShape, shapeOf } from '@/core/value/mend';
import type { LocaleHints } from '@/core/value/normalise';
import { normaliseWords, type FieldDefinition, type LearnedSettings, type Spot } from './kind';
import { findLandmarks } from './landmark';
import { linesFor } from './page-choice';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

export interface LearnedInput {
  readonly lines: readonly Line[];
  readonly field: FieldDefinition;
  readonly locale: LocaleHints;
  /** How pages lie over the layout, by page number. */
  readonly registrations: ReadonlyMap<number, Registration>;
}

/** Values where confirmed samples had them: beside the same words, or at the same place of the layout. Best first. */
export function readByLearning(settings: LearnedSettings, input: LearnedInput): Reading[] {
  const readings = settings.spots.flatMap((spot) => (spot.constant === undefined ? atSpot(spot, input) : asConstant(spot, spot.constant, input)));
  const best = new Map<string, Reading>();
  for (const reading of readings) {
    const name = `${reading.value}/${reading.place?.page}/${reading.place?.box[1]}`;
    if (reading.confidence > (best.get(name)?.confidence ?? -1)) best.set(name, reading);
  }
  return [...best.values()].sort((a, b) => b.confidence - a.confidence);
}

/** Where the value is expected, and by which observation. */
interface Expectation {
  readonly page: number;
  readonly box: Box;
  readonly evidence: Evidence;
  readonly anchor: Box | null;
}

function expectations(spot: Spot, { lines, registrations }: LearnedInput): Expectation[] {
  const where = linesFor(lines, spot.page);
  const beside = spot.anchors.flatMap((anchor, index) =>
    findLandmarks(where, [anchor.text]).slice(0, 6).map((landmark): Expectation => {
      const found = landmark.phrase.box;
      const scale = registrations.get(landmark.line.page)?.a ?? 1;
      const shift = (x: number, y: number): [number, number] => [found[0] + (x - anchor.box[0]) * scale, centreY(found) + (y - centreY(anchor.box)) * scale];
      const [x0, y0] = shift(spot.box[0], spot.box[1]);
      const [x1, y1] = shift(spot.box[2], spot.box[3]);
      return { page: landmark.line.page, box: [x0, y0, x1, y1], anchor: found, evidence: { what: `beside “${landmark.phrase.text}”, as in a sample`, factor: landmark.similarity * (landmark.alone || index > 0 ? 0.995 : 0.75) } };
    }),
  );
  const zones = [...registrations].filter(([page]) => where.some((line) => line.page === page) && (spot.page !== 'last' || page === where[0]?.page)).map(([page, registration]): Expectation => ({
    page, anchor: null, box: applied(registration, spot.box), evidence: { what: 'at its place in the layout, but the words beside it were not found', factor: spot.anchors.length === 0 ? 0.93 : 0.62 },
  }));
  return beside.length > 0 ? beside : zones;
}

function atSpot(spot: Spot, input: LearnedInput): Reading[] {
  return expectations(spot, input).flatMap((expected) => {
    const offers = candidatesNear(spot, expected, input);
    return offers.slice(0, 2).map((offer) => readingFrom(spot, expected, offer, input));
  });
}

interface Offer {
  readonly words: readonly Word[];
  readonly line: Line;
  /** Points between the expected and the found place. */
  readonly off: number;
}

/** How far from the expected place a value may stand, points: values grow to the left or to the right. */
const REACH = 60;

function candidatesNear(spot: Spot, expected: Expectation, { lines, field, locale }: LearnedInput): Offer[] {
  const height = Math.max(6, boxHeight(spot.box) / Math.max(1, spot.lines));
  const near = lines.filter((line) => line.page === expected.page && Math.abs(centreY(line.box) - (expected.box[1] + height / 2)) < height * 0.9);
  if (spot.lines > 1) return blockAt(lines, expected, spot);
  return near
    .flatMap((line) => runsOf(line, expected, field).map((words): Offer => ({ words, line, off: offBy(unionOf(words.map((word) => word.box)), expected.box) })))
    .filter((offer) => offer.off < REACH)
    .map((offer) => ({ ...offer, fits: normaliseWords(field, offer.words, locale).ok, like: shapeLikeness(spot.shape, textOf(offer.words)) }))
    .sort((a, b) => Number(b.fits) - Number(a.fits) || b.like * 25 - b.off - (a.like * 25 - a.off));
}

/** A value of several printed lines, such as an address: everything under the first line that stands within the sample's width. */
function blockAt(lines: readonly Line[], expected: Expectation, spot: Spot): Offer[] {
  const [x0, y0, x1] = expected.box;
  const words = lines.filter((line) => line.page === expected.page && centreY(line.box) > y0 - 2 && centreY(line.box) < y0 + (spot.box[3] - spot.box[1]) + 3).flatMap((line) => line.words.filter((word) => centreX(word.box) > x0 - 12 && centreX(word.box) < Math.max(x1 + 40, x0 + 120)));
  const line = lines.find((candidate) => candidate.words.includes(words[0] as never));
  return line && words.length > 0 ? [{ words, line, off: 0 }] : [];
}

/** Runs of words that may be the value: whole phrases for text, any run within a phrase for the rest. The anchor itself is none. */
function runsOf(line: Line, expected: Expectation, field: FieldDefinition): (readonly Word[])[] {
  const anchor = expected.anchor;
  const own = line.words.filter((word) => !(anchor && centreX(word.box) > anchor[0] && centreX(word.box) < anchor[2] && centreY(word.box) > anchor[1] && centreY(word.box) < anchor[3]));
  const after = anchor && Math.abs(centreY(anchor) - centreY(line.box)) < boxHeight(line.box) / 2 && anchor[0] < expected.box[0] ? own.filter((word) => word.box[0] > anchor[2] - 2) : own;
  const phrases = phrasesOf(after);
  if (field.type === 'text') return phrases.map((phrase) => phrase.words);
  return phrases.flatMap(({ words }) => {
    const runs: Word[][] = [];
    for (let start = 0; start < words.length && start < 8; start += 1) for (let end = Math.min(words.length, start + 6); end > start; end -= 1) runs.push(words.slice(start, end));
    return runs;
  });
}

/** Points between two boxes by the pair of edges that agrees best: left for text, right for columns of figures, or the middle. */
function offBy(box: Box, expected: Box): number {
  const across = Math.min(Math.abs(box[0] - expected[0]), Math.abs(box[2] - expected[2]), Math.abs(centreX(box) - centreX(expected)) * 1.5);
  return Math.hypot(across, 1.5 * (box[1] - expected[1]));
}

/** Runs of one class count once: an amount may have more figures than the one in the sample. */
const collapsed = (shape: string): string => shape.replace(/(.)\1+/g, '$1');

export function shapeLikeness(shape: string, text: string): number {
  const own = shapeOf(text);
  if (own === shape) return 1;
  // A recogniser leaves blanks out and puts some in.
  if (own.replaceAll(' ', '') === shape.replaceAll(' ', '')) return 0.97;
  return collapsed(own) === collapsed(shape) ? 0.9 : 0.4;
}

function readingFrom(spot: Spot, expected: Expectation, { words, line, off }: Offer, { field, locale }: LearnedInput): Reading {
  const printed = textOf(words);
  const mended = field.type === 'identifier' && words.some((word) => word.sure !== undefined) ? mendToShape(printed, spot.shape) : null;
  const text = mended ?? printed;
  const fit = normaliseWords(field, words, locale, text);
  const like = field.type === 'text' ? 1 : shapeLikeness(spot.shape, text);
  const evidence: Evidence[] = [
    expected.evidence,
    { what: `${Math.round(off)} points from where a sample had it`, factor: off < 6 ? 1 : Math.max(0.7, 1 - off / 200) },
    { what: fit.ok ? `fits the type ${field.type}` : fit.why, factor: fit.ok ? 0.995 : 0.2 },
    { what: like >= 0.9 ? 'has the form that the samples had' : 'has another form than the samples had', factor: like >= 0.97 ? 1 : like >= 0.9 ? 0.985 : 0.88 },
    ...(fit.mended || (mended !== null && mended !== printed) ? [{ what: 'look-alike letters and figures were exchanged', factor: mended === null ? 0.75 : 0.97 }] : []),
    ...surenessOf(words),
  ];
  return {
    text, value: fit.ok ? fit.value : null, place: { page: line.page, box: unionOf(words.map((word) => word.box)) }, anchor: expected.anchor ? { page: line.page, box: expected.anchor } : null,
    reader: 'learned', confidence: confidenceOf(evidence), evidence, ...(fit.ok ? {} : { problem: fit.why }),
  };
}

/** A value that belongs to the layout, such as the name in the letterhead: it counts where it stands on the page. */
function asConstant(spot: Spot, constant: string, input: LearnedInput): Reading[] {
  const [found] = findLandmarks(linesFor(input.lines, spot.page), [constant]);
  if (!found) return atSpot(spot, input);
  const evidence: Evidence[] = [{ what: `“${found.phrase.text}” stands on the page, as on every sample of the layout`, factor: found.similarity === 1 ? 0.99 : 0.95 }];
  return [{ text: constant, value: constant, place: { page: found.line.page, box: found.phrase.box }, anchor: null, reader: 'learned', confidence: confidenceOf(evidence), evidence }];
}
