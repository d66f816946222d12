import { drawPdfPage } from '@/digitise/pdf';
import { drawTyped } from '@/digitise/draw-typed';
import { formatOf } from '@/digitise/format';
import { pictureOfFile } from '@/digitise/picture';
import { pagesOf } from '@/store/queries/documents';
import { Refusal, type Services } from './context';

/** Dots per inch of page pictures: sharp enough to enlarge a crop threefold. */
const PICTURE_DPI = 144;

/** Which picture of a page: as it was read (upright and cleaned), or as it came. */
export type Stage = 'read' | 'came';

const nameOf = (page: number, stage: Stage): string => (stage === 'read' ? `page-${page}-${PICTURE_DPI}` : `page-${page}-${PICTURE_DPI}-came`);

/** Pictures that reading has made anyway are those that people see, because words have their places on them. */
export async function keepPictures(services: Services, sha256: string, pictures: ReadonlyMap<number, Buffer>): Promise<void> {
  for (const [page, png] of pictures) await services.blobs.putDerived(sha256, nameOf(page, 'read'), png);
}

/** Pictures being drawn just now: a page and the crops from it ask for the same one at the same moment. */
const drawing = new Map<string, Promise<Buffer>>();

/** A picture of one page of the bytes with this hash, drawn once and kept. PNG, or SVG for pages that are typed. */
export async function pictureOf(services: Services, sha256: string, page: number, stage: Stage = 'read'): Promise<{ bytes: Buffer; mediaType: string }> {
  const name = nameOf(page, stage);
  const kept = await services.blobs.getDerived(sha256, name);
  if (kept) return typed(kept);
  const key = `${sha256}/${name}`;
  const underWay = drawing.get(key) ?? drawAndKeep(services, sha256, page, stage).finally(() => drawing.delete(key));
  drawing.set(key, underWay);
  return typed(await underWay);
}

const typed = (bytes: Buffer): { bytes: Buffer; mediaType: string } => ({ bytes, mediaType: bytes.subarray(0, 4).toString('latin1') === '<svg' ? 'image/svg+xml' : 'image/png' });

async function drawAndKeep(services: Services, sha256: string, number: number, stage: Stage): Promise<Buffer> {
  const drawn = await draw(services, sha256, number, stage);
  await services.blobs.putDerived(sha256, nameOf(number, stage), drawn);
  return drawn;
}

async function draw(services: Services, sha256: string, number: number, stage: Stage): Promise<Buffer> {
  const page = (await pagesOf(services.store.db, sha256)).find((candidate) => candidate.number === number);
  if (!page) throw new Refusal('not-found', `There is no page ${number}.`);
  if (page.origin === 'typed' || page.origin === 'data') return drawTyped(page);
  const bytes = await services.blobs.get(sha256);
  const format = formatOf(bytes);
  if (format === 'pdf') return drawPdfPage(bytes, number, PICTURE_DPI);
  if (format === 'picture') return pictureOfFile(bytes, number - 1, stage === 'read' ? 'grey' : 'as it is');
  throw new Refusal('not-found', `Page ${number} cannot be drawn.`);
}
