import os from 'node:os';
import pLimit from 'p-limit';
import sharp from 'sharp';
import type { Page } from '@/core/page/page';
import { LIMITS } from './limits';
import { drawPdfPage } from './pdf';
import { asPng, cleanUp, forRecognition, openPicture, quarterTurned, type Cleaned, type CleanUp, type Picture } from './picture';
import { recogniseTwice, type Recognised } from './recognise';

/** One page read from its picture, with the picture as it was cleaned. */
export interface PicturePage {
  readonly page: Page;
  readonly picture: Buffer;
}

export type PicturesRead = { readonly ok: true; readonly pages: readonly PicturePage[] } | { readonly ok: false; readonly trouble: 'damaged' | 'too many' | 'too large'; readonly text: string };

/** A page drawn from a PDF at least so finely: small print on a picture of 100 dpi is lost otherwise. */
const LEAST_DPI = 150;
const MOST_DPI = 300;
/** Less sure than this on average, and the page may lie on its side or stand on its head. */
const UNSURE = 0.65;
const working = pLimit(Math.max(1, os.availableParallelism()));

/** A page of a PDF that is a picture. */
export async function readPicturePage(where: { readonly pdf: Buffer; readonly page: number; readonly dpi: number }, steps: CleanUp): Promise<PicturePage> {
  const dpi = Math.min(MOST_DPI, Math.max(LEAST_DPI, where.dpi));
  return readPicture(await openPicture(await drawPdfPage(where.pdf, where.page, dpi), 0, dpi), where.page, steps);
}

/** All pages of a picture file (TIFF has several). */
export async function readPictures(bytes: Buffer, steps: CleanUp): Promise<PicturesRead> {
  try {
    const { pages = 1, width, height } = await sharp(bytes, { limitInputPixels: LIMITS.picturePixels }).metadata();
    if (pages > LIMITS.pages) return { ok: false, trouble: 'too many', text: `The file has ${pages} pages; up to ${LIMITS.pages} are read. Split it and send the parts.` };
    if (width * height > LIMITS.picturePixels) return { ok: false, trouble: 'too large', text: `The picture has ${Math.round((width * height) / 1e6)} million dots; up to ${LIMITS.picturePixels / 1e6} million are read. Scan it with 300 dpi.` };
    return { ok: true, pages: await Promise.all(Array.from({ length: pages }, (_, index) => working(async () => readPicture(await openPicture(bytes, index), index + 1, steps)))) };
  } catch (error) {
    return { ok: false, trouble: 'damaged', text: `The picture is damaged and cannot be opened (${(error as Error).message.slice(0, 120)}). Ask the sender for it again.` };
  }
}

async function readPicture(picture: Picture, number: number, steps: CleanUp): Promise<PicturePage> {
  const { cleaned, read } = await upright(picture, steps);
  const scale = 72 / cleaned.dpi;
  const page: Page = { number, width: cleaned.width * scale, height: cleaned.height * scale, words: read.words, origin: 'picture', why: 'Read from its picture.' };
  return { page, picture: await asPng(cleaned) };
}

/** Recognise as it lies; where that gives nothing sure, try the other ways up and keep the surest. */
async function upright(picture: Picture, steps: CleanUp): Promise<{ cleaned: Cleaned; read: Recognised }> {
  const tryWay = async (quarters: 0 | 1 | 2 | 3) => {
    const cleaned = await cleanUp(await quarterTurned(picture, quarters), steps);
    return { cleaned, read: await recogniseTwice(await forRecognition(cleaned)) };
  };
  const asIs = await tryWay(0);
  if (!steps.orientation || asIs.read.sure >= UNSURE) return asIs;
  const ways = [asIs, ...(await Promise.all(([1, 2, 3] as const).map(tryWay)))];
  return ways.sort((a, b) => b.read.sure * Math.sqrt(b.read.words.length) - a.read.sure * Math.sqrt(a.read.words.length))[0] ?? asIs;
}
