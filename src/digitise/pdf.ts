import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { TextDecoder } from 'node:util';
import type { Page, Word } from '@/core/page/page';
import { LIMITS } from './limits';
import { run } from './run';

/** Why the words of a PDF could not be had. */
export type PdfTrouble = 'encrypted' | 'no pages' | 'damaged' | 'too slow' | 'too much text';

export type PdfText = { readonly ok: true; readonly pages: readonly Page[]; readonly warnings: string } | { readonly ok: false; readonly trouble: PdfTrouble; readonly detail: string };

/**
 * Words with boxes of the first `mostPages` pages from the text layer.
 *
 * A child process (pdftotext of poppler) does it rather than a library in this process: a damaged or hostile file can then
 * neither stop the worker nor take its memory, and glyph widths are exact where a library gives runs of text only.
 * Its table output is taken because it holds the same boxes as the XML output in half the bytes and needs no parser.
 */
export async function readPdfText(bytes: Buffer, mostPages: number): Promise<PdfText> {
  const ran = await run('pdftotext', ['-tsv', '-l', String(mostPages), '-', '-'], bytes, { deadlineMs: LIMITS.textDeadlineMs, outputBytes: LIMITS.textBytes });
  if (ran.ended === 'too long') return { ok: false, trouble: 'too slow', detail: `not done after ${LIMITS.textDeadlineMs / 1000} s` };
  if (ran.ended === 'too much') return { ok: false, trouble: 'too much text', detail: `more than ${LIMITS.textBytes} bytes of text` };
  if (ran.code !== 0) return { ok: false, trouble: troubleFrom(ran.stderr), detail: ran.stderr.split('\n')[0] ?? '' };
  return { ok: true, pages: pagesFrom(new TextDecoder('utf-8').decode(ran.stdout)), warnings: ran.stderr };
}

/** The program's exit code is the same for all of these; its words differ. */
function troubleFrom(stderr: string): PdfTrouble {
  if (/password/i.test(stderr)) return 'encrypted';
  return /after the last page \(0\)/.test(stderr) ? 'no pages' : 'damaged';
}

/** The number of pages, or null when the file cannot be opened. */
export async function countPdfPages(bytes: Buffer): Promise<number | null> {
  const ran = await run('pdfinfo', ['-'], bytes, { deadlineMs: LIMITS.textDeadlineMs, outputBytes: 100_000 });
  const count = /^Pages:\s+(\d+)/m.exec(ran.stdout.toString('latin1'))?.[1];
  return ran.code === 0 && count !== undefined ? Number(count) : null;
}

type DraftPage = Omit<Page, 'words'> & { words: Word[] };

/** Rows are: level, page, paragraph, block, line, word, left, top, width, height, confidence, text. Level 1 is a page, 5 a word. */
function pagesFrom(table: string): Page[] {
  const pages: DraftPage[] = [];
  for (const row of table.split('\n')) {
    const [level, number, , , , , left, top, width, height, , text = ''] = row.split('\t');
    if (level === '1') pages.push({ number: Number(number), width: Number(width), height: Number(height), words: [] });
    const page = pages.at(-1);
    if (level !== '5' || !page || page.words.length >= LIMITS.wordsPerPage) continue;
    const [x, y] = [Number(left), Number(top)];
    const printed = text.replace(/[\u0000-\u001f]/g, '').trim();
    if (printed !== '') page.words.push({ text: printed, box: [x, y, round(x + Number(width)), round(y + Number(height))] });
  }
  return pages;
}

const round = (points: number): number => Math.round(points * 100) / 100;

/** One page as a PNG picture at `dpi`, upright as people see it. Throws when it cannot be drawn. */
export async function drawPdfPage(bytes: Buffer, page: number, dpi: number): Promise<Buffer> {
  const args = ['-png', '-r', String(dpi), '-f', String(page), '-l', String(page), '-singlefile', '-'];
  const ran = await run('pdftoppm', args, bytes, { deadlineMs: LIMITS.imageDeadlineMs, outputBytes: LIMITS.imageBytes });
  if (ran.code !== 0 || ran.stdout.length === 0) throw new Error(`Page ${page} could not be drawn: ${ran.ended ?? ran.stderr.split('\n')[0] ?? 'no picture'}`);
  return ran.stdout;
}

/** Names under which hybrid bills carry their data (EN 16931 syntax binding CII; common practice of the hybrid formats). */
const DATA_NAME = /(?:invoice|factur|zugferd|rechnung|order)[\w.-]*\.xml$/i;
const NAMED_DATA = /\/EmbeddedFiles?\b/;

/** The XML attached to a hybrid bill, or null. */
export async function attachedXml(bytes: Buffer): Promise<Buffer | null> {
  // A PDF without attachments is not opened a second time; names of objects may be packed, then the program looks.
  if (!NAMED_DATA.test(bytes.toString('latin1')) && !bytes.includes('/ObjStm')) return null;
  const folder = await mkdtemp(path.join(os.tmpdir(), 'leadline-'));
  try {
    const file = path.join(folder, 'in.pdf');
    await writeFile(file, bytes);
    const limits = { deadlineMs: LIMITS.textDeadlineMs, outputBytes: 1_000_000 };
    const list = await run('pdfdetach', ['-list', file], null, limits);
    const found = [...list.stdout.toString('utf8').matchAll(/^(\d+): (.+)$/gm)].find((match) => DATA_NAME.test(match[2] ?? ''));
    if (!found) return null;
    const out = path.join(folder, 'out.xml');
    await run('pdfdetach', ['-save', found[1] ?? '1', '-o', out, file], null, limits);
    const xml = await readFile(out);
    return xml.length <= LIMITS.typedBytes ? xml : null;
  } catch {
    // What cannot be taken out is not there: the printed pages are read instead.
    return null;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
