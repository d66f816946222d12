import { readDocument } from '@/core/reading/chain';
import type { KindDefinition } from '@/core/reading/kind';
import { typedPage } from '../../../tests/support/page';
import type { Sample } from './sample';
import { proposeField } from './propose';
import { linesOf } from '@/core/page/lines';
import { teach, withoutSample } from './teach';

const kind: KindDefinition = {
  leadline: 'kind/1', key: 'slip', name: 'Slip', layouts: [], checks: [],
  fields: [{ key: 'mark', label: 'Boat mark', type: 'identifier' }, { key: 'day', label: 'Day', type: 'date' }],
  tables: [{ key: 'catch', label: 'Catch', columns: [{ key: 'fish', label: 'Fish', type: 'text' }, { key: 'boxes', label: 'Boxes', type: 'number' }, { key: 'worth', label: 'Worth', type: 'money' }] }],
};

/** A paper whose labels nobody would guess. */
function paper(mark: string, day: string, rows: readonly (readonly [string, string, string])[]) {
  return typedPage([
    'Harbour of Skarrow                         Landing paper', 'North Pier, office of the harbour master', '', `Vessel ....... ${mark}`, `Brought in ... ${day}`, '',
    'What                     How many        Pays', ...rows.map(([fish, boxes, worth]) => `${fish.padEnd(25)}${boxes.padStart(8)}${worth.padStart(12)}`),
    'Altogether for the skipper', 'Signed at the pier by whoever was there',
  ]);
}

const sample = (name: string, mark: string, day: string, rows: readonly (readonly [string, string, string])[]): Sample => ({
  name, pages: [paper(mark, day, rows)],
  truth: { fields: { mark, day: day.split('.').reverse().join('-') }, tables: { catch: rows.map(([fish, boxes, worth]) => ({ fish, boxes, worth })) } },
});
const first = sample('first', 'SK-114', '03.09.2026', [['Herring', '12', '240.00'], ['Crab', '3', '91.50']]);
const second = sample('second', 'DM-009', '17.10.2026', [['Cod', '7', '133.00'], ['Ling', '2', '20.00'], ['Skate', '11', '87.25']]);

function valuesOf(definition: KindDefinition, from: Sample) {
  const reading = readDocument(from.pages, definition);
  return { fields: Object.fromEntries(kind.fields.map(({ key }) => [key, reading.fields[key]?.value ?? null])), tables: { catch: (reading.tables['catch'] ?? []).map((row) => Object.fromEntries(Object.entries(row).map(([key, cell]) => [key, cell.value]))) } };
}

describe(teach, () => {
  test('after one sample the second paper of the layout needs nothing', () => {
    const { kind: taught, lessons } = teach(kind, [first]);
    expect(lessons).toEqual([{ sample: 'first', layout: 'learned-1', isNew: true, unseen: [] }]);
    expect(valuesOf(kind, second)).not.toEqual(second.truth);
    expect(valuesOf(taught, second)).toEqual(second.truth);
  });

  test('papers of one layout are put together, others apart', () => {
    const other: Sample = { name: 'other', pages: [typedPage(['Fish market at Ennet, daily list', 'Mark of the boat is SK-1 today', 'We greet all skippers of the coast', 'Come again soon with the tide'])], truth: { fields: { mark: 'SK-1' } } };
    const { kind: taught, lessons } = teach(kind, [first, other, second]);
    expect(lessons.map(({ layout, isNew }) => [layout, isNew])).toEqual([['learned-1', true], ['learned-2', true], ['learned-1', false]]);
    expect(taught.layouts.map((layout) => layout.samples)).toEqual([['first', 'second'], ['other']]);
  });

  test('says which confirmed values do not stand on the page', () => {
    expect(teach(kind, [{ ...first, truth: { fields: { mark: 'XX-999', day: '2026-09-03' } } }]).lessons[0]?.unseen).toEqual(['Boat mark']);
  });

  test('a value that moves with the rows above it is found beside its words', () => {
    const { kind: taught } = teach(kind, [first]);
    const shifted: Sample = { ...second, pages: [{ ...second.pages[0]!, words: second.pages[0]!.words.map((word) => ({ ...word, box: [word.box[0] + 18, word.box[1] + 26, word.box[2] + 18, word.box[3] + 26] as const })) }] };
    expect(valuesOf(taught, shifted)).toEqual(second.truth);
  });

  test('a layout written by hand that reads a sample right is left as it is', () => {
    const byHand: KindDefinition = { ...kind, tables: [], layouts: [{ key: 'pier', name: 'Pier', recognise: ['Landing paper'], locale: { decimal: '.', dates: 'dmy' }, tables: {}, fields: { mark: [{ reader: 'pattern', after: 'Vessel .......' }], day: [{ reader: 'pattern', pattern: '\\d{2}\\.\\d{2}\\.\\d{4}' }] } }] };
    expect(teach(byHand, [{ ...first, truth: { fields: first.truth.fields } }])).toEqual({ kind: byHand, lessons: [] });
  });
});

describe(withoutSample, () => {
  test('a sample is measured by what the others taught', () => {
    const { kind: taught } = teach(kind, [first, second]);
    expect(withoutSample(taught, [first, second], 'first').layouts.map((layout) => layout.samples)).toEqual([['second']]);
    expect(withoutSample(teach(kind, [first]).kind, [first], 'first').layouts).toEqual([]);
    expect(withoutSample(taught, [first, second], 'somebody')).toBe(taught);
  });
});

describe(proposeField, () => {
  test.each([['SK-114', 'Vessel', 'identifier'], ['03.09.2026', 'Brought in', 'date']])('words marked on the page become a field named after what stands beside them', (text, label, type) => {
    const lines = linesOf(first.pages[0]!);
    const words = lines.flatMap((line) => line.words).filter((word) => word.text === text);
    expect(proposeField(words, lines, [])).toMatchObject({ label, type });
  });
});

describe('cells that are printed once for several rows', () => {
  const kind: KindDefinition = { leadline: 'kind/1', key: 'log', name: 'Log', layouts: [], checks: [], fields: [], tables: [{ key: 'lines', label: 'Lines', columns: [{ key: 'day', label: 'Day', type: 'date' }, { key: 'catch', label: 'Catch', type: 'text' }, { key: 'weight', label: 'Weight', type: 'number' }] }] };
  const paper = (days: readonly string[], extra: string) => typedPage(['Harbour log of the landing stage', 'Skarrow Quay, North Pier, book four', '', 'Day             Catch                Weight', `${days[0]}      Herring              120`, `                Mackerel             80`, `${days[1]}      ${extra.padEnd(20)} 45`, '                Cod                  60', '', 'Signed by the harbour master on duty', 'Every landing is entered before noon']);
  const truth = (days: readonly string[], extra: string) => ({ fields: {}, tables: { lines: [{ day: days[0]!, catch: 'Herring', weight: '120' }, { day: days[0]!, catch: 'Mackerel', weight: '80' }, { day: days[1]!, catch: extra, weight: '45' }, { day: days[1]!, catch: 'Cod', weight: '60' }] } });

  test('are learned from a confirmed sample, and the next paper is read so', () => {
    const sample: Sample = { name: 's', pages: [paper(['2026-03-01', '2026-03-02'], 'Ling')], truth: truth(['2026-03-01', '2026-03-02'], 'Ling') };
    const taught = teach(kind, [sample]).kind;
    expect(taught.layouts[0]?.tables['lines']?.carry).toEqual(['day']);
    const rows = readDocument([paper(['2026-04-05', '2026-04-06'], 'Hake')], taught).tables['lines'] ?? [];
    expect(rows.map((row) => [row['day']?.value, row['catch']?.value])).toEqual([['2026-04-05', 'Herring'], ['2026-04-05', 'Mackerel'], ['2026-04-06', 'Hake'], ['2026-04-06', 'Cod']]);
  });
});
