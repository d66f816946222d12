import { billKind, billPipeline } from '../../../../tests/support/definitions';
import type { MatchStep } from '../definition';
import { offersAt } from '../offers';
import { complaintsAbout } from '../static-checks';
import { sentenceText, type Surroundings } from '.';

const around: Surroundings = { kinds: [billKind()], connections: [], pipelines: [], lists: [{ key: 'open', name: 'Open orders', results: false, columns: ['Key', 'Order', 'Text', 'Open'] }] };
const step = (changes: Partial<MatchStep> = {}): MatchStep => ({ id: 'match', do: 'match', each: 'lines', list: 'open', compare: [{ ours: 'row.description', theirs: 'Text', by: 'text' }], bring: { order_line: 'Key' }, ...changes });
const pipeline = (match: MatchStep, ...more: Parameters<typeof complaintsAbout>[0]['steps']) => ({ ...billPipeline(), steps: [{ id: 'read', do: 'read', kind: 'haulage-bill' } as const, match, ...more] });
const about = (changes: Partial<MatchStep>, ...more: Parameters<typeof complaintsAbout>[0]['steps']) => complaintsAbout(pipeline(step(changes), ...more), around).map(({ text }) => text);
const without = <K extends keyof MatchStep>(member: K): Partial<MatchStep> => ({ [member]: undefined }) as unknown as Partial<MatchStep>;

describe('what is wrong with a match', () => {
  test('nothing, where everything is said', () => expect(about({ column: 'Order', find: 'number' })).toEqual([]));
  test.each<[string, Partial<MatchStep>, string]>([
    ['nothing to match with', without('list'), 'Say with what to match: records that an earlier step gave, or a list; not both.'],
    ['two things to match with', { among: 'total' }, 'Say with what to match: records that an earlier step gave, or a list; not both.'],
    ['a list that is not there', { list: 'gone' }, 'There is no list “gone”. Make it first, or choose another.'],
    ['half a choice of rows', { column: 'Order' }, 'To take only some rows of the list, say both the column and the value.'],
    ['a column that the list has not', { bring: { order_line: 'Line' } }, '“Open orders” has no column “Line”. It has Key, Order, Text, Open.'],
    ['no column to compare with', { compare: [{ ours: 'row.description', theirs: '', by: 'text' }] }, 'Say which column of theirs each value is compared with.'],
    ['nothing that tells rows apart', { compare: [{ ours: 'row.quantity', theirs: 'Open', by: 'at most' }, { ours: 'number', theirs: 'Order', by: 'identifier' }] }, 'Compare at least one value of the row by number, text or amount; what else is compared does not tell which rows belong together.'],
    ['a name that the table has already', { bring: { description: 'Text' } }, '“description” is a column of the table already. Bring it along under another name.'],
    ['a column of ours that is not there', { compare: [{ ours: 'row.colour', theirs: 'Text', by: 'text' }] }, 'The table “lines” has no column “colour”.'],
  ])('%s', (_, changes, text) => expect(about(changes)).toContain(text));
  test('a review behind it, which would take away what was matched', () => {
    expect(about({}, { id: 'd', do: 'desk', when: { trusted: false } })).toEqual(['A review after matching would take away what was matched. Put the review before it.']);
  });
});

test('it reads as a sentence', () => {
  expect(sentenceText(step({ column: 'Order', find: 'number' }))).toBe('Match each of its lines with the rows of open for number by description; where it is not sure, ask the desk');
});

test('later steps can pick what it brought along, and how many there were', () => {
  const write = { id: 'w', do: 'write-list', list: 'x', each: 'lines', columns: {} } as const;
  const sources = offersAt(pipeline(step(), write), 'w', around, 'lines').map(({ source }) => source);
  expect(['row.order_line', 'match.matched', 'match.unmatched', 'match.left'].filter((source) => !sources.includes(source))).toEqual([]);
  expect(offersAt(pipeline(step(), write), 'w', around, undefined).some(({ source }) => source === 'row.order_line')).toBe(false);
});
