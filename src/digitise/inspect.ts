import os from 'node:os';
import pLimit from 'p-limit';
import type { Page } from '@/core/page/page';
import { dataPages } from './data';
import { isMail, readMail } from './mail';
import { ALL_CLEAN, type CleanUp } from './picture';
import { LIMITS } from './limits';
import { attachedXml, countPdfPages, readPdfText, type PdfText } from './pdf';
import { readPicturePage, readPictures } from './picture-page';
import { pdfPagePictures, type PagePicture } from './pdf-pictures';
import { formatOf, nameOfFormat } from './format';
import { agreement } from './hidden-text';
import { typeset } from './typeset';

/** Why a file is not read. The sentence says what, why and what now. */
export interface FileProblem {
  readonly code: 'empty' | 'too-large' | 'unknown-format' | 'encrypted' | 'truncated' | 'damaged' | 'no-pages' | 'too-many-pages' | 'page-too-large' | 'no-text';
  readonly text: string;
}

/** The outcome of a first look at a file. Pages may be known even where there is a problem. */
export interface Inspection {
  readonly problem: FileProblem | null;
  readonly pageCount: number | null;
  readonly pages: readonly Page[];
  /** Pictures of pages that were read from one, cleaned and upright, as PNG; by page number. */
  readonly pictures: ReadonlyMap<number, Buffer>;
}

const KEPT = 'The original is kept.';
const megabytes = (bytes: number): string => (bytes / 1_000_000).toFixed(1);

const refuse = (code: FileProblem['code'], text: string, pageCount: number | null = null): Inspection => ({ problem: { code, text: `${text} ${KEPT}` }, pageCount, pages: [], pictures: new Map() });

/** Look at a file from outside: what is it, and what stands on its pages? Never throws for what is in the file. */
export async function inspectFile(bytes: Buffer, steps: CleanUp = ALL_CLEAN): Promise<Inspection> {
  if (bytes.length === 0) return refuse('empty', 'The file is empty. Ask the sender for it again.');
  if (bytes.length > LIMITS.fileBytes) return refuse('too-large', `The file has ${megabytes(bytes.length)} MB; up to ${megabytes(LIMITS.fileBytes)} MB are read. Ask for a smaller one.`);
  switch (formatOf(bytes)) {
    case 'pdf':
      return inspectPdf(bytes, steps);
    case 'picture':
      return inspectPictures(bytes, steps);
    case 'xml':
      return wholeOf(dataPages(bytes, 1) ?? typeset(bytes.toString('utf8')));
    case 'text':
      return isMail(bytes) ? wholeOf(await readMail(bytes)) : inspectText(bytes);
    case null:
      return refuse('unknown-format', `This is ${nameOfFormat(bytes)}, which cannot be read. PDF, PNG, JPEG, TIFF, mails, e-invoices and plain text are. Ask for one of these.`);
  }
}

function wholeOf(pages: readonly Page[]): Inspection {
  if (pages.every((page) => page.words.length === 0)) return refuse('no-text', 'There is no text in it. Ask the sender for it again.', pages.length);
  return { problem: null, pageCount: pages.length, pages, pictures: new Map() };
}

function inspectText(bytes: Buffer): Inspection {
  if (bytes.length > LIMITS.typedBytes) return refuse('too-large', `The text has ${megabytes(bytes.length)} MB; up to ${megabytes(LIMITS.typedBytes)} MB of plain text are read. Ask for the part that matters.`);
  return wholeOf(typeset(bytes.toString('utf8')));
}

async function inspectPictures(bytes: Buffer, steps: CleanUp): Promise<Inspection> {
  const read = await readPictures(bytes, steps);
  if (!read.ok) return refuse(read.trouble === 'too many' ? 'too-many-pages' : read.trouble === 'too large' ? 'page-too-large' : 'damaged', read.text);
  return finish(read.pages.map(({ page, picture }) => ({ page, png: picture })));
}

async function inspectPdf(bytes: Buffer, steps: CleanUp): Promise<Inspection> {
  const text = await readPdfText(bytes, LIMITS.pages + 1);
  if (!text.ok) return text.trouble === 'no pages' ? refuse(...noPages) : refuse(...troubleText(bytes, text));
  const { pages } = text;
  if (isCut(bytes) && text.warnings !== '') return refuse(...cutText);
  if (pages.length === 0) return refuse(...noPages);
  if (pages.length > LIMITS.pages) {
    const count = (await countPdfPages(bytes)) ?? pages.length;
    return refuse('too-many-pages', `The file has ${count.toLocaleString('en')} pages; up to ${LIMITS.pages} are read. Split it and send the parts.`, count);
  }
  const huge = pages.find((page) => Math.max(page.width, page.height) > LIMITS.pageSide);
  if (huge) return refuse('page-too-large', `Page ${huge.number} is ${Math.round(Math.max(huge.width, huge.height) / 72)} inches long; up to ${Math.round(LIMITS.pageSide / 72)} are read.`, pages.length);
  const scans = await pdfPagePictures(bytes, pages);
  const decided = await Promise.all(pages.map((page) => decidePage(bytes, page, scans.get(page.number), steps)));
  const data = await attachedData(bytes, pages.length);
  return finish([...decided, ...data.map((page) => ({ page, png: null }))]);
}

/** The data of a hybrid bill as pages behind the printed ones. */
async function attachedData(bytes: Buffer, after: number): Promise<readonly Page[]> {
  const xml = await attachedXml(bytes);
  return xml ? (dataPages(xml, after + 1) ?? []) : [];
}

interface Decided {
  readonly page: Page;
  readonly png: Buffer | null;
}

/** Pages looked at at once; recognition has its own limit. */
const looking = pLimit(Math.max(1, os.availableParallelism()));
/** Fewer words than this in a text layer are a stamp or a page number beside a picture. */
const FEW_WORDS = 8;
/** A hidden text layer of which less than this share stands in the picture too is not trusted. */
const TRUSTED = 0.97;

/** Text layer or picture? A page that is one big picture is read as such, unless its hidden text says the same. */
async function decidePage(bytes: Buffer, page: Page, scan: PagePicture | undefined, steps: CleanUp): Promise<Decided> {
  if (!scan || (scan.share < 0.5 && page.words.length >= FEW_WORDS)) return { page: { ...page, origin: 'text layer' }, png: null };
  return looking(async () => {
    const read = await readPicturePage({ pdf: bytes, page: page.number, dpi: scan.dpi }, steps);
    if (page.words.length < FEW_WORDS) return { page: { ...read.page, why: 'The page holds no text of its own, so it was read from its picture.' }, png: read.picture };
    const agreed = agreement(page.words, read.page.words);
    if (agreed >= TRUSTED) return { page: { ...page, origin: 'text layer', why: `The page is a picture with hidden text; ${Math.round(agreed * 100)} % of the hidden words were also recognised in the picture, so the hidden text was taken.` }, png: null };
    return { page: { ...read.page, why: `The page is a picture with hidden text, but only ${Math.round(agreed * 100)} % of the hidden words were recognised in the picture, so the picture was read.` }, png: read.picture };
  });
}

function finish(decided: readonly Decided[]): Inspection {
  const pages = decided.map(({ page }) => page);
  const pictures = new Map(decided.flatMap(({ page, png }): [number, Buffer][] => (png ? [[page.number, png]] : [])));
  if (pages.every((page) => page.words.length === 0)) return { ...refuse('no-text', `${pages.length === 1 ? 'The page holds' : `All ${pages.length} pages hold`} no text, and none was recognised in a picture. Ask the sender for a better one.`, pages.length), pictures };
  return { problem: null, pageCount: pages.length, pages, pictures };
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
