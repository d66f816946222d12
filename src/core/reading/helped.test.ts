import { typedPage } from '../../../tests/support/page';
import type { ReferenceList } from '@/core/list/list';
import type { Page, Word } from '@/core/page/page';
import { answerKey, NO_AIDS, type AidSource, type Aids } from './aids';
import { readDocument } from './chain';
import type { FieldDefinition, KindDefinition } from './kind';
import { readWithAids } from './read-with-aids';
import type { ServiceAnswer } from './service';

const ACCOUNTS: ReferenceList = { key: 'accounts', name: 'Accounts', keyColumn: 'Account', columns: [{ name: 'Account', type: 'identifier' }, { name: 'Holder', type: 'text' }, { name: 'Berth', type: 'identifier' }], rows: [{ Account: '00471122', Holder: 'Northquay Boats', Berth: 'A9' }, { Account: '00471123', Holder: 'Ebb and Sons', Berth: 'B2' }] };
const field = (key: string, type: FieldDefinition['type'], more: Partial<FieldDefinition> = {}): FieldDefinition => ({ key, label: key[0]!.toUpperCase() + key.slice(1), type, ...more });
const kindOf = (fields: readonly FieldDefinition[], more: Partial<KindDefinition> = {}): KindDefinition => ({ leadline: 'kind/1', key: 'k', name: 'K', fields, tables: [], layouts: [], checks: [], ...more });
const page = (rows: readonly string[], sure?: number): Page => {
  const typed = typedPage(rows);
  return sure === undefined ? typed : { ...typed, origin: 'picture', words: typed.words.map((word) => ({ ...word, sure })) };
};
const aids = (more: Partial<Aids>): Aids => ({ ...NO_AIDS, ...more });

describe('a bound list', () => {
  const kind = kindOf([field('account', 'identifier'), field('holder', 'text'), field('berth', 'identifier')], { bindings: [{ list: 'accounts', field: 'account', fill: { holder: 'Holder', berth: 'Berth' } }] });
  const read = (pages: readonly Page[]) => readDocument(pages, kind, aids({ lists: new Map([['accounts', ACCOUNTS]]) }));
  const values = (pages: readonly Page[]) => Object.values(read(pages).fields).map(({ value, confidence }) => [value, confidence >= 0.8]);

  test('finds the row whose key stands on the page, and fills the other fields from it', () => {
    expect(values([page(['Meter reading for 0047 1122 in March'])])).toEqual([['00471122', true], ['Northquay Boats', true], ['A9', true]]);
    expect(read([page(['Meter reading for 0047 1122 in March'])]).fields['berth']).toMatchObject({ reader: 'list', place: null, anchor: { page: 1 } });
  });
  test('does not choose between two rows; both are offered', () => {
    const reading = read([page(['From 00471122 to 00471123'])]);
    expect(reading.fields['account']?.confidence).toBeLessThan(0.5);
    expect(reading.alternatives['account']?.map((other) => other.value)).toEqual(['00471123']);
    expect(reading.alternatives['berth']?.map((other) => other.value)).toEqual(['B2']);
  });
  test('lets the rest of the page decide between two', () => {
    expect(values([page(['From 00471122 to 00471123', 'Ebb and Sons, Quay 4'])])[0]).toEqual(['00471123', true]);
  });
  test('one wrong letter is never enough alone, because it may be another account', () => {
    expect(values([page(['Account', '0047 8122'])])[0]).toEqual(['00471122', false]);
  });
  test('a recognised key that one misread letter would make another is for the desk', () => {
    expect(values([page(['no. 00471122'], 0.85)])[0]).toEqual(['00471122', false]);
    expect(values([page(['no. 00471122', 'Northquay Boats'], 0.95)])[0]).toEqual(['00471122', true]);
  });
  test('a list that is not there changes nothing', () => {
    expect(readDocument([page(['Account: 00471122'])], kind).fields['account']?.reader).toBe('described');
  });
});

describe('cross-reading', () => {
  const kind = kindOf([field('number', 'identifier', { cross: true }), field('total', 'money', { cross: true })]);
  const scanned = page(['Number: K-1880', 'Total: 41.70'], 0.7);
  const second = (text: string): readonly Word[] => scanned.words.map((word) => ({ ...word, text: word.text === '41.70' ? text : word.text }));

  test('asks for a second recognition of the pages whose values must be read twice', () => {
    expect(readDocument([scanned], kind).wants).toEqual([{ want: 'second recognition', page: 1 }]);
  });
  test('two recognisers that agree settle what one alone was unsure of', () => {
    const reading = readDocument([scanned], kind, aids({ second: new Map([[1, second('41.70')]]) }));
    expect(reading.wants).toBeUndefined();
    expect(reading.fields['total']!.confidence).toBeGreaterThan(readDocument([scanned], kind).fields['total']!.confidence);
  });
  test('two that differ send the value to the desk, with both readings', () => {
    const reading = readDocument([scanned], kind, aids({ second: new Map([[1, second('47.70')]]) }));
    expect(reading.fields['total']).toMatchObject({ value: '41.70' });
    expect(reading.fields['total']!.confidence).toBeLessThan(0.5);
    expect(reading.alternatives['total']?.[0]).toMatchObject({ value: '47.70' });
  });
  test('a value with a text layer must be found by another sort of reader', () => {
    const layouts: KindDefinition['layouts'] = [{ key: 'l', name: 'L', recognise: ['Number'], locale: { decimal: '.', dates: 'dmy' }, tables: {}, fields: { number: [{ reader: 'anchor', anchors: ['Number'], direction: 'right' }, { reader: 'pattern', pattern: 'K-\\d+' }], total: [{ reader: 'anchor', anchors: ['Total'], direction: 'right' }] } }];
    const reading = readDocument([page(['Number: K-1880', 'Total: 41.70'])], { ...kind, layouts });
    expect([reading.fields['number']!.confidence > 0.9, reading.fields['total']!.confidence < 0.6]).toEqual([true, true]);
  });
});

describe('a service', () => {
  const use = { service: 'lens', tier: 'fast', price: '0.02', fields: { number: 'doc_no', total: 'grand_total' }, tables: { lines: { name: 'items', columns: { text: 'what', amount: 'sum' } } } };
  const kind = kindOf([field('number', 'identifier', { required: true }), field('total', 'money', { cross: false })], { services: [use], tables: [{ key: 'lines', label: 'Lines', columns: [field('text', 'text'), field('amount', 'money')] }] });
  const answer: ServiceAnswer = { fields: { doc_no: { value: 'K-1880', confidence: 0.93, page: 1, box: [0, 0, 40, 10] }, grand_total: { value: '41.70', confidence: 0.9 } }, tables: { items: [{ what: { value: 'Rope' }, sum: { value: '41.70', confidence: 0.9 } }] }, cost: '0.02', currency: 'EUR' };
  const answered = (given: ServiceAnswer | null) => aids({ answers: new Map([[answerKey('lens', 'fast'), given]]) });

  test('is not asked for what a free reader found', () => {
    expect(readDocument([page(['Number: K-1880', 'Total: 41.70'])], kind).wants).toBeUndefined();
  });
  test('is asked for a required value that is missing, and paid', () => {
    expect(readDocument([page(['Total: 41.70'])], kind).wants).toEqual([{ want: 'service', service: 'lens', tier: 'fast' }]);
    const reading = readDocument([page(['Total: 41.70'])], kind, answered(answer));
    expect(reading.fields['number']).toMatchObject({ value: 'K-1880', reader: 'service', confidence: 0.93, place: { page: 1 } });
    expect(reading.tables['lines']?.map((row) => [row['text']?.value, row['amount']?.value])).toEqual([['Rope', '41.70']]);
    expect(reading.costs).toEqual([{ service: 'lens', tier: 'fast', amount: '0.02', currency: 'EUR' }]);
  });
  test('takes doubt away where it agrees, and is an alternative where it does not', () => {
    const alone = readDocument([page(['Total: 41.70'], 0.7)], kindOf([field('total', 'money', { cross: false })])).fields['total']!;
    const agreed = readDocument([page(['Total: 41.70'], 0.7)], kind, answered(answer)).fields['total']!;
    expect([agreed.value, agreed.confidence > alone.confidence]).toEqual(['41.70', true]);
    const other = readDocument([page(['Total: 41.70'])], kind, answered({ ...answer, fields: { ...answer.fields, grand_total: { value: '99.00', confidence: 0.5 } } }));
    expect([other.fields['total']?.value, other.alternatives['total']?.map((one) => one.value)]).toEqual(['41.70', ['99.00']]);
  });
  test('without an answer leaves everything as it was, and is not asked again', () => {
    expect(readDocument([page(['Total: 41.70'])], kind, answered(null))).toMatchObject({ fields: { number: { value: null } } });
    expect(readDocument([page(['Total: 41.70'])], kind, answered(null)).wants).toBeUndefined();
  });
  test('a value that does not fit its type is not taken', () => {
    const bad = { ...answer, fields: { doc_no: answer.fields['doc_no']!, grand_total: { value: 'a lot' } } };
    expect(readDocument([page(['nothing'])], kind, answered(bad)).fields['total']).toMatchObject({ value: null, problem: '“a lot” is not an amount with “.” before the fraction' });
  });
});

describe(readWithAids, () => {
  test('fetches each thing once, the paid ones only when the free ones were not enough', async () => {
    const asked: string[] = [];
    const source: AidSource = {
      remembered: async () => [],
      lists: async (keys) => (asked.push(`lists ${keys.join()}`), new Map()),
      second: async (number) => (asked.push(`page ${number}`), []),
      answer: async (service, tier) => (asked.push(`${service}/${tier}`), null),
    };
    const services = [{ service: 'lens', tier: 'fast', price: '0.01', fields: { number: 'n' } }, { service: 'lens', tier: 'best', price: '0.1', fields: { number: 'n' } }];
    const { reading } = await readWithAids([page(['Total: 41.70'], 0.7)], kindOf([field('number', 'identifier', { required: true }), field('total', 'money', { cross: true })], { services, bindings: [{ list: 'accounts', field: 'number' }] }), source);
    expect(asked).toEqual(['lists accounts', 'page 1', 'lens/fast', 'lens/best']);
    expect(reading.wants).toBeUndefined();
  });
});
