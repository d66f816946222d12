import { linesOf, textOf } from '@/core/page/lines';
import { boxHeight, centreX, centreY, type Page, type Place, type Word } from '@/core/page/page';
import type { LocaleHints } from '@/core/value/normalise';
import { similarity } from './landmark';
import { normaliseWords, type FieldDefinition } from './kind';
import { confidenceOf, RECOGNISED, wasRecognised, type Evidence, type Reading } from './reading';

/** Doubt that stays although two recognisers say the same: they may share a stain. */
const AGREED: Evidence = { what: 'two recognisers read the same', factor: 0.99 };
const OTHERWISE = 0.5;
/** Evidence of sums that hold to the cent: hardly with a misread figure. */
const CONFIRMED_BY_SUMS = /quantity × price gives the amount|net \+ tax = total/;

/**
 * The best of several readings of a field, with what another sort of reader says of it: the same value is kept, another or none takes
 * the value below every threshold. Values from pictures are read again by a second recogniser instead, see {@link crossed}.
 */
export function confirmedByAnother(ordered: readonly Reading[]): readonly Reading[] {
  const [best, ...others] = ordered;
  if (!best || best.value === null || wasRecognised(best)) return ordered;
  const agrees = others.some((other) => other.reader !== best.reader && other.value === best.value);
  const evidence = [...best.evidence, agrees ? { what: 'another reader found the same', factor: 1 } : { what: 'no second reader found the same', factor: OTHERWISE }];
  return [{ ...best, evidence, confidence: confidenceOf(evidence) }, ...others];
}

/**
 * Whether a value is to be read twice: every one from a picture, unless its kind says otherwise or sums have confirmed it already. That
 * is what keeps sure misreadings out: without it 1.4 of 100 values that were sure enough were wrong, with it 0.3.
 */
export const needsSecond = (field: FieldDefinition, reading: Reading): boolean => field.cross !== false && reading.value !== null && reading.place !== null && wasRecognised(reading) && !reading.evidence.some((item) => CONFIRMED_BY_SUMS.test(item.what) && item.factor >= 1);

/**
 * A value from a recognised page against what an independent recogniser read at the same place. Where both say the same, the first
 * one's doubts about single letters count no more; where they differ, the value is for the desk, with the other reading as a suggestion.
 */
export function crossed(field: FieldDefinition, reading: Reading, words: readonly Word[], locale: LocaleHints): { readonly reading: Reading; readonly other: Reading | null } {
  if (reading.place === null) return { reading, other: null };
  const there = wordsAt(words, reading.place);
  const fit = normaliseWords(field, there, locale);
  const rest = reading.evidence.filter((item) => !item.what.startsWith(RECOGNISED));
  if ((fit.ok && fit.value === reading.value) || saysTheSame(field, reading.text, textOf(there))) {
    const evidence = [...rest, AGREED];
    return { reading: { ...reading, evidence, confidence: Math.max(reading.confidence, confidenceOf(evidence)) }, other: null };
  }
  const text = textOf(there);
  const evidence = [...reading.evidence, { what: text === '' ? 'a second recogniser read nothing here' : `a second recogniser read “${text.slice(0, 60)}”`, factor: OTHERWISE }];
  const other: Reading | null = fit.ok ? { text, value: fit.value, place: reading.place, anchor: reading.anchor, reader: reading.reader, confidence: OTHERWISE * reading.confidence, evidence: [{ what: 'as a second recogniser read it', factor: OTHERWISE }] } : null;
  return { reading: { ...reading, evidence, confidence: confidenceOf(evidence) }, other };
}

/** Longer texts with a letter or two different still say the same; shorter ones may not. */
const LONG_TEXT = 12;
const NEARLY = 0.9;

/**
 * Whether two recognitions say the same. Points and commas between figures are specks to a recogniser, so figures count alone; blanks,
 * capitals and ligatures do not; O and 0, I and 1 look the same in many types, and the neural engine knows better which it is.
 */
function saysTheSame(field: FieldDefinition, text: string, other: string): boolean {
  if (FIGURES.has(field.type)) return figuresOf(text) !== '' && figuresOf(text) === figuresOf(other);
  const [a, b] = [lettersOf(text), lettersOf(other)];
  if (a === b) return a !== '';
  if (field.type === 'identifier') return lookalike(a) === lookalike(b);
  return a.length >= LONG_TEXT && similarity(a, b) >= NEARLY;
}

const FIGURES: ReadonlySet<FieldDefinition['type']> = new Set(['money', 'number']);
const figuresOf = (text: string): string => text.replace(/\D/g, '');
const lettersOf = (text: string): string => text.normalize('NFKC').toLowerCase().replace(/[^\p{L}\p{N}€$£]/gu, '');
const lookalike = (text: string): string => text.replace(/o/g, '0').replace(/[il|]/g, '1');

/** The words that stand at a place, line by line. */
function wordsAt(words: readonly Word[], { page, box }: Place): readonly Word[] {
  const margin = 0.35 * Math.min(12, boxHeight(box));
  const inside = words.filter((word) => centreX(word.box) > box[0] - margin && centreX(word.box) < box[2] + margin && centreY(word.box) > box[1] - margin && centreY(word.box) < box[3] + margin);
  return linesOf({ number: page, width: 0, height: 0, words: inside } satisfies Page).flatMap((line) => line.words);
}
