import { phraseOf, phrasesOf, type Line, type Phrase } from '@/core/page/lines';
import { boxHeight, boxesMeet, centreY, overlap, type Box, type Page } from '@/core/page/page';
import type { FieldDefinition, LearnedAnchor, Spot } from '@/core/reading/kind';
import { similarity } from '@/core/reading/landmark';
import { readLetterhead } from '@/core/reading/letterhead';
import type { Reading } from '@/core/reading/reading';
import { shapeOf } from '@/core/value/mend';
import { verdictOf, isRight } from '@/core/measuring/compare';
import { textOf } from '@/core/page/lines';
import type { Located } from './locate';

export interface SpotInput {
  readonly pages: readonly Page[];
  readonly lines: readonly Line[];
  readonly field: FieldDefinition;
  readonly value: string;
  readonly places: readonly Located[];
  /** What the described reader found; where it is right, its place and its label are the best guess. */
  readonly described: readonly Reading[];
  /** Boxes of other confirmed values: they change from paper to paper and are no anchors. */
  readonly variable: readonly { readonly page: number; readonly box: Box }[];
}

const MOST_ANCHORS = 3;
/** The upper part of a page, where facts about the paper stand. */
const UPPER = 0.45;

/** How the value of a sample can be found again: its place, the words beside it, its form. Null where it does not stand on the pages. */
export function spotFrom(input: SpotInput): Spot | null {
  const { field, value, places, pages } = input;
  const right = input.described.find((reading) => reading.place && isRight(verdictOf(field.type, value, reading.value)));
  const chosen = choosePlace(places, field, right);
  if (!chosen) return null;
  const page = pages.find((candidate) => candidate.number === chosen.page);
  const anchors = anchorsFor(chosen, input, right);
  const isName = field.type === 'text' && readLetterhead(input.lines, pages).some((reading) => similarity(withoutBlanks(reading.text), withoutBlanks(value)) >= 0.9);
  const upper = chosen.page === 1 && chosen.box[1] < (page?.height ?? 800) * UPPER;
  return {
    page: upper ? 'first' : 'any',
    box: rounded(chosen.box),
    anchors: isName && !anchors.some((anchor) => /:$/.test(anchor.text)) ? [] : anchors,
    shape: shapeOf(field.type === 'text' ? '' : field.type === 'identifier' ? value : textOf(chosen.words)),
    lines: chosen.lines.length,
    ...(isName ? { constant: value } : {}),
  };
}

const withoutBlanks = (text: string): string => text.replace(/\s/g, '');

const rounded = (box: Box): Box => box.map((edge) => Math.round(edge * 10) / 10) as unknown as Box;

/** Where the described reader saw it; otherwise amounts stand last and everything else first. */
function choosePlace(places: readonly Located[], field: FieldDefinition, described: Reading | undefined): Located | undefined {
  const place = described?.place;
  const seen = place && places.find((candidate) => candidate.page === place.page && boxesMeet(candidate.box, place.box, 0.5));
  return seen ?? (field.type === 'money' ? places.at(-1) : places[0]);
}

/** The nearest stable words: the label the described reader went by, words before the value in its phrase, to the left of it, and above it. */
function anchorsFor(place: Located, { lines, variable }: SpotInput, described: Reading | undefined): LearnedAnchor[] {
  const line = place.lines[0];
  if (!line) return [];
  const stable = (phrase: Phrase, page: number): boolean => /\p{L}{2,}|#/u.test(phrase.text) && !variable.some((other) => other.page === page && boxesMeet(other.box, phrase.box, 0.5)) && !boxesMeet(phrase.box, place.box, 0.5);
  const first = line.words.indexOf(place.words[0] as never);
  const before = phrasesOf(line.words.slice(0, Math.max(0, first))).filter((phrase) => stable(phrase, line.page)).reverse().map(withoutFigures).filter((phrase): phrase is Phrase => phrase !== null);
  const height = boxHeight(line.box);
  const above = lines
    .filter((other) => other.page === place.page && other !== line && centreY(other.box) < place.box[1] && place.box[1] - other.box[3] < 4 * height)
    .sort((a, b) => b.box[1] - a.box[1])
    .flatMap((other) => other.phrases.filter((phrase) => overlap(phrase.box[0], phrase.box[2], place.box[0] - 2, place.box[2] + 2) > 0 && stable(phrase, other.page)))
    .map(withoutFigures)
    .filter((phrase): phrase is Phrase => phrase !== null);
  const label = described?.anchor ? lines.filter((other) => other.page === described.anchor?.page).flatMap((other) => labelAt(other, described.anchor?.box as Box)) : [];
  const nearLeft = before[0] && place.box[0] - before[0].box[2] < 330 ? before.slice(0, 1) : [];
  const ordered = [...label, ...nearLeft, ...above.slice(0, 1), ...before.slice(1, 2)];
  const anchors: LearnedAnchor[] = [];
  for (const phrase of ordered) if (!anchors.some((anchor) => boxesMeet(anchor.box, phrase.box, 0.5))) anchors.push({ text: phrase.text, box: rounded(phrase.box) });
  return anchors.slice(0, MOST_ANCHORS);
}

function labelAt(line: Line, box: Box): Phrase[] {
  const words = line.words.filter((word) => boxesMeet(word.box, box, 0.5));
  const first = words[0];
  if (!first) return [];
  // "Used" in "Used kWh": the whole phrase stands alone, its part does not.
  const whole = line.phrases.find((phrase) => phrase.words.includes(first));
  const label = whole && !whole.words.some((word) => /\d/.test(word.text)) && whole.words.length <= 5 && whole.words[0] === first ? whole : phraseOf(words);
  return [label];
}

/** "VAT 20 %" keeps "VAT": figures in labels change. */
function withoutFigures(phrase: Phrase): Phrase | null {
  const end = phrase.words.findIndex((word, index) => index > 0 && /\d/.test(word.text));
  const words = phrase.words.slice(0, end < 0 ? phrase.words.length : end).slice(0, 6);
  return words.length > 0 && /\p{L}/u.test(words[0]?.text ?? '') ? phraseOf(words) : null;
}
