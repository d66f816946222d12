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
  /** Without blanks. */
  readonly letters: string;
  /** Its place among the wordings: of equally good finds the earlier wording comes first. */
  readonly order: number;
}

/** Wordings by their length in letters and blanks, so that only those are compared whose length could fit. */
type ByLength = readonly (readonly Sought[] | undefined)[];

interface Ready {
  readonly sought: readonly Sought[];
  /** Number of words → wordings of so many words. */
  readonly groups: ReadonlyMap<number, ByLength>;
  /** Number of words → longer wordings that a recogniser may have parted into so many, by letters. */
  readonly reblanked: ReadonlyMap<number, ByLength>;
}

/** Wordings belong to a kind and are sought on every line of every document, so they are made ready once. */
const ready = new WeakMap<readonly string[], Ready>();

function readyFrom(wordings: readonly string[]): Ready {
  const known = ready.get(wordings);
  if (known) return known;
  const sought = wordings.map((wording, order): Sought => {
    const text = wording.trim().split(/\s+/).map(plainText).join(' ');
    return { text, words: text.split(' ').length, letters: text.replaceAll(' ', ''), order };
  });
  const groups = new Map<number, (Sought[] | undefined)[]>();
  const reblanked = new Map<number, (Sought[] | undefined)[]>();
  const put = (map: typeof groups, words: number, length: number, one: Sought): void => {
    const lengths = map.get(words) ?? [];
    lengths[length] = [...(lengths[length] ?? []), one];
    map.set(words, lengths);
  };
  for (const one of sought) {
    put(groups, one.words, one.text.length, one);
    if (one.letters.length >= LEAST_REBLANKED) for (const words of [one.words + 1, one.words - 1]) if (words > 0) put(reblanked, words, one.letters.length, one);
  }
  const made: Ready = { sought, groups, reblanked };
  ready.set(wordings, made);
  return made;
}

/** What is the same for every wording that is sought on a line. */
interface LineFacts {
  /** Letters of all words before each, one more than there are words. */
  readonly before: readonly number[];
  readonly recognised: boolean;
}

const facts = new WeakMap<Line, LineFacts>();

function factsOf(line: Line): LineFacts {
  const known = facts.get(line);
  if (known) return known;
  const before = [0];
  for (const [index, word] of line.plain.entries()) before.push((before[index] ?? 0) + word.length);
  const made = { before, recognised: line.words.some((word) => word.sure !== undefined) };
  facts.set(line, made);
  return made;
}

/** Every place on the lines where one of the wordings stands, best match first. */
export function findLandmarks(lines: readonly Line[], wordings: readonly string[]): Landmark[] {
  const { groups, reblanked } = readyFrom(wordings);
  const found: Landmark[] = [];
  for (const line of lines) {
    const { recognised } = factsOf(line);
    const here: Find[] = [];
    // A recogniser puts blanks into words and leaves them out: a word more or less counts, when the letters agree without blanks.
    if (recognised) for (const [words, byLength] of reblanked) seek(line, words, byLength, REBLANKED_WAY, here);
    for (const [words, byLength] of groups) seek(line, words, byLength, PLAIN_WAY, here);
    if (here.length > 1) here.sort((a, b) => a.order - b.order);
    for (const { landmark } of here) found.push(landmark);
  }
  return found.length < 2 ? found : withoutOverlaps(found.sort((a, b) => b.similarity - a.similarity || b.phrase.words.length - a.phrase.words.length));
}

interface Find {
  readonly order: number;
  readonly landmark: Landmark;
}

/** How words of a line are put together and compared with a wording. */
interface Way {
  readonly joint: '' | ' ';
  readonly atLeast: number;
  /** What is left of the similarity. */
  readonly weight: number;
}

const LEAST_REBLANKED = 8;
const PLAIN_WAY: Way = { joint: ' ', atLeast: SIMILAR_ENOUGH, weight: 1 };
const REBLANKED_WAY: Way = { joint: '', atLeast: 0.88, weight: 0.98 };

function seek(line: Line, words: number, byLength: ByLength, way: Way, found: Find[]): void {
  const { before } = factsOf(line);
  for (let start = 0; start + words <= line.plain.length; start += 1) {
    const after = start + words;
    const length = (before[after] ?? 0) - (before[start] ?? 0) + way.joint.length * (words - 1);
    const longest = Math.min(byLength.length - 1, Math.floor(length / way.atLeast));
    let text: string | null = null;
    for (let fitting = Math.ceil(length * way.atLeast); fitting <= longest; fitting += 1) {
      for (const sought of byLength[fitting] ?? []) {
        text ??= words === 1 ? (line.plain[start] ?? '') : line.plain.slice(start, after).join(way.joint);
        const alike = likeness(text, way.joint === ' ' ? sought.text : sought.letters, way.atLeast);
        if (alike < way.atLeast || alike === 0 || !standsTogether(line, start, after)) continue;
        found.push({ order: sought.order, landmark: { phrase: phraseOf(line.words.slice(start, after)), line, after, similarity: alike * way.weight, alone: standsAlone(line, start, after) } });
      }
    }
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
export const beginsWith = (line: Line, wordings: readonly string[]): boolean => readyFrom(wordings).sought.some(({ text, words }) => words <= line.plain.length && likeness(line.plain.slice(0, words).join(' '), text, SIMILAR_ENOUGH) >= SIMILAR_ENOUGH);
