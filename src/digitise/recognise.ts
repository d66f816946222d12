import os from 'node:os';
import pLimit from 'p-limit';
import { boxesMeet, type Word } from '@/core/page/page';
import { LIMITS } from './limits';
import { run } from './run';
import { asGraymap, type Picture } from './picture';

/** Pages recognised at once by this process. Each uses one core (OMP_THREAD_LIMIT=1): two pages side by side are quicker than one on two cores. */
const atOnce = pLimit(Math.max(1, os.availableParallelism()));

/** Page segmentation 11: as much text as possible, in no order. Ours is made from the boxes anyway, and columns are not guessed at. */
const SEGMENTATION = '11';

export interface Recognised {
  readonly words: readonly Word[];
  /** Mean sureness of the words, weighted by their letters, 0..1; 0 for an empty page. */
  readonly sure: number;
}

/** Words less sure than this are looked at a second time. */
const DOUBTFUL = 0.7;
/** Page segmentation 6: one block. It sees single figures in columns that sparse segmentation passes over, and the other way round. */
const SECOND_SEGMENTATION = '6';

/**
 * Recognise a page; where words are doubtful, once more in another segmentation. The surer word of two at the same place is kept,
 * words that only one pass saw are added.
 */
export async function recogniseTwice(picture: Picture): Promise<Recognised> {
  const first = await recognise(picture);
  if (first.words.length === 0 || first.words.every((word) => (word.sure ?? 1) >= DOUBTFUL)) return first;
  const second = await recognise(picture, { segmentation: SECOND_SEGMENTATION });
  return { words: merged(first.words, second.words), sure: Math.max(first.sure, second.sure) };
}

/** What only the second pass saw must be this sure to count. */
const ADDED = 0.55;

export function merged(first: readonly Word[], second: readonly Word[]): Word[] {
  const kept = [...first];
  for (const word of second) {
    const meeting = kept.filter((other) => boxesMeet(other.box, word.box, 1));
    if (meeting.length === 0) {
      if ((word.sure ?? 0) >= ADDED) kept.push(word);
    } else if (meeting.length === 1 && meeting[0] && (meeting[0].sure ?? 1) < DOUBTFUL && (word.sure ?? 0) > (meeting[0].sure ?? 1) + 0.1) kept[kept.indexOf(meeting[0])] = word;
  }
  return kept;
}

/** Words with boxes in page space and sureness, by the neural engine of Tesseract in a child process with limits. */
export async function recognise(picture: Picture, options: { readonly segmentation?: string; readonly args?: readonly string[] } = {}): Promise<Recognised> {
  const args = ['-', '-', '--dpi', String(Math.round(picture.dpi)), '--psm', options.segmentation ?? SEGMENTATION, ...(options.args ?? ['-l', 'eng']), '-c', 'tessedit_create_tsv=1'];
  const ran = await atOnce(() => run('tesseract', args, asGraymap(picture), { deadlineMs: LIMITS.recogniseDeadlineMs, outputBytes: LIMITS.textBytes, env: { OMP_THREAD_LIMIT: '1' }, package: 'tesseract-ocr' }));
  if (ran.ended !== null) throw new Error(ran.ended === 'too long' ? `the page could not be recognised within ${LIMITS.recogniseDeadlineMs / 1000} s` : 'the page gave more text than a page can hold');
  if (ran.code !== 0) throw new Error(`the page could not be recognised (${ran.stderr.trim().split('\n').at(-1)?.slice(0, 120) ?? 'no reason given'})`);
  const words = wordsFrom(ran.stdout.toString('utf8'), 72 / picture.dpi);
  const letters = words.reduce((sum, word) => sum + word.text.length, 0);
  return { words, sure: letters === 0 ? 0 : words.reduce((sum, word) => sum + (word.sure ?? 0) * word.text.length, 0) / letters };
}

/** Rows are: level, page, block, paragraph, line, word, left, top, width, height, confidence, text; level 5 is a word. */
function wordsFrom(table: string, scale: number): Word[] {
  return table.split('\n').flatMap((row): Word[] => {
    const [level, , , , , , left, top, width, height, confidence, text = ''] = row.split('\t');
    const printed = text.replace(/[\u0000-\u001f]/g, '').trim();
    if (level !== '5' || printed === '' || Number(confidence) < 0 || isRule(printed)) return [];
    const [x, y] = [Number(left) * scale, Number(top) * scale];
    return [{ text: printed, box: [round(x), round(y), round(x + Number(width) * scale), round(y + Number(height) * scale)], sure: Math.round(Number(confidence)) / 100 }];
  });
}

/** Lines of a ruled table are taken for letters now and then. */
const isRule = (text: string): boolean => /^[|_\-—–=~.'`‘’"“”:;,\[\]]+$/.test(text) && !/^[-–—]$/.test(text);

const round = (points: number): number => Math.round(points * 100) / 100;
