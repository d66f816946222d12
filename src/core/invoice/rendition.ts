import { LINE_TERMS, TERMS, type Invoice, type LineTerm, type Term } from './terms';

/** Columns of the typed page on which an e-invoice is shown: term, name, value. */
const NAME_AT = 9;
const VALUE_AT = 48;
/** Characters of the longest value that a column of the lines shows before it becomes wider than a page. */
const WIDEST = 80;
export const LINES_HEAD = 'Lines';

/**
 * An e-invoice as a typed text: a line per term, then a table of its lines headed by their terms. It shows all that is read of the
 * bill, and places every value on a page, so that it can be pointed at like a printed one.
 */
export function renditionOf(invoice: Invoice): string {
  const terms = (Object.keys(TERMS) as Term[]).flatMap((term) => (invoice.terms[term] === undefined ? [] : [`${term.padEnd(NAME_AT)}${TERMS[term].padEnd(VALUE_AT - NAME_AT)}${invoice.terms[term]}`]));
  const columns = (Object.keys(LINE_TERMS) as LineTerm[]).filter((term) => invoice.lines.some((line) => line[term] !== undefined));
  const widths = columns.map((term) => Math.min(WIDEST, Math.max(term.length, LINE_TERMS[term].length, ...invoice.lines.map((line) => (line[term] ?? '').length))) + 3);
  const row = (cell: (term: LineTerm) => string): string => columns.map((term, index) => cell(term).slice(0, WIDEST).padEnd(widths[index] ?? 0)).join('').trimEnd();
  return [...terms, '', LINES_HEAD, row((term) => term), row((term) => LINE_TERMS[term]), ...invoice.lines.map((line) => row((term) => line[term] ?? ''))].join('\n');
}
