import { LINES_HEAD } from '@/core/invoice/rendition';
import { LINE_TERMS, TERMS, type LineTerm, type Term } from '@/core/invoice/terms';
import { textOf, type Line } from '@/core/page/lines';
import { unionOf, type Page, type Word } from '@/core/page/page';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { normaliseFor, type FieldDefinition, type TableDefinition } from './kind';
import { NOTHING_READ, type Reading, type Row } from './reading';
import { wordingsOf, type Concept } from './wordings';

/** What the terms of an e-invoice mean to kinds. */
const BY_CONCEPT: Partial<Record<Concept, readonly Term[]>> = {
  'document number': ['BT-1'], 'document date': ['BT-2'], 'due date': ['BT-9'], 'delivery date': ['BT-72'], 'order number': ['BT-13', 'BT-10'], 'customer number': ['BT-46'], 'net total': ['BT-109'], 'tax total': ['BT-110'], 'grand total': ['BT-112', 'BT-115'],
  discount: ['BT-107'], shipping: ['BT-108'], 'paid amount': ['BT-113'], 'bank account': ['BT-84'], 'bank code': ['BT-86'], 'tax number': ['BT-31'], 'supplier name': ['BT-27'], 'customer name': ['BT-44'], currency: ['BT-5'], 'payment terms': ['BT-20'], note: ['BT-22'],
};
const BY_COLUMN: Partial<Record<Concept, LineTerm>> = { position: 'BT-126', 'item code': 'BT-155', description: 'BT-153', quantity: 'BT-129', 'unit of measure': 'BT-130', 'unit price': 'BT-146', 'line amount': 'BT-131' };

/** The terms of an e-invoice where they stand on its pages. */
export interface InvoiceData {
  readonly terms: ReadonlyMap<Term, Cell>;
  readonly lines: readonly ReadonlyMap<LineTerm, Cell>[];
}

interface Cell {
  readonly page: number;
  readonly words: readonly Word[];
}

/** Does the document carry data? Then its values are taken from there. */
export function invoiceData(pages: readonly Page[], lines: readonly Line[]): InvoiceData | null {
  const numbers = new Set(pages.filter((page) => page.origin === 'data').map((page) => page.number));
  const own = lines.filter((line) => numbers.has(line.page));
  if (own.length === 0) return null;
  const head = own.findIndex((line) => line.text === LINES_HEAD);
  const termLines = head < 0 ? own : own.slice(0, head);
  const terms = new Map(termLines.flatMap((line): [Term, Cell][] => {
    const term = line.words[0]?.text ?? '';
    const skip = term in TERMS ? TERMS[term as Term].split(' ').length + 1 : 0;
    return skip > 0 && line.words.length > skip ? [[term as Term, { page: line.page, words: line.words.slice(skip) }]] : [];
  }));
  return { terms, lines: head < 0 ? [] : rowsOf(own.slice(head + 1)) };
}

function rowsOf(lines: readonly Line[]): ReadonlyMap<LineTerm, Cell>[] {
  const [heads, , ...rows] = lines;
  const columns = (heads?.words ?? []).filter((word) => word.text in LINE_TERMS).map((word) => ({ term: word.text as LineTerm, from: word.box[0] - 1 }));
  return rows.map((line) => new Map(columns.flatMap(({ term, from }, index): [LineTerm, Cell][] => {
    const to = columns[index + 1]?.from ?? Infinity;
    const words = line.words.filter((word) => word.box[0] >= from && word.box[0] < to);
    return words.length > 0 ? [[term, { page: line.page, words }]] : [];
  })));
}

/** The value of a field in the data; null where the standard has no such term or the bill does not give it. */
export function readStructured(data: InvoiceData, field: FieldDefinition, kindName: string): Reading | null {
  const { concept } = wordingsOf(field, 'field', kindName);
  const byName = (Object.keys(TERMS) as Term[]).filter((term) => TERMS[term].toLowerCase() === field.label.toLowerCase());
  for (const term of [...byName, ...((concept && BY_CONCEPT[concept]) ?? [])]) {
    const cell = data.terms.get(term);
    if (cell) return readingFrom(cell, field, `${term} ${TERMS[term]}`);
  }
  return null;
}

export function readStructuredTable(data: InvoiceData, table: TableDefinition, kindName: string): Row[] {
  const terms = table.columns.map((column) => {
    const { concept } = wordingsOf(column, 'column', kindName);
    return { column, term: concept ? BY_COLUMN[concept] : undefined };
  });
  return data.lines.map((line) => Object.fromEntries(terms.map(({ column, term }) => {
    const cell = term && line.get(term);
    return [column.key, cell ? readingFrom(cell, column, `${term} ${LINE_TERMS[term]}`) : NOTHING_READ];
  })));
}

function readingFrom({ page, words }: Cell, field: FieldDefinition, what: string): Reading {
  const text = textOf(words);
  const fit = normaliseFor(field, text, PLAIN_LOCALE);
  return { text, value: fit.ok ? fit.value : null, place: { page, box: unionOf(words.map((word) => word.box)) }, anchor: null, reader: 'structured', confidence: fit.ok ? 0.999 : 0.2, evidence: [{ what: `${what} of the bill’s own data`, factor: fit.ok ? 0.999 : 0.2 }], ...(fit.ok ? {} : { problem: fit.why }) };
}
