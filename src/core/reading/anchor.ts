import { boxHeight, overlap, type Box } from '@/core/page/page';
import { phrasesOf, type Line, type Phrase } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { findLandmarks, type Landmark } from './landmark';
import { normaliseWords, type AnchorSettings, type FieldDefinition } from './kind';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

const FAR_RIGHT = 400;
const FAR_BELOW = 40;

/** The value beside a landmark: the nearest phrase in the given direction that fits the type. Best first. */
export function readByAnchor(lines: readonly Line[], settings: AnchorSettings, field: FieldDefinition, locale: LocaleHints): Reading[] {
  const candidates = findLandmarks(lines, settings.anchors).flatMap((landmark) => {
    const phrases = settings.direction === 'right' ? toTheRight(landmark, field, settings.within ?? FAR_RIGHT) : below(lines, landmark, settings.within ?? FAR_BELOW);
    const chosen = phrases.find((phrase) => normaliseWords(field, phrase.words, locale).ok) ?? phrases[0];
    return chosen ? [readingFrom(landmark, chosen, { field, locale, passedOver: phrases.indexOf(chosen) })] : [];
  });
  return withRivals(candidates).sort((a, b) => b.confidence - a.confidence);
}

/** Text runs on over wide blanks, a figure does not: for text the phrase beside the landmark, otherwise each phrase in turn. */
function toTheRight(landmark: Landmark, field: FieldDefinition, within: number): Phrase[] {
  const edge = landmark.phrase.box[2];
  const phrases = phrasesOf(landmark.line.words.slice(landmark.after)).filter((phrase) => phrase.box[0] - edge <= within);
  return field.type === 'text' ? phrases.slice(0, 1) : phrases.flatMap((phrase) => (phrase.words.length > 1 ? [phrase, ...leading(phrase)] : [phrase]));
}

/** "2,500.00 EUR due now": the first words of a phrase may be the value and the rest a remark. */
function leading(phrase: Phrase): Phrase[] {
  return phrase.words.slice(0, 3).map((_, index) => phrasesOf(phrase.words.slice(0, 3 - index))[0] as Phrase);
}

function below(lines: readonly Line[], landmark: Landmark, within: number): Phrase[] {
  const box = landmark.phrase.box;
  return lines
    .filter((line) => line.page === landmark.line.page && line.box[1] > box[3] - boxHeight(box) / 2 && line.box[1] - box[3] <= within && line !== landmark.line)
    .sort((a, b) => a.box[1] - b.box[1])
    .flatMap((line) => line.phrases.filter((phrase) => overlap(phrase.box[0], phrase.box[2], box[0], box[2]) > 0));
}

interface Context {
  readonly field: FieldDefinition;
  readonly locale: LocaleHints;
  /** How many nearer phrases did not fit. */
  readonly passedOver: number;
}

function readingFrom(landmark: Landmark, phrase: Phrase, context: Context): Reading {
  const fit = normaliseWords(context.field, phrase.words, context.locale);
  const evidence: Evidence[] = [
    { what: `landmark “${landmark.phrase.text}” matches ${Math.round(landmark.similarity * 100)} %`, factor: landmark.similarity },
    { what: landmark.alone ? 'the landmark is the whole label' : 'the landmark is part of a longer label', factor: landmark.alone ? 1 : 0.6 },
    { what: fit.ok ? `fits the type ${context.field.type}` : fit.why, factor: fit.ok ? 0.995 : 0.2 },
    { what: `${Math.round(distanceTo(landmark.phrase.box, phrase.box))} points from the landmark`, factor: nearness(distanceTo(landmark.phrase.box, phrase.box)) },
  ];
  if (fit.mended) evidence.push({ what: 'letters stood where figures belong', factor: 0.75 });
  evidence.push(...surenessOf(phrase.words));
  if (context.passedOver > 0) evidence.push({ what: 'something else stands nearer to the landmark', factor: 0.85 ** context.passedOver });
  return {
    text: phrase.text,
    value: fit.ok ? fit.value : null,
    place: { page: landmark.line.page, box: phrase.box },
    anchor: { page: landmark.line.page, box: landmark.phrase.box },
    reader: 'anchor',
    confidence: confidenceOf(evidence),
    evidence,
    ...(fit.ok ? {} : { problem: fit.why }),
  };
}

/** Distance between the near edges of two boxes, in points. */
function distanceTo(a: Box, b: Box): number {
  const dx = Math.max(0, b[0] - a[2], a[0] - b[2]);
  const dy = Math.max(0, b[1] - a[3], a[1] - b[3]);
  return Math.hypot(dx, dy);
}

/** Up to 150 points costs nothing (a right-aligned amount column), 400 points costs a tenth. */
const nearness = (points: number): number => (points <= 150 ? 1 : Math.max(0.5, 1 - (points - 150) / 2500));

/** Two landmarks that give different values make each other doubtful; the same value twice supports itself. */
function withRivals(readings: readonly Reading[]): Reading[] {
  const strong = readings.filter((reading) => reading.value !== null && reading.confidence >= 0.5);
  return readings.map((reading) => {
    const rivals = strong.filter((other) => other.value !== reading.value && other.confidence >= reading.confidence * 0.9).length;
    if (rivals === 0) return reading;
    const evidence = [...reading.evidence, { what: `${rivals} other value${rivals > 1 ? 's' : ''} at the same wording`, factor: 1 / (1 + 0.3 * rivals) }];
    return { ...reading, evidence, confidence: confidenceOf(evidence) };
  });
}
