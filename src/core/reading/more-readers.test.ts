import { linesOf } from '@/core/page/lines';
import type { Page, Word } from '@/core/page/page';
import { register } from '@/core/page/register';
import { layoutText } from '@/core/page/layout-text';
import { invoiceFrom } from '@/core/invoice/parse';
import { renditionOf } from '@/core/invoice/rendition';
import { starterKind } from '@/core/definition/starters';
import { typedPage } from '../../../tests/support/page';
import { readDocument } from './chain';
import { findLandmarks } from './landmark';
import { readLetterhead } from './letterhead';
import { mendRow } from './mend-rows';
import { readByPattern } from './pattern';
import { surenessOf, type Reading } from './reading';
import { readByZone } from './zone';
import type { FieldDefinition } from './kind';

const plain = { decimal: '.', dates: 'dmy' } as const;
const number: FieldDefinition = { key: 'number', label: 'Number', type: 'identifier' };

describe(readByPattern, () => {
  test.each([
    [{ after: 'Vessel no.' }, 'SK-114 of Skarrow'], [{ after: 'Vessel no.', before: 'of' }, 'SK-114'], [{ before: 'of Skarrow' }, 'Vessel no. SK-114'],
  ])('between this and that, %j', (between, text) => {
    expect(readByPattern(linesOf(typedPage(['Vessel no.  SK-114 of Skarrow'])), { reader: 'pattern', ...between }, { ...number, type: 'text' }, plain)[0]?.text).toBe(text);
  });
});

describe(readByZone, () => {
  const landmarks = ['Harbour of Skarrow, office', 'Vessel    SK-114', 'Signed by the harbour master'];
  test('finds the rectangle again on a page that is shifted and larger', () => {
    const page = typedPage(landmarks);
    const moved = { ...page, words: page.words.map((word) => ({ ...word, box: word.box.map((edge, index) => edge * 1.1 + (index % 2 === 0 ? 20 : 35)) as unknown as Word['box'] })) };
    const registration = register(page.words.map((word, index) => ({ from: [word.box[0], word.box[1]], to: [moved.words[index]!.box[0], moved.words[index]!.box[1]] })))!;
    const box = page.words.find((word) => word.text === 'SK-114')!.box;
    expect(readByZone(linesOf(moved), { reader: 'zone', box }, number, plain, new Map([[1, registration]]))[0]).toMatchObject({ value: 'SK-114', reader: 'zone' });
  });

  test('reads nothing on a page that could not be laid over the layout', () => expect(readByZone(linesOf(typedPage(landmarks)), { reader: 'zone', box: [0, 0, 900, 900] }, number, plain, new Map())).toEqual([]));
});

describe(readLetterhead, () => {
  test('the name stands large and high; titles and addresses are none', () => {
    const small = typedPage(['Tax Invoice', '12 Mill Road, Ballock 40771', '', 'Fenby Boatyard', 'Bill of yesterday']);
    const name: Word = { text: 'Corran', box: [0, 16, 90, 36] };
    const page: Page = { ...small, words: [name, ...small.words.map((word) => ({ ...word, box: [word.box[0], word.box[1] + 40, word.box[2], word.box[3] + 40] as const }))] };
    expect(readLetterhead(linesOf(page), [page])[0]?.value).toBe('Corran');
    expect(readLetterhead(linesOf(page), [page]).map((reading) => reading.value)).not.toContain('Tax Invoice');
  });
});

describe('an e-invoice', () => {
  const xml = '<Invoice xmlns="urn:x"><ID>R-7</ID><IssueDate>2026-03-01</IssueDate><AccountingSupplierParty><Party><PartyName><Name>Corran &amp; Sons</Name></PartyName></Party></AccountingSupplierParty><LegalMonetaryTotal><TaxInclusiveAmount>120.00</TaxInclusiveAmount></LegalMonetaryTotal><InvoiceLine><ID>1</ID><InvoicedQuantity unitCode="C62">2</InvoicedQuantity><LineExtensionAmount>100.00</LineExtensionAmount><Item><Name>Rope</Name></Item><Price><PriceAmount>50.00</PriceAmount></Price></InvoiceLine></Invoice>';

  test('is shown term by term and read from there, with a place for every value', () => {
    const invoice = invoiceFrom(xml)!;
    const page: Page = { ...typedPage(renditionOf(invoice).split('\n')), origin: 'data' };
    const { fields, tables } = readDocument([page], starterKind('bill')!);
    expect([fields['number'], fields['supplier'], fields['total']].map((reading) => [reading?.value, reading?.reader, reading?.place !== null])).toEqual([['R-7', 'structured', true], ['Corran & Sons', 'structured', true], ['120.00', 'structured', true]]);
    expect(tables['lines']?.map((row) => [row['description']?.value, row['quantity']?.value, row['amount']?.value])).toEqual([['Rope', '2', '100.00']]);
  });

  test.each(['<html/>', 'no xml', '<Invoice', '<!DOCTYPE a><Invoice/>'])('%s is none', (text) => expect(invoiceFrom(text)).toBeNull());
});

describe(mendRow, () => {
  const columns = { quantity: { key: 'q', label: 'Q', type: 'number' }, price: { key: 'p', label: 'P', type: 'money' }, amount: { key: 'a', label: 'A', type: 'money' } } as const;
  const cell = (value: string | null, sure: number | null = 0.95): Reading => ({ text: value ?? '', value, place: null, anchor: null, reader: value === null ? 'none' : 'table', confidence: value === null ? 0 : 0.9, evidence: sure === null ? [] : surenessOf([{ text: value ?? '', box: [0, 0, 1, 1], sure }]) });
  const mended = (q: Reading, p: Reading, a: Reading) => Object.values(mendRow({ q, p, a }, columns)).map((reading) => reading.value);

  test('a figure that was not recognised is what the other two say', () => expect(mended(cell(null), cell('12.50'), cell('87.50'))).toEqual(['7', '12.50', '87.50']));
  test('a figure that was misread is, where it looks like it', () => expect(mended(cell('21'), cell('95.93'), cell('1174.53'))).toEqual(['21', '55.93', '1174.53']));
  test('a text layer is never mended: there it is a finding', () => expect(mended(cell('2', null), cell('10.00', null), cell('21.00', null))).toEqual(['2', '10.00', '21.00']));
  test('what multiplies is left alone', () => expect(mended(cell('2'), cell('10.00'), cell('20.00'))).toEqual(['2', '10.00', '20.00']));
});

describe(findLandmarks, () => {
  test('words of two columns are no wording', () => expect(findLandmarks(linesOf(typedPage(['Unit          Price'])), ['unit price'])).toEqual([]));
  test('a recogniser may put a blank into a word', () => {
    const page = typedPage(['Bramholt C ordage Ltd']);
    const seen = { ...page, words: page.words.map((word) => ({ ...word, sure: 0.9 })) };
    expect(findLandmarks(linesOf(seen), ['Bramholt Cordage Ltd']).map((landmark) => landmark.phrase.text)).toEqual(['Bramholt C ordage Ltd']);
    expect(findLandmarks(linesOf(page), ['Bramholt Cordage Ltd'])).toEqual([]);
  });
});

test('text keeps its columns and its words know their places', () => {
  const { text, words } = layoutText(typedPage(['Qty     Amount', ' 2       12.00', '', '☑ paid']));
  expect(text.split('\n')).toEqual(['Qty     Amount', ' 2       12.00', '', '[x] paid']);
  expect(words.find((laid) => laid.word.text === '12.00')).toMatchObject({ line: 1, column: 9 });
});
