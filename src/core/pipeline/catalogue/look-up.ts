import type { LookUpStep } from '../definition';
import { pick, say, valueText, type StepEntry } from './entry';
import { key, text, value } from './schema-parts';

const MISSING = { ask: 'ask the desk', 'go on': 'go on without', strand: 'strand the run' } as const;

export const lookUp: StepEntry<LookUpStep> = {
  name: 'Look up', group: 'Read', about: 'Find a row of a reference list and use its columns', words: 'lookup list master data vendor reference find',
  schema: { properties: { list: key, find: value, column: text, missing: { enum: ['ask', 'go on', 'strand'] } }, required: ['list', 'find'] },
  blank: (id) => ({ id, do: 'look-up', list: '', find: '' }),
  sentence: (step, nameOf) => [say('Look up '), pick(step.list === '' ? '' : nameOf('list', step.list)), say(' by '), pick(valueText(step.find)), say('; if it is not there, '), pick(MISSING[step.missing ?? 'ask'])],
  form: [
    { is: 'pick', at: 'list', label: 'In the list', of: 'reference list' },
    { is: 'value', at: 'find', label: 'By the value' },
    { is: 'pick', at: 'column', label: 'In the column', of: 'list column', optional: 'The key of the list' },
    { is: 'choice', at: 'missing', label: 'If it is not there', options: Object.entries(MISSING).map(([value, label]) => ({ value, label })) },
  ],
  uses: (step) => [{ value: step.find }],
  gives: (step, { lists }) => (lists.find((list) => list.key === step.list)?.columns ?? []).map((name) => ({ name, label: name })),
  complain: (step, { lists }) => {
    const list = lists.find((candidate) => candidate.key === step.list);
    if (!list) return [step.list === '' ? 'Choose a list to look in.' : `There is no list “${step.list}”. Make it first, or choose another.`];
    return step.column === undefined || list.columns.includes(step.column) ? [] : [`“${list.name}” has no column “${step.column}”. It has ${list.columns.join(', ')}.`];
  },
};
