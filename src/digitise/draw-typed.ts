import type { Page } from '@/core/page/page';

const escaped = (text: string): string => text.replace(/[<>&"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** A typed page as a drawing: each word where it stands. */
export function drawTyped(page: Page): Buffer {
  const words = page.words.map(({ text, box: [x0, y0, x1, y1] }) => `<text x="${x0}" y="${y1 - 1.5}" textLength="${Math.max(1, x1 - x0)}" lengthAdjust="spacingAndGlyphs" font-size="${(y1 - y0) * 1.05}">${escaped(text)}</text>`);
  return Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="${page.width * 2}" height="${page.height * 2}" viewBox="0 0 ${page.width} ${page.height}" font-family="monospace" fill="#1d1d1f"><rect width="100%" height="100%" fill="#fff"/>${words.join('')}</svg>`);
}
