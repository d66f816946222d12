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
const DOUBTFUL = 0.6;
/** Page segmentation 6: one block. It sees single figures in columns that sparse segmentation passes over, and the other way round. */
const SECOND_SEGMENTATION = '6';

/**
 * Recognise a page; the lines on which words are doubtful once more, in another segmentation. The surer word of two at the same place is kept,
 * words that only one pass saw are added.
 */
export async function recogniseTwice(picture: Picture): Promise<Recognised> {
  const first = await recognise(picture);
  if (first.words.length === 0) return first;
  const part = onlyAround(picture, first.words);
  if (part.picture.height === 0) return first;
  const second = await recognise(part.picture, { segmentation: SECOND_SEGMENTATION });
  return { words: merged(first.words, second.words.map(part.back)), sure: Math.max(first.sure, second.sure) };
}

/** Room above and below a doubtful word, as a share of its height, so that its whole line is seen. */
const AROUND = 0.8;

/** Darker than this is ink. */
const INK = 110;
/** A figure that was passed over leaves so many dark dots on each of its rows, and is so many rows high (points). */
const [DOTS_OF_A_FIGURE, ROWS_OF_A_FIGURE] = [3, 4.5];

/** The rows of a picture on which ink stands that is in no word: single figures in columns are passed over most. */
function rowsWithoutWords({ dots, width, height }: Picture, words: readonly Word[], scale: number): Uint8Array {
  const covered = new Uint8Array(width * height);
  for (const { box } of words) {
    const [x0, x1] = [Math.max(0, Math.floor((box[0] - 1) * scale)), Math.min(width, Math.ceil((box[2] + 1) * scale))];
    for (let y = Math.max(0, Math.floor((box[1] - 1) * scale)); y < Math.min(height, Math.ceil((box[3] + 1) * scale)); y += 1) covered.fill(1, y * width + x0, y * width + x1);
  }
  const inked = new Uint8Array(height);
  for (let y = 0; y < height; y += 1) {
    let count = 0;
    for (let at = y * width; at < (y + 1) * width; at += 1) if ((dots[at] ?? 255) < INK && !covered[at]) count += 1;
    inked[y] = count >= DOTS_OF_A_FIGURE ? 1 : 0;
  }
  const shown = new Uint8Array(height);
  const least = Math.round(ROWS_OF_A_FIGURE * scale);
  for (let y = 0; y < height; y += 1) {
    if (!inked[y]) continue;
    let end = y;
    while (end < height && inked[end]) end += 1;
    if (end - y >= least) shown.fill(1, Math.max(0, y - least), Math.min(height, end + least));
    y = end;
  }
  return shown;
}

/** A horizontal strip of a picture: its first row there, its first row in the smaller picture, and how many rows it has. */
interface StripOfPicture {
  readonly from: number;
  readonly at: number;
  readonly rows: number;
}

/** The lines that are worth another look, cut out and put below one another: recognition takes as long as there is paper. */
function onlyAround(picture: Picture, words: readonly Word[]): { readonly picture: Picture; readonly back: (word: Word) => Word } {
  const scale = picture.dpi / 72;
  const shown = rowsWithoutWords(picture, words, scale);
  for (const { box, sure } of words) {
    if ((sure ?? 1) >= DOUBTFUL) continue;
    const room = AROUND * (box[3] - box[1]);
    shown.fill(1, Math.max(0, Math.floor((box[1] - room) * scale)), Math.min(picture.height, Math.ceil((box[3] + room) * scale)));
  }
  const strips: StripOfPicture[] = [];
  for (let row = 0, at = 0; row < picture.height; row += 1) {
    if (!shown[row]) continue;
    let end = row;
    while (end < picture.height && shown[end]) end += 1;
    strips.push({ from: row, at, rows: end - row });
    at += end - row;
    row = end;
  }
  const dots = Buffer.concat(strips.map(({ from, rows }) => picture.dots.subarray(from * picture.width, (from + rows) * picture.width)));
  const back = (word: Word): Word => {
    const middle = ((word.box[1] + word.box[3]) / 2) * scale;
    const strip = strips.findLast((candidate) => candidate.at <= middle);
    const down = strip ? (strip.from - strip.at) / scale : 0;
    return { ...word, box: [word.box[0], round(word.box[1] + down), word.box[2], round(word.box[3] + down)] };
  };
  return { picture: { ...picture, dots, height: dots.length / picture.width }, back };
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
