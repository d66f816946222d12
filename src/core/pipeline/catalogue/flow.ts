import type { BranchStep, EachStep, SetStep, StartStep, StopStep } from '../definition';
import { conditionText, pick, say, usesOfCondition, usesOfTemplate, valueText, type StepEntry } from './entry';
import { composed, condition, key, mapOf, object, steps, text, value, valueKey } from './schema-parts';

export const branch: StepEntry<BranchStep> = {
  name: 'Branch', group: 'Decide', about: 'Take one of several ways', words: 'if else condition switch decide route',
  schema: { properties: { ways: { type: 'array', items: object({ name: text, when: condition, steps }, ['name', 'when', 'steps']), minItems: 1, maxItems: 20 }, else: object({ name: text, steps }, ['steps']) }, required: ['ways'] },
  blank: (id) => ({ id, do: 'branch', ways: [{ name: 'First way', when: { trusted: true }, steps: [] }], else: { name: 'Otherwise', steps: [] } }),
  sentence: (step) => [say('Choose a way: '), ...step.ways.flatMap((way, index) => [say(index === 0 ? '' : '; '), pick(way.name), say(` if ${conditionText(way.when)}`)]), say(step.else ? `; ${step.else.name ?? 'otherwise'}` : '')],
  form: [{ is: 'ways', at: 'ways' }],
  uses: (step) => step.ways.flatMap((way) => usesOfCondition(way.when)),
};

export const set: StepEntry<SetStep> = {
  name: 'Note', group: 'Decide', about: 'Note or compute values for later steps', words: 'set variable compute calculate formula expression value',
  schema: { properties: { values: mapOf({ oneOf: [text, composed] }, valueKey, 1) }, required: ['values'] },
  blank: (id) => ({ id, do: 'set', values: { value: { text: '' } } }),
  sentence: (step) => [say('Note '), ...Object.entries(step.values).flatMap(([name, value], index) => [say(index === 0 ? '' : ', '), say(`${name} = `), pick(typeof value === 'string' ? `“${value}”` : valueText(value))])],
  form: [{ is: 'columns', at: 'values', label: 'Values', of: 'notes' }],
  uses: (step) => Object.values(step.values).flatMap((value) => (typeof value === 'string' ? [] : [{ value }])),
};

export const each: StepEntry<EachStep> = {
  name: 'For each', group: 'Flow', about: 'Do steps for every row of a table', words: 'loop lines iterate rows foreach',
  schema: { properties: { of: valueKey, steps }, required: ['of', 'steps'] },
  blank: (id) => ({ id, do: 'each', of: '', steps: [] }),
  sentence: (step) => [say('For each of its '), pick(step.of)],
  form: [{ is: 'pick', at: 'of', label: 'Rows of the table', of: 'table' }],
};

export const start: StepEntry<StartStep> = {
  name: 'Start', group: 'Flow', about: 'Give the document to another pipeline', words: 'call pipeline subprocess hand over',
  schema: { properties: { pipeline: key, give: mapOf(value) }, required: ['pipeline'] },
  blank: (id) => ({ id, do: 'start', pipeline: '' }),
  sentence: (step, nameOf) => [say('Give it to the pipeline '), pick(step.pipeline === '' ? '' : nameOf('pipeline', step.pipeline))],
  form: [{ is: 'pick', at: 'pipeline', label: 'Which pipeline', of: 'pipeline' }, { is: 'columns', at: 'give', label: 'What goes along (found there under “came”)', of: 'free' }],
  uses: (step) => Object.values(step.give ?? {}).map((given) => ({ value: given })),
  gives: () => [{ name: 'run', label: 'The run that was started' }],
  complain: (step, { pipelines }) => (pipelines.some((pipeline) => pipeline.key === step.pipeline) ? [] : [step.pipeline === '' ? 'Choose the pipeline to start.' : `There is no published pipeline “${step.pipeline}”.`]),
};

export const stop: StepEntry<StopStep> = {
  name: 'Stop', group: 'Flow', about: 'End the run here on purpose', words: 'end finish abort reject',
  schema: { properties: { reason: text }, required: ['reason'] },
  blank: (id) => ({ id, do: 'stop', reason: 'Not for us' }),
  sentence: (step) => [say('Stop: '), pick(step.reason)],
  form: [{ is: 'template', at: 'reason', label: 'The reason' }],
  uses: (step) => usesOfTemplate(step.reason),
};
