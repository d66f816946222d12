import { boxHeight, type Page } from '@/core/page/page';
import type { Line, Phrase } from '@/core/page/lines';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

/** What a paper calls itself; no company has such a name. Trade terms, common practice. */
const TITLES = /^(?:tax |sales |pro[- ]?forma |purchase |monthly |delivery |despatch |dispatch |packing |credit |debit |account |customer )*(?:invoice|bill|order|note|docket|slip|list|statement|receipt|certificate|report|ticket|quotation|reminder|rechnung|lieferschein|facture|factura|fattura|factuur|bestellung|copy|original|duplicate)s?(?: of (?:account|analysis))?(?:\s*(?:no|nr|#)?\.?\s*\S*\d\S*)?$/i;
const COMPANY = /\b(?:ltd|limited|gmbh|ag|kg|bv|b\.v\.|nv|sa|s\.a\.|sarl|srl|s\.r\.l\.|inc|llc|plc|co|company|bros|sons|daughters|corp|group|co-operative|cooperative|laborator(?:y|ies)|services|supplies|trading|works)\b\.?/i;
/** The head of a page: what stands above this share of it. */
const HEAD = 0.3;

/** Names that may be the sender's: what stands largest and highest on the first page, and again in its foot. Best first. */
export function readLetterhead(lines: readonly Line[], pages: readonly Page[]): Reading[] {
  const page = pages[0];
  if (!page) return [];
  const first = lines.filter((line) => line.page === page.number);
  const usual = median(first.flatMap((line) => line.words.map((word) => boxHeight(word.box))));
  const elsewhere = lines.filter((line) => line.page !== page.number || line.box[1] > page.height * 0.8).map((line) => line.text.toLowerCase());
  return first
    .filter((line) => line.box[1] < page.height * HEAD)
    .flatMap((line) => line.phrases)
    .filter((phrase) => isName(phrase.text))
    .map((phrase) => ({ phrase, weight: weightOf(phrase, { page, usual, elsewhere }) }))
    .sort((a, b) => b.weight - a.weight)
    .slice(0, 4)
    .map(({ phrase, weight }, index, all) => readingFrom(phrase, page.number, { weight, lead: weight - (all[index === 0 ? 1 : 0]?.weight ?? 0) }));
}

const isName = (text: string): boolean => /\p{L}{2,}/u.test(text) && !TITLES.test(text.trim()) && !/:$/.test(text) && (text.match(/\d/g)?.length ?? 0) <= 2 && text.length <= 80 && !/@|www\.|^page\b/i.test(text);

interface Surroundings {
  readonly page: Page;
  readonly usual: number;
  readonly elsewhere: readonly string[];
}

function weightOf(phrase: Phrase, { page, usual, elsewhere }: Surroundings): number {
  const large = Math.min(2.2, boxHeight(phrase.box) / Math.max(1, usual));
  const high = 1 - phrase.box[1] / (page.height * HEAD);
  const again = elsewhere.some((text) => text.includes(phrase.text.toLowerCase()));
  // An address has a house number, a name hardly ever begins with one.
  const address = /^\d|\d{4,}|^(?:tel|fax|phone|vat)\b/i.test(phrase.text) ? 0.9 : 0;
  return large * 1.2 + high * 0.6 + (again ? 0.8 : 0) + (COMPANY.test(phrase.text) ? 0.5 : 0) - address;
}

function readingFrom(phrase: Phrase, page: number, { weight, lead }: { weight: number; lead: number }): Reading {
  const evidence: Evidence[] = [
    { what: 'stands large in the head of the first page', factor: Math.min(0.96, 0.55 + weight / 9) },
    { what: lead > 0.4 ? 'nothing else there is like a name' : 'other words there could be the name too', factor: lead > 0.4 ? 0.99 : 0.8 },
    ...surenessOf(phrase.words),
  ];
  return { text: phrase.text, value: phrase.text, place: { page, box: phrase.box }, anchor: null, reader: 'described', confidence: confidenceOf(evidence), evidence };
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 10;
