import { mkdir, readFile, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import type { Page, Word } from '@/core/page/page';
import { newId } from '@/settings/identifier';
import { forRecognition, openPicture } from './picture';
import { recognise } from './recognise';

/** From the project's root, where every entry of the program runs. */
const PACKED = path.resolve('node_modules/@tesseract.js-data/eng/4.0.0/eng.traineddata.gz');
const FOLDER = path.resolve('node_modules/.cache/leadline');
/** Page segmentation 6: one block. The older engine passes over single figures in sparse segmentation. */
const SEGMENTATION = '6';

/**
 * The words of a page as an independent recogniser reads them: Tesseract's older engine, which compares shapes of letters and shares
 * neither method nor training with the neural one. `picture` is the cleaned page that was kept, as PNG.
 */
export async function recogniseAgain(picture: Buffer, page: Page): Promise<readonly Word[]> {
  const { width } = await openPicture(picture);
  const opened = await openPicture(picture, 0, (width / page.width) * 72);
  const { words } = await recognise(await forRecognition(opened), { segmentation: SEGMENTATION, args: ['-l', 'eng', '--oem', '0', '--tessdata-dir', await dataFolder()] });
  return words;
}

let unpacking: Promise<string> | null = null;

const dataFolder = (): Promise<string> => (unpacking ??= unpack().catch((error: unknown) => {
  unpacking = null;
  throw error;
}));

/** Unpacked once and kept; written under another name first, so that two processes cannot see half a file. */
async function unpack(): Promise<string> {
  const file = path.join(FOLDER, 'eng.traineddata');
  if (await stat(file).then((found) => found.size > 0, () => false)) return FOLDER;
  await mkdir(FOLDER, { recursive: true });
  const part = `${file}.${newId()}`;
  await writeFile(part, await promisify(gunzip)(await readFile(PACKED)));
  await rename(part, file);
  return FOLDER;
}
