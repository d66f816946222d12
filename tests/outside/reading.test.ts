/**
 * Reading against what others have made or published: e-invoices in both syntaxes of EN 16931, hOCR read back by a parser, a
 * searchable PDF checked by qpdf and searched by pdftotext, recognition against known text.
 */
import { execFileSync } from 'node:child_process';
import { XMLParser } from 'fast-xml-parser';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { hocrOf } from '@/core/page/hocr';
import { invoiceFrom } from '@/core/invoice/parse';
import { inspectFile } from '@/digitise/inspect';
import { searchablePdf } from '@/digitise/searchable';
import { starterKind } from '@/core/definition/starters';
import { readDocument } from '@/core/reading/chain';
import { judge } from '@/core/measuring/compare';
import { makeEBill, hybridPdf } from '../../demo/papers/e-bill';
import { makePaper } from '../../demo/papers/content';
import { printPaper } from '../../demo/papers/print';
import { scanPage } from '../../demo/papers/scan';
import { readPdfText } from '@/digitise/pdf';

let folder: string;
beforeAll(() => { folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-reading-')); });
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('e-invoices (EN 16931-3-2 for UBL 2.1, EN 16931-3-3 for CII)', () => {
  test.each([['UBL', 'UBL 2.1'], ['CII', 'CII D16B']] as const)('%s: terms and lines stand where the syntax binding says', (syntax, name) => {
    const { xml, truth } = makeEBill(3, syntax);
    const invoice = invoiceFrom(xml);
    expect(invoice?.syntax).toBe(name);
    expect([invoice?.terms['BT-1'], invoice?.terms['BT-2'], invoice?.terms['BT-27'], invoice?.terms['BT-112']]).toEqual([truth.fields['number'], truth.fields['date'], truth.fields['supplier'], truth.fields['total']]);
    expect(invoice?.lines.map((line) => line['BT-131'])).toEqual(truth.tables['lines']?.map((row) => row['amount']));
  });

  test('BR-CO-15: total with tax = total without tax + tax, as decimals', () => {
    const terms = invoiceFrom(makeEBill(4, 'UBL').xml)?.terms;
    const cents = (text: string | undefined) => Math.round(Number(text) * 100);
    expect(cents(terms?.['BT-109']) + cents(terms?.['BT-110'])).toBe(cents(terms?.['BT-112']));
  });

  test('a document type declaration is refused: entities could stand for gigabytes', () => {
    expect(invoiceFrom('<!DOCTYPE x [<!ENTITY a "b">]><Invoice><ID>&a;</ID></Invoice>')).toBeNull();
  });

  test('a hybrid PDF is read from the data inside it, and every value has a place on a page', async () => {
    const made = makeEBill(6, 'CII');
    const { pages } = await inspectFile(await hybridPdf(made));
    expect(pages.map((page) => page.origin)).toEqual(['text layer', 'data']);
    const kind = { ...starterKind('bill')!, checks: [] };
    const reading = readDocument(pages, kind);
    expect(judge(kind, reading, made.truth).filter((one) => one.verdict !== 'right')).toEqual([]);
    expect(reading.fields['total']).toMatchObject({ reader: 'structured', place: { page: 2 } });
  });
});

test('hOCR 1.2 read back by an XML parser gives the same words and boxes', async () => {
  const text = await readPdfText(await printPaper(makePaper('order', 8, 3)), 10);
  if (!text.ok) throw new Error(text.detail);
  const tree = new XMLParser({ ignoreAttributes: false, processEntities: { enabled: true } as never, htmlEntities: true, isArray: (name) => ['div', 'span'].includes(name) }).parse(hocrOf('order', text.pages)) as { html: { body: { div: { '@_title': string; span: { span: { '#text': string | number; '@_title': string }[] }[] }[] } } };
  const words = tree.html.body.div.flatMap((page) => page.span.flatMap((line) => line.span.map((word) => ({ text: String(word['#text']), box: /bbox ([\d ]+)/.exec(word['@_title'])![1]!.split(' ').map(Number) }))));
  const ours = text.pages.flatMap((page) => page.words);
  expect(words).toHaveLength(ours.length);
  expect(new Set(words.map((word) => word.text)).size).toBeGreaterThan(20);
  const first = ours.find((word) => word.text === words[0]!.text)!;
  expect(words[0]!.box.map((edge, index) => Math.abs(edge * 0.24 - first.box[index]!) < 0.25)).toEqual([true, true, true, true]);
});

describe('a scan', () => {
  const made = makePaper('bill', 6, 5);
  let pdf: Buffer;
  let scan: Buffer;
  beforeAll(async () => {
    pdf = await printPaper(made);
    scan = await scanPage(pdf, 1, { dpi: 200, skew: -2.1, noise: 8, seed: 4 });
  }, 60_000);

  test('crooked by two degrees and noisy: at least 93 of 100 printed words are recognised letter by letter', async () => {
    const [text, { pages }] = [await readPdfText(pdf, 1), await inspectFile(scan)];
    if (!text.ok) throw new Error(text.detail);
    const left = new Map<string, number>();
    for (const word of pages[0]!.words) left.set(word.text, (left.get(word.text) ?? 0) + 1);
    // Marks that stand alone run together with their word in one of the two.
    const printed = text.pages[0]!.words.map((word) => word.text).filter((word) => /[\p{L}\d]{2,}/u.test(word));
    const found = printed.filter((word) => { const count = left.get(word) ?? 0; left.set(word, count - 1); return count > 0; });
    expect(found.length / printed.length).toBeGreaterThanOrEqual(0.93);
  }, 60_000);

  test.each([1, 2, 3] as const)('lying with %i quarter turns is set upright', async (turned) => {
    const { pages } = await inspectFile(await scanPage(pdf, 1, { dpi: 150, skew: 0, noise: 3, turned, seed: 4 }));
    expect(pages[0]!.height).toBeGreaterThan(pages[0]!.width);
    expect(pages[0]!.words.map((word) => word.text).join(' ')).toContain(made.spec.sender.name.split(' ')[0]);
  }, 120_000);

  test('as a searchable PDF passes qpdf, and pdftotext finds the words in it', async () => {
    const { pages, pictures } = await inspectFile(scan);
    const file = path.join(folder, 'searchable.pdf');
    writeFileSync(file, await searchablePdf('scan', pages.map((page) => ({ page, picture: pictures.get(page.number)! }))));
    expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream encoding errors');
    const found = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
    expect(found).toContain(made.spec.sender.name);
    const there = pages[0]!.words.filter((word) => /^[A-Za-z]{4,}$/.test(word.text));
    expect(there.filter((word) => found.includes(word.text)).length / there.length).toBeGreaterThan(0.9);
  }, 60_000);

  test('with a bad hidden text layer is read from its picture, and says why', async () => {
    const { pages, pictures } = await inspectFile(scan);
    const wrong = pages.map((page) => ({ ...page, words: page.words.map((word) => ({ ...word, text: word.text.replace(/[aeiou]/g, 'x').replace(/\d/g, '7') })) }));
    const read = await inspectFile(await searchablePdf('bad', wrong.map((page) => ({ page, picture: pictures.get(page.number)! }))));
    expect(read.pages[0]).toMatchObject({ origin: 'picture', why: expect.stringMatching(/^The page is a picture with hidden text, but only \d+ % of the hidden words/) });
  }, 60_000);
});
