import type { CheckStep, ReadStep, SortStep } from '../definition';
import { pick, picked, say, type StepEntry } from './entry';
import { key, share } from './schema-parts';

export const sort: StepEntry<SortStep> = {
  name: 'Sort', group: 'Read', about: 'Find out which kind of document it is', words: 'classify which kind type recognise',
  schema: { properties: { kinds: { type: 'array', items: key, minItems: 1, maxItems: 100 }, sure: share }, required: [] },
  blank: (id) => ({ id, do: 'sort' }),
  sentence: (step, nameOf) => [say('Find out which kind it is'), ...(step.kinds ? [say(' among '), ...picked(step.kinds.map((kind) => nameOf('kind', kind)))] : []), say('; if unsure, ask the desk')],
  form: [{ is: 'several kinds', at: 'kinds', label: 'Among these kinds (none chosen: all)' }, { is: 'number', at: 'sure', label: 'Ask nobody from this share on', help: 'Between 0 and 1; 0.8 if empty', optional: true, min: 0, max: 1 }],
  complain: (step, { kinds }) => (step.kinds ?? []).flatMap((kind) => notPublished(kind, kinds)),
};

export const read: StepEntry<ReadStep> = {
  name: 'Read', group: 'Read', about: 'Read the pages by a document kind', words: 'ocr extract fields recognise pages',
  schema: { properties: { kind: key }, required: [] },
  blank: (id) => ({ id, do: 'read' }),
  sentence: (step, nameOf) => (step.kind === undefined ? [say('Read the pages as '), pick('the kind that was found')] : [say('Read the pages as '), pick(nameOf('kind', step.kind))]),
  form: [{ is: 'pick', at: 'kind', label: 'As which kind', of: 'kind', optional: 'The kind that was found before' }],
  complain: (step, { kinds }) => (step.kind === undefined ? [] : notPublished(step.kind, kinds)),
};

export const check: StepEntry<CheckStep> = {
  name: 'Check', group: 'Read', about: 'Apply the checks of the kind that was read', words: 'validate rules verify sums',
  schema: { properties: {}, required: [] },
  blank: (id) => ({ id, do: 'check' }),
  sentence: () => [say('Check it by the rules of its kind')],
  form: [],
};

const notPublished = (key: string, kinds: readonly { readonly key: string }[]): string[] => (kinds.some((kind) => kind.key === key) ? [] : [`The document kind “${key}” is not published. Publish it, or choose another.`]);
