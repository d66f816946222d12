import { MATCH_WAYS } from '@/core/matching/rows';
import type { MatchStep } from '../definition';
import { MATCH_COUNTS } from '../match';
import { pick, say, valueText, type StepEntry } from './entry';
import { key, mapOf, object, share, source, text, value, valueKey } from './schema-parts';

const amount = { type: 'string', pattern: '^\\d+(\\.\\d+)?$', maxLength: 20 } as const;

export const match: StepEntry<MatchStep> = {
  name: 'Match', group: 'Read', about: 'Find for each row the one it belongs to: an order’s lines, a price list', words: 'order purchase compare reconcile pair delivery receipt three-way',
  schema: {
    properties: {
      each: valueKey, among: value, list: key, column: text, find: value, sure: share,
      compare: { type: 'array', minItems: 1, maxItems: 12, items: object({ ours: source, theirs: text, by: { enum: MATCH_WAYS }, tolerance: amount }, ['ours', 'theirs', 'by']) },
      bring: mapOf(text),
    },
    required: ['each', 'compare', 'bring'],
  },
  blank: (id) => ({ id, do: 'match', each: '', among: '', compare: [{ ours: '', theirs: '', by: 'text' }], bring: {} }),
  sentence: (step, nameOf) => [
    say('Match each of its '), pick(step.each), say(' with '), ...(step.list === undefined ? [pick(valueText(step.among ?? ''))] : [say('the rows of '), pick(nameOf('list', step.list)), ...(step.find === undefined ? [] : [say(' for '), pick(valueText(step.find))])]),
    say(' by '), pick(step.compare.map(({ ours }) => valueText(ours)).join(', ')), say('; where it is not sure, ask the desk'),
  ],
  form: [
    { is: 'pick', at: 'each', label: 'Rows of', of: 'table' },
    { is: 'number', at: 'sure', label: 'Sure from', help: '0 to 1; below it the desk decides. Usually 0.8', optional: true, min: 0, max: 1 },
    { is: 'value', at: 'among', label: 'With the records in', optional: true },
    { is: 'pick', at: 'list', label: 'Or with rows of the list', of: 'reference list', optional: 'No list' },
    { is: 'pick', at: 'column', label: 'Only those that have in the column', of: 'list column', optional: 'Any' },
    { is: 'value', at: 'find', label: 'The value', optional: true },
    { is: 'comparisons', at: 'compare' },
    { is: 'places', at: 'bring', label: 'Bring along from the row that is found', help: 'A line each: our new column = their column, such as order_line = line' },
  ],
  uses: ({ each, among, find, compare }) => [...[among, find].flatMap((used) => (used === undefined ? [] : [{ value: used }])), ...compare.map(({ ours }) => ({ value: ours, each }))],
  gives: () => MATCH_COUNTS.map(([name, label]) => ({ name, label })),
  complain: (step, { lists, kinds }) => {
    const list = lists.find(({ key: candidate }) => candidate === step.list);
    const known = list?.columns;
    const named = [...step.compare.map(({ theirs }) => theirs), ...Object.values(step.bring), ...(step.column === undefined ? [] : [step.column])];
    return [
      ...((step.among === undefined) === (step.list === undefined) ? ['Say with what to match: records that an earlier step gave, or a list; not both.'] : []),
      ...(step.list !== undefined && !list ? [`There is no list “${step.list}”. Make it first, or choose another.`] : []),
      ...((step.column === undefined) === (step.find === undefined) ? [] : ['To take only some rows of the list, say both the column and the value.']),
      ...(known ? named.filter((column) => column !== '' && !known.includes(column)).map((column) => `“${list.name}” has no column “${column}”. It has ${known.join(', ')}.`) : []),
      ...(step.compare.some(({ theirs }) => theirs === '') ? ['Say which column of theirs each value is compared with.'] : []),
      ...(step.compare.every(({ ours, by }) => by === 'at most' || !ours.startsWith('row.')) ? ['Compare at least one value of the row by number, text or amount; what else is compared does not tell which rows belong together.'] : []),
      ...Object.keys(step.bring).filter((column) => kinds.some((kind) => kind.tables.some((table) => table.key === step.each && table.columns.some((own) => own.key === column)))).map((column) => `“${column}” is a column of the table already. Bring it along under another name.`),
    ];
  },
};
