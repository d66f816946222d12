import { billKind } from '../../../tests/support/definitions';
import { typedPage } from '../../../tests/support/page';
import { readDocument } from './chain';
import type { KindDefinition } from './kind';

const kind = (changes: Partial<KindDefinition> = {}): KindDefinition => ({
  leadline: 'kind/1', key: 'note', name: 'Note', checks: [], tables: [],
  fields: [{ key: 'number', label: 'Number', type: 'identifier', required: true }],
  layouts: [
    { key: 'a', name: 'Layout A', recognise: ['Alpha yard'], locale: { decimal: '.', dates: 'dmy' }, fields: { number: [{ reader: 'anchor', anchors: ['Number'], direction: 'right' }, { reader: 'pattern', pattern: 'N-\\d+' }] }, tables: {} },
    { key: 'b', name: 'Layout B', recognise: ['Beta yard'], locale: { decimal: ',', dates: 'dmy' }, fields: { number: [{ reader: 'pattern', pattern: 'B-\\d+' }] }, tables: {} },
  ],
  ...changes,
});

describe(readDocument, () => {
  test('uses the first layout that is recognised and tells why those before it were not', () => {
    const reading = readDocument([typedPage(['Beta yard', 'B-17'])], kind());
    expect([reading.layout, reading.misses, reading.fields['number']?.value]).toEqual(['b', ['Layout A: “Alpha yard” not found on the document'], 'B-17']);
  });

  test('stops at the first reader that is sure enough', () => {
    const reading = readDocument([typedPage(['Alpha yard', 'Number   N-17'])], kind());
    expect(reading.tried['number']?.map((tried) => tried.reader)).toEqual(['anchor']);
  });

  test('asks the next reader when the first finds nothing, and keeps other values as alternatives', () => {
    const reading = readDocument([typedPage(['Alpha yard', 'see N-17 and N-18'])], kind());
    expect(reading.tried['number']?.map((tried) => [tried.reader, tried.found])).toEqual([['anchor', 0], ['pattern', 2]]);
    expect(reading.alternatives['number']?.map((other) => other.value)).toEqual(['N-18']);
  });

  test('reads nothing when no layout is recognised, and says so', () => {
    const reading = readDocument([typedPage(['Gamma yard'])], kind());
    expect([reading.layout, reading.misses.length, reading.fields['number']?.reader]).toEqual([null, 2, 'none']);
  });

  test('reads no pages without complaint', () => {
    expect(readDocument([], billKind()).layout).toBeNull();
  });
});
