import { typedPage } from '../../../tests/support/page';
import type { KindDefinition } from '@/core/reading/kind';
import { NOTHING_READ, type Readings } from '@/core/reading/reading';
import { checkDocument } from './check';
import type { EarlierDocument } from './elsewhere';
import { printOf, resemblance } from './resemblance';

const readings = (values: Record<string, string | null>): Readings => ({ fields: Object.fromEntries(Object.entries(values).map(([key, value]) => [key, { ...NOTHING_READ, value }])), tables: {} });
const kind: KindDefinition = { leadline: 'kind/1', key: 'k', name: 'K', tables: [], layouts: [], fields: [{ key: 'number', label: 'Number', type: 'identifier' }, { key: 'total', label: 'Total', type: 'money' }], checks: [{ check: 'duplicate', fields: ['number', 'total'] }, { check: 'in-list', field: 'number', list: 'known' }] };
const known = new Map([['known', { key: 'known', name: 'Known numbers', keyColumn: 'No', columns: [{ name: 'No', type: 'identifier' as const }], rows: [{ No: 'K 1' }] }]]);
const earlier = (more: Partial<EarlierDocument>): EarlierDocument => ({ id: 'D', name: 'old.pdf', receivedAt: '2026-03-01T10:00:00Z', values: {}, alike: 0, ...more });
const texts = (values: Record<string, string | null>, elsewhere: Parameters<typeof checkDocument>[0] | object = {}) => checkDocument({ kind, layout: null, readings: readings(values), pages: [], ...elsewhere }).map((finding) => `${finding.severity}: ${finding.text}`);

describe('a value that must be in a list', () => {
  test('is found however it is written', () => expect(texts({ number: 'k-1', total: '1' }, { lists: known })).toEqual([]));
  test('is named when it is not there', () => expect(texts({ number: 'K2', total: '1' }, { lists: known })).toEqual(['must fix: Number “K2” is not in Known numbers.']));
  test('an empty one breaks nothing', () => expect(texts({ number: null, total: '1' }, { lists: known })).toEqual([]));
  test('a missing list is said', () => expect(texts({ number: 'K2', total: '1' }, { lists: new Map() })).toEqual(['must fix: Number cannot be looked up: the list “known” is not there. Import it under Lists.']));
});

describe('a document that came before', () => {
  test('is told by its values', () => {
    expect(texts({ number: 'K1', total: '5.00' }, { earlier: [earlier({ values: { number: 'k1', total: '5.00' } })] })).toEqual(['must fix: “old.pdf” of 2026-03-01 has the same number, total. It may have come twice.']);
    expect(texts({ number: 'K1', total: '5.00' }, { earlier: [earlier({ values: { number: 'K1', total: '6.00' } })] })).toEqual([]);
    expect(texts({ number: null, total: '5.00' }, { earlier: [earlier({ values: { total: '5.00' } })] })).toEqual([]);
  });
  test('is told by nearly the same text, which a person should look at', () => {
    expect(texts({ number: 'K1', total: '5.00' }, { earlier: [earlier({ alike: 0.94 }), earlier({ alike: 0.5, name: 'other.pdf' })] })).toEqual(['look: “old.pdf” of 2026-03-01 has nearly the same text: 94 of 100 figures and names are the same.']);
  });
});

describe(printOf, () => {
  const paper = (seed: number) => Array.from({ length: 30 }, (_, row) => `Item ${(seed * 7919 + row * 104_729) % 99_991} weight ${(seed * 31 + row * 977) % 8887} kg`);
  const shared = (a: readonly string[], b: readonly string[]) => resemblance(a.filter((part) => b.includes(part)).length);

  test('two copies of a paper are alike although a word was misread', () => {
    const copy = paper(1).map((row, index) => (index === 3 ? row.replace(/\d+/, '000') : row));
    expect(shared(printOf([typedPage(paper(1))]), printOf([typedPage(copy)]))).toBeGreaterThan(0.8);
  });
  test('two papers of one layout with other figures are not', () => {
    expect(shared(printOf([typedPage(paper(1))]), printOf([typedPage(paper(2))]))).toBeLessThan(0.3);
  });
  test('a page with hardly any figures has no print', () => expect(printOf([typedPage(['Dear all', 'see you on 3.5.'])])).toEqual([]));
});
