import PDFDocument from 'pdfkit';
import type { Page } from '@/core/page/page';

/** Known to the library, missing from its types. */
type TextOptions = PDFKit.Mixins.TextOptions & { readonly horizontalScaling: number };

/** A page with its picture. */
export interface PicturedPage {
  readonly page: Page;
  /** PNG or JPEG. */
  readonly picture: Buffer;
}

/**
 * A PDF of pictures whose words can be searched and copied: every word stands in its place and width, and the picture lies over them.
 * Letters outside of Latin 1 cannot be written in the built-in face and are left out of the search.
 */
export function searchablePdf(title: string, pages: readonly PicturedPage[]): Promise<Buffer> {
  const pdf = new PDFDocument({ autoFirstPage: false, margin: 0, info: { Title: title } });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk)).on('end', () => resolve(Buffer.concat(chunks))).on('error', reject);
  });
  for (const { page, picture } of pages) {
    pdf.addPage({ size: [page.width, page.height], margin: 0 });
    pdf.font('Helvetica');
    for (const { text, box } of page.words) {
      const [x0, y0, x1, y1] = box;
      const printed = text.replace(/[^\x20-\x7e\xa0-\xff]/g, '');
      if (printed === '') continue;
      pdf.fontSize(Math.max(1, (y1 - y0) * 0.95));
      // Scaling each to its width makes a selection in a viewer fit what is seen.
      const scale = ((x1 - x0) / Math.max(0.1, pdf.widthOfString(printed))) * 100;
      pdf.text(printed, x0, y0, { lineBreak: false, horizontalScaling: scale } as TextOptions);
    }
    pdf.image(picture, 0, 0, { width: page.width, height: page.height });
  }
  pdf.end();
  return done;
}
