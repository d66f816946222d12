import { phrasesOf, textOf, type Line } from '@/core/page/lines';
import { overlap, unionOf, type Box, type Word } from '@/core/page/page';
import { normaliseWords, type FieldDefinition } from '@/core/reading/kind';
import { similarity } from '@/core/reading/landmark';
import { verdictOf, isRight } from '@/core/measuring/compare';
import { lookAlike } from '@/core/value/mend';
import type { LocaleHints } from '@/core/value/normalise';

/** Where a confirmed value stands on the pages. */
export interface Located {
  readonly page: number;
  readonly box: Box;
  readonly words: readonly Word[];
  /** Lines it covers, the first first. */
  readonly lines: readonly Line[];
}

/** Longest run of words that is compared with a value. */
const MOST_WORDS = 16;
/** Recognised text may have a wrong letter in eight and still be the confirmed value. */
const ALIKE = 0.87;

/** Every place where a confirmed value stands, in the order of the pages. */
export function locate(value: string, field: FieldDefinition, lines: readonly Line[], locale: LocaleHints): Located[] {
  const exact = lines.flatMap((line) => runsOf(line, field).filter((words) => isValue(words, value, field, locale)).map((words): Located => ({ page: line.page, box: unionOf(words.map((word) => word.box)), words, lines: [line] })));
  const smallest = withoutLonger(exact);
  if (smallest.length > 0) return smallest;
  if (field.type === 'text') {
    const block = locateBlock(value, lines);
    if (block) return [block];
  }
  return field.type === 'text' || field.type === 'identifier' ? nearlyLocated(value, field, lines) : [];
}

function runsOf(line: Line, field: FieldDefinition): (readonly Word[])[] {
  const longest = field.type === 'text' ? MOST_WORDS : 6;
  const runs: Word[][] = [];
  for (let start = 0; start < line.words.length; start += 1) for (let end = start + 1; end <= Math.min(line.words.length, start + longest); end += 1) runs.push(line.words.slice(start, end));
  return runs;
}

function isValue(words: readonly Word[], value: string, field: FieldDefinition, locale: LocaleHints): boolean {
  const text = textOf(words);
  // Most runs are ruled out by their length or first letters alone.
  if (field.type === 'text' || field.type === 'identifier') return Math.abs(text.length - value.length) <= 3 && isRight(verdictOf(field.type, value, text.replace(/^[:#\s]+|[,;:]+$/g, '')));
  if (!/\d/.test(text) && field.type !== 'choice' && field.type !== 'yes-no') return false;
  const fit = normaliseWords(field, words, locale);
  return fit.ok && isRight(verdictOf(field.type, value, fit.value));
}

/** "120.00" inside "EUR 120.00": the run without what the normalising drops. */
function withoutLonger(found: readonly Located[]): Located[] {
  return found.filter((one) => !found.some((other) => other !== one && other.lines[0] === one.lines[0] && other.words.length < one.words.length && other.words.every((word) => one.words.includes(word))));
}

/** A text over several lines: the line that begins it, then what stands under that, as long as the value goes on so. */
function locateBlock(value: string, lines: readonly Line[]): Located | null {
  const plain = (text: string) => text.toLowerCase().replace(/[\s,]+/g, '');
  const wanted = plain(value);
  for (const [index, line] of lines.entries()) {
    for (const phrase of line.phrases) {
      let [text, words, covered] = [plain(phrase.text), [...phrase.words], [line]];
      if (text === '' || !wanted.startsWith(text)) continue;
      for (const below of lines.slice(index + 1, index + 8)) {
        const next = below.page === line.page ? below.phrases.find((candidate) => overlap(candidate.box[0], candidate.box[2], phrase.box[0], phrase.box[2]) > 0) : undefined;
        if (!next || !wanted.startsWith(text + plain(next.text))) continue;
        text += plain(next.text);
        words = [...words, ...next.words];
        covered = [...covered, below];
        if (text === wanted) return { page: line.page, box: unionOf(words.map((word) => word.box)), words, lines: covered };
      }
    }
  }
  return null;
}

/** A value that was recognised with a wrong letter or two. */
function nearlyLocated(value: string, field: FieldDefinition, lines: readonly Line[]): Located[] {
  const wanted = lookAlike(value);
  const found = lines.flatMap((line) => (field.type === 'text' ? phrasesOf(line.words).map((phrase) => phrase.words as readonly Word[]) : runsOf(line, field)).map((words) => ({ line, words, alike: field.type === 'identifier' && lookAlike(textOf(words)) === wanted ? 0.99 : similarity(textOf(words), value) }))).filter((one) => one.alike >= ALIKE);
  return found.sort((a, b) => b.alike - a.alike).slice(0, 2).map(({ line, words }) => ({ page: line.page, box: unionOf(words.map((word) => word.box)), words, lines: [line] }));
}
