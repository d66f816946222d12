import type { Page } from '@/core/page/page';
import { LIMITS } from './limits';
import { countPdfPages, readPdfText, type PdfText } from './pdf';

/** Why a file is not read. The sentence says what, why and what now. */
export interface FileProblem {
  readonly code: 'empty' | 'too-large' | 'not-a-pdf' | 'encrypted' | 'truncated' | 'damaged' | 'no-pages' | 'too-many-pages' | 'page-too-large' | 'no-text';
  readonly text: string;
}

/** The outcome of a first look at a file. Pages may be known even where there is a problem. */
export interface Inspection {
  readonly problem: FileProblem | null;
  readonly pageCount: number | null;
  readonly pages: readonly Page[];
}

const KEPT = 'The original is kept.';
const megabytes = (bytes: number): string => (bytes / 1_000_000).toFixed(1);

const refuse = (code: FileProblem['code'], text: string, pageCount: number | null = null): Inspection => ({ problem: { code, text: `${text} ${KEPT}` }, pageCount, pages: [] });

/** Look at a file from outside: is it a PDF that can be read, and what stands on its pages? Never throws for what is in the file. */
export async function inspectFile(bytes: Buffer): Promise<Inspection> {
  if (bytes.length === 0) return refuse('empty', 'The file is empty. Ask the sender for it again.');
  if (bytes.length > LIMITS.fileBytes) return refuse('too-large', `The file has ${megabytes(bytes.length)} MB; up to ${megabytes(LIMITS.fileBytes)} MB are read. Ask for a smaller one.`);
  // Readers accept the mark anywhere in the first 1,024 bytes (ISO 32000-1, annex H, note 13).
  if (!bytes.subarray(0, 1024).includes('%PDF-')) return refuse('not-a-pdf', `This is ${whatItLooksLike(bytes)}, not a PDF. Only PDF files with text are read so far.`);
  const text = await readPdfText(bytes, LIMITS.pages + 1);
  if (text.ok) return judge(bytes, text);
  return text.trouble === 'no pages' ? refuse(...noPages) : refuse(...troubleText(bytes, text));
}

async function judge(bytes: Buffer, text: Extract<PdfText, { ok: true }>): Promise<Inspection> {
  const { pages } = text;
  if (isCut(bytes) && text.warnings !== '') return refuse(...cutText);
  if (pages.length === 0) return refuse(...noPages);
  if (pages.length > LIMITS.pages) {
    const count = (await countPdfPages(bytes)) ?? pages.length;
    return refuse('too-many-pages', `The file has ${count.toLocaleString('en')} pages; up to ${LIMITS.pages} are read. Split it and send the parts.`, count);
  }
  const huge = pages.find((page) => Math.max(page.width, page.height) > LIMITS.pageSide);
  if (huge) return refuse('page-too-large', `Page ${huge.number} is ${Math.round(Math.max(huge.width, huge.height) / 72)} inches long; up to ${Math.round(LIMITS.pageSide / 72)} are read.`, pages.length);
  if (pages.every((page) => page.words.length === 0)) return refuse('no-text', `${pages.length === 1 ? 'The page holds' : `All ${pages.length} pages hold`} no text, perhaps only a picture. Only pages with text are read so far.`, pages.length);
  return { problem: null, pageCount: pages.length, pages };
}

const noPages = ['no-pages', 'The file has no pages. Ask the sender for it again.', 0] as const;
const cutText = ['truncated', 'The file breaks off before its end; it was probably cut on the way. Ask the sender for it again.'] as const;

function troubleText(bytes: Buffer, text: Extract<PdfText, { ok: false }>): readonly [FileProblem['code'], string] {
  switch (text.trouble) {
    case 'encrypted':
      return ['encrypted', 'The file is locked with a password. Ask the sender for one without.'];
    case 'damaged':
      return isCut(bytes) ? cutText : ['damaged', `The file is damaged and cannot be opened${text.detail === '' ? '' : ` (${text.detail.slice(0, 120)})`}. Ask the sender for it again.`];
    case 'no pages':
    case 'too slow':
    case 'too much text':
      return ['damaged', `The file could not be read: ${text.detail}. Ask the sender how it was made.`];
  }
}

/** A whole PDF closes with an end mark (ISO 32000-1, 7.5.5). */
const isCut = (bytes: Buffer): boolean => !bytes.subarray(-2048).includes('%%EOF');

const SIGNATURES: readonly (readonly [string, string])[] = [
  ['\x89PNG', 'a PNG picture'],
  ['\xff\xd8\xff', 'a JPEG picture'],
  ['PK\x03\x04', 'a packed or office file'],
  ['<?xml', 'an XML file'],
  ['<!DOCTYPE html', 'a web page'],
  ['{\\rtf', 'a formatted text'],
];

function whatItLooksLike(bytes: Buffer): string {
  const head = bytes.subarray(0, 16).toString('latin1');
  return SIGNATURES.find(([mark]) => head.startsWith(mark))?.[1] ?? 'another kind of file';
}
