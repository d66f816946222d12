import { distance } from 'fastest-levenshtein';
import { phraseOf, plainText, type Line, type Phrase } from '@/core/page/lines';

/** A wording found on a line. */
export interface Landmark {
  readonly phrase: Phrase;
  readonly line: Line;
  /** Index in the line of the first word after it. */
  readonly after: number;
  /** 1 = letter by letter, ignoring case and closing marks. */
  readonly similarity: number;
  /** Whether more words of the same phrase stand directly before or after it ("Total" in "Total weight"). */
  readonly alone: boolean;
}

/** Lower bound of similarity: one wrong letter in five, about what poor recognition does to a short word. */
const SIMILAR_ENOUGH = 0.8;

/** 0..1: one minus the edit distance per letter of the longer text (Levenshtein 1966). */
export const similarity = (a: string, b: string): number => likeness(plainText(a), plainText(b));

/** The same of plain texts; 0 as soon as the lengths alone rule out that they are similar enough, which spares nearly every comparison. */
function likeness(a: string, b: string, atLeast = 0): number {
  if (a === b) return a === '' ? 0 : 1;
  const longest = Math.max(a.length, b.length);
  if (Math.abs(a.length - b.length) > (1 - atLeast) * longest) return 0;
  return 1 - distance(a, b) / longest;
}

/** A wording made ready to be sought. */
interface Sought {
  readonly text: string;
  readonly words: number;
}

/** Wordings belong to a kind and are sought on every line of every document, so they are made ready once. */
const ready = new WeakMap<readonly string[], readonly Sought[]>();

function soughtFrom(wordings: readonly string[]): readonly Sought[] {
  const known = ready.get(wordings);
  if (known) return known;
  const sought = wordings.map((wording) => {
    const text = wording.trim().split(/\s+/).map(plainText).join(' ');
    return { text, words: text.split(' ').length };
  });
  ready.set(wordings, sought);
  return sought;
}

/** How like the wording the words of a line from `start` on are; 0 where they are not similar enough. */
function likenessAt(line: Line, start: number, sought: Sought): number {
  const end = start + sought.words;
  let length = sought.words - 1;
  for (let index = start; index < end; index += 1) length += line.plain[index]?.length ?? 0;
  if (end > line.plain.length || Math.abs(length - sought.text.length) > (1 - SIMILAR_ENOUGH) * Math.max(length, sought.text.length)) return 0;
  const found = likeness(sought.words === 1 ? (line.plain[start] ?? '') : line.plain.slice(start, end).join(' '), sought.text, SIMILAR_ENOUGH);
  return found >= SIMILAR_ENOUGH ? found : 0;
}

/** Every place on the lines where one of the wordings stands, best match first. */
export function findLandmarks(lines: readonly Line[], wordings: readonly string[]): Landmark[] {
  const sought = soughtFrom(wordings);
  const found: Landmark[] = [];
  for (const line of lines) for (const one of sought) addFrom(line, one, found);
  return found.length < 2 ? found : withoutOverlaps(found.sort((a, b) => b.similarity - a.similarity || b.phrase.words.length - a.phrase.words.length));
}

/** A recogniser puts blanks into words and leaves them out: a word more or less counts, when the letters agree without blanks. */
function addReblanked(line: Line, sought: Sought, found: Landmark[]): void {
  const wanted = sought.text.replaceAll(' ', '');
  if (wanted.length < 8) return;
  for (const words of [sought.words + 1, sought.words - 1]) {
    for (let start = 0; words > 0 && start + words <= line.words.length; start += 1) {
      const alike = likeness(line.plain.slice(start, start + words).join(''), wanted, REBLANKED);
      if (alike >= REBLANKED && standsTogether(line, start, start + words)) found.push({ phrase: phraseOf(line.words.slice(start, start + words)), line, after: start + words, similarity: alike * 0.98, alone: standsAlone(line, start, start + words) });
    }
  }
}

const REBLANKED = 0.88;

function addFrom(line: Line, sought: Sought, found: Landmark[]): void {
  if (line.words.some((word) => word.sure !== undefined)) addReblanked(line, sought, found);
  for (let start = 0; start + sought.words <= line.words.length; start += 1) {
    const alike = likenessAt(line, start, sought);
    const after = start + sought.words;
    if (alike === 0 || !standsTogether(line, start, after)) continue;
    found.push({ phrase: phraseOf(line.words.slice(start, after)), line, after, similarity: alike, alone: standsAlone(line, start, after) });
  }
}

/** Wider than this, in heights of the line, and two words belong to different columns. */
const APART = 1.5;

function standsTogether(line: Line, start: number, end: number): boolean {
  for (let index = start + 1; index < end; index += 1) {
    const [before, word] = [line.words[index - 1], line.words[index]];
    if (before && word && word.box[0] - before.box[2] > APART * (before.box[3] - before.box[1])) return false;
  }
  return true;
}

/** A landmark closed by a colon stands alone whatever follows it. */
function standsAlone(line: Line, start: number, end: number): boolean {
  const phrase = line.phrases.find((candidate) => candidate.words.includes(line.words[start] as never));
  if (!phrase) return false;
  const inside = phrase.words.indexOf(line.words[start] as never);
  const last = line.words[end - 1]?.text ?? '';
  const next = phrase.words[inside + (end - start)];
  const letterAfter = next !== undefined && !last.endsWith(':') && /^[a-z(]/i.test(next.text);
  return inside === 0 && !letterAfter;
}

function withoutOverlaps(landmarks: readonly Landmark[]): Landmark[] {
  const kept: Landmark[] = [];
  for (const landmark of landmarks) {
    const taken = kept.some((other) => other.line === landmark.line && other.phrase.words.some((word) => landmark.phrase.words.includes(word)));
    if (!taken) kept.push(landmark);
  }
  return kept;
}

/** Does the line begin with one of the wordings? */
export const beginsWith = (line: Line, wordings: readonly string[]): boolean => soughtFrom(wordings).some((sought) => likenessAt(line, 0, sought) > 0);
