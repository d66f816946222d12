import { distance } from 'fastest-levenshtein';
import { phraseOf, type Line, type Phrase } from '@/core/page/lines';

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

const plain = (text: string): string => text.toLowerCase().replace(/[:;.,]+$/u, '').replace(/\s+/g, ' ').trim();

/** 0..1: one minus the edit distance per letter of the longer text (Levenshtein 1966). */
export function similarity(a: string, b: string): number {
  const [left, right] = [plain(a), plain(b)];
  const longest = Math.max(left.length, right.length);
  return longest === 0 ? 0 : 1 - distance(left, right) / longest;
}

/** Every place on the lines where one of the wordings stands, best match first. */
export function findLandmarks(lines: readonly Line[], wordings: readonly string[]): Landmark[] {
  const found = lines.flatMap((line) => wordings.flatMap((wording) => onLine(line, wording)));
  return withoutOverlaps(found.sort((a, b) => b.similarity - a.similarity || b.phrase.words.length - a.phrase.words.length));
}

function onLine(line: Line, wording: string): Landmark[] {
  const length = wording.trim().split(/\s+/).length;
  const found: Landmark[] = [];
  for (let start = 0; start + length <= line.words.length; start += 1) {
    const words = line.words.slice(start, start + length);
    const likeness = similarity(words.map((word) => word.text).join(' '), wording);
    if (likeness < SIMILAR_ENOUGH) continue;
    found.push({ phrase: phraseOf(words), line, after: start + length, similarity: likeness, alone: standsAlone(line, start, start + length) });
  }
  return found;
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
export function beginsWith(line: Line, wordings: readonly string[]): boolean {
  return wordings.some((wording) => {
    const words = line.words.slice(0, wording.trim().split(/\s+/).length);
    return similarity(words.map((word) => word.text).join(' '), wording) >= SIMILAR_ENOUGH;
  });
}
