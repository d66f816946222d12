import { invoiceFrom } from '@/core/invoice/parse';
import { renditionOf } from '@/core/invoice/rendition';
import type { Page } from '@/core/page/page';
import { typeset } from './typeset';

/** Pages that show an e-invoice, term by term; null when the XML is none. */
export function dataPages(xml: Buffer, first: number): Page[] | null {
  const invoice = invoiceFrom(xml.toString('utf8'));
  return invoice ? typeset(renditionOf(invoice), { first, origin: 'data', why: `Data of the bill (${invoice.syntax}, EN 16931); nothing had to be recognised.` }) : null;
}
