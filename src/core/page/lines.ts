import { boxHeight, centreY, onSameLine, unionOf, type Box, type Page, type Word } from './page';

/** Words that stand close together on one line, as a label or a value usually does. */
export interface Phrase {
  readonly words: readonly Word[];
  readonly text: string;
  readonly box: Box;
}

/** One printed line across the whole page: its words from left to right, and the phrases they form. */
export interface Line {
  readonly page: number;
  readonly words: readonly Word[];
  /** The words in lower case without closing marks, for comparing; made once because every landmark is sought on every line. */
  readonly plain: readonly string[];
  readonly phrases: readonly Phrase[];
  readonly text: string;
  readonly box: Box;
}

/** A word or wording for comparing: lower case, no closing marks, single blanks. */
export function plainText(text: string): string {
  const whole = text.toLowerCase();
  const lower = OPENING.includes(whole.charAt(0)) ? whole.slice(1) : whole;
  let end = lower.length;
  // Every word of a page comes through here; a loop is several times quicker than the pattern /[:;.,]+$/.
  while (end > 0 && CLOSING.includes(lower.charAt(end - 1))) end -= 1;
  const kept = end === lower.length ? lower : lower.slice(0, end);
  return /\s/.test(kept) ? kept.replace(/\s+/g, ' ').trim() : kept;
}

const CLOSING = ':;.,';
/** Marks that stand before a word, or that a recogniser makes of dust and ruled lines. */
const OPENING = '‘“"\'|[{_~';

/** A gap wider than this share of the line height parts two phrases. A blank is about a quarter, a wide one a half. */
const PHRASE_GAP = 0.9;
/** A line of small print beside a large name is not as high as the name, points. */
const MOST_GAP_HEIGHT = 11;

export const textOf = (words: readonly Word[]): string => words.map((word) => word.text).join(' ');

export const phraseOf = (words: readonly Word[]): Phrase => ({ words, text: textOf(words), box: unionOf(words.map((word) => word.box)) });

/** The words of a page as lines, top to bottom. The text layer's own order is not trusted: columns are often written one by one. */
export function linesOf(page: Page): Line[] {
  const rows: Word[][] = [];
  for (const word of [...page.words].sort((a, b) => centreY(a.box) - centreY(b.box))) {
    const row = rows.findLast((candidate, index) => index >= rows.length - 3 && candidate[0] !== undefined && onSameLine(candidate[0].box, word.box));
    if (row) row.push(word);
    else rows.push([word]);
  }
  return rows.map((row) => lineOf(page.number, row.sort((a, b) => a.box[0] - b.box[0])));
}

function lineOf(page: number, words: readonly Word[]): Line {
  return { page, words, plain: words.map((word) => plainText(word.text)), phrases: phrasesOf(words), text: textOf(words), box: unionOf(words.map((word) => word.box)) };
}

/** Split words of one line, ordered from the left, at every gap too wide for a blank. */
export function phrasesOf(words: readonly Word[]): Phrase[] {
  const groups: Word[][] = [];
  // Boxes of recognised words are as high as their letters, not as the line; the highest of the line stands for it.
  const line = words.some((word) => word.sure !== undefined) ? Math.max(...words.map((word) => boxHeight(word.box))) : 0;
  for (const word of words) {
    const group = groups.at(-1);
    const before = group?.at(-1);
    const near = before !== undefined && word.box[0] - before.box[2] <= PHRASE_GAP * Math.max(Math.min(line, MOST_GAP_HEIGHT), boxHeight(before.box), boxHeight(word.box));
    if (group && near) group.push(word);
    else groups.push([word]);
  }
  return groups.map(phraseOf);
}

/**
 * Two printed lines as one, phrases that stand over each other joined, as broken headings of columns are meant; null where the
 * second is too far below or nothing stands over anything.
 */
export function stackedLine(upper: Line, lower: Line | undefined): Line | null {
  if (!lower || lower.page !== upper.page || lower.box[1] - upper.box[3] > 0.9 * boxHeight(upper.box)) return null;
  const groups: { words: Word[]; box: Box }[] = upper.phrases.map((phrase) => ({ words: [...phrase.words], box: phrase.box }));
  let joined = 0;
  for (const phrase of lower.phrases) {
    const over = groups.find((group) => Math.min(group.box[2], phrase.box[2]) > Math.max(group.box[0], phrase.box[0]));
    if (!over) groups.push({ words: [...phrase.words], box: phrase.box });
    else {
      over.words.push(...phrase.words);
      over.box = unionOf([over.box, phrase.box]);
      joined += 1;
    }
  }
  if (joined === 0) return null;
  const words = groups.sort((a, b) => a.box[0] - b.box[0]).flatMap((group) => group.words);
  return { page: upper.page, words, plain: words.map((word) => plainText(word.text)), phrases: groups.map(({ words: own }) => phraseOf(own)), text: textOf(words), box: unionOf([upper.box, lower.box]) };
}
