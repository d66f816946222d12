import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import { formatOf } from './format';
import { LIMITS } from './limits';
import { run } from './run';

const DEADLINE_MS = 60_000;
/** What the program may say, bytes; it says nothing when all is well. */
const MOST_SAID = 10_000;
/** Dots per inch of a picture that does not say. */
const USUAL_DPI = 200;

/** Whether a file has pages that can stand with others in one document: a PDF or a picture. */
export const isUnitable = (bytes: Buffer): boolean => ['pdf', 'picture'].includes(formatOf(bytes) ?? '');

/**
 * PDFs and pictures as one PDF, in their order; what stands in them stays as it is. Null where they cannot be put together: one of them is
 * locked or damaged, or something else.
 */
export async function unite(files: readonly Buffer[]): Promise<Buffer | null> {
  if (!files.every(isUnitable)) return null;
  const folder = await mkdtemp(path.join(os.tmpdir(), 'leadline-unite-'));
  try {
    const names: string[] = [];
    for (const [index, bytes] of files.entries()) {
      const name = path.join(folder, `${index}.pdf`);
      await writeFile(name, formatOf(bytes) === 'pdf' ? bytes : await pdfOfPicture(bytes));
      names.push(name);
    }
    const target = path.join(folder, 'one.pdf');
    const made = await run('pdfunite', [...names, target], null, { deadlineMs: DEADLINE_MS, outputBytes: MOST_SAID });
    if (made.code !== 0 || made.ended !== null || (await stat(target)).size > LIMITS.fileBytes) return null;
    return await readFile(target);
  } catch {
    // A damaged picture cannot be opened; each file then stands for itself, and says what is wrong with it.
    return null;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Every page of a picture file on a page of its own size. */
async function pdfOfPicture(bytes: Buffer): Promise<Buffer> {
  const { pages = 1 } = await sharp(bytes, { limitInputPixels: LIMITS.picturePixels }).metadata();
  const pdf = new PDFDocument({ autoFirstPage: false, margin: 0 });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk)).on('end', () => resolve(Buffer.concat(chunks))).on('error', reject);
  });
  for (let page = 0; page < Math.min(pages, LIMITS.pages); page += 1) {
    const image = sharp(bytes, { page, limitInputPixels: LIMITS.picturePixels }).autoOrient();
    const { density } = await image.metadata();
    const { data, info } = await image.png().toBuffer({ resolveWithObject: true });
    const points = 72 / (density !== undefined && density >= 100 ? density : USUAL_DPI);
    pdf.addPage({ size: [info.width * points, info.height * points], margin: 0 });
    pdf.image(data, 0, 0, { width: info.width * points, height: info.height * points });
  }
  pdf.end();
  return done;
}
