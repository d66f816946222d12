import type { Page } from '@/core/page/page';
import { LIMITS } from './limits';
import { run } from './run';

/** The largest picture on a page of a PDF. */
export interface PagePicture {
  /** Share of the page that it covers, 0..1. */
  readonly share: number;
  readonly dpi: number;
}

/** Pages that show pictures, by page number. `pdfimages -list` tells size in dots and resolution of each. */
export async function pdfPagePictures(bytes: Buffer, pages: readonly Page[]): Promise<Map<number, PagePicture>> {
  const ran = await run('pdfimages', ['-list', '-'], bytes, { deadlineMs: LIMITS.textDeadlineMs, outputBytes: 4_000_000 });
  const found = new Map<number, PagePicture>();
  if (ran.code !== 0) return found;
  for (const row of ran.stdout.toString('latin1').split('\n').slice(2)) {
    const [number, , type, width, height, , , , , , , , xDpi, yDpi] = row.trim().split(/\s+/);
    const page = pages.find((candidate) => candidate.number === Number(number));
    if (!page || type !== 'image') continue;
    const [x, y] = [Number(xDpi), Number(yDpi)];
    const share = x > 0 && y > 0 ? Math.min(1, ((Number(width) / x) * 72 * (Number(height) / y) * 72) / (page.width * page.height)) : 0;
    if (share > (found.get(page.number)?.share ?? 0)) found.set(page.number, { share, dpi: Math.round(x) });
  }
  return found;
}
