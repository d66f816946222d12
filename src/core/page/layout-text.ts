import { linesOf } from './lines';
import { boxHeight, boxWidth, type Page, type Word } from './page';

/** One word of the laid-out text: which line and column of the text it begins at, both from 0. */
export interface LaidWord {
  readonly word: Word;
  readonly line: number;
  readonly column: number;
}

export interface LaidText {
  readonly text: string;
  /** In the order of the text, for going from a selection to the page and back. */
  readonly words: readonly LaidWord[];
}

/** Marks of boxes as every font shows them. */
const BOXES: Readonly<Record<string, string>> = { '☑': '[x]', '☒': '[x]', '✓': '[x]', '✔': '[x]', '☐': '[ ]', '□': '[ ]' };
/** Blank lines between two printed ones are kept up to this many. */
const MOST_BLANK = 2;

/** The text of a page with its columns: each word as far to the right as it stands on paper, in characters of the page's usual width. */
export function layoutText(page: Page): LaidText {
  const lines = linesOf(page);
  const width = characterWidth(page.words);
  const left = Math.min(...page.words.map((word) => word.box[0]), page.width);
  const text: string[] = [];
  const words: LaidWord[] = [];
  let bottom: number | null = null;
  for (const line of lines) {
    const blank = bottom === null ? 0 : Math.min(MOST_BLANK, Math.round((line.box[1] - bottom) / Math.max(1, boxHeight(line.box)) - 0.6));
    for (let count = 0; count < blank; count += 1) text.push('');
    let row = '';
    for (const word of line.words) {
      const wanted = Math.round((word.box[0] - left) / width);
      const column = Math.max(wanted, row === '' ? 0 : row.length + 1);
      row = row.padEnd(column) + (BOXES[word.text] ?? word.text);
      words.push({ word, line: text.length, column });
    }
    text.push(row);
    bottom = line.box[3];
  }
  return { text: text.join('\n'), words };
}

/** Points per character: the median over the longer words. */
function characterWidth(words: readonly Word[]): number {
  const widths = words.filter((word) => word.text.length >= 3).map((word) => boxWidth(word.box) / word.text.length).sort((a, b) => a - b);
  return Math.max(2, widths[Math.floor(widths.length / 2)] ?? 5);
}
