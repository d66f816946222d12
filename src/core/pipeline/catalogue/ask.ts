import { ANSWER_TYPES, type ApproveStep, type AskStep, type DeskStep, type WaitStep } from '../definition';
import { conditionText, pick, picked, say, usesOfCondition, usesOfTemplate, valueText, type StepEntry } from './entry';
import { condition, longText, object, text, value, valueKey } from './schema-parts';

const ifText = (when: DeskStep['when'] | undefined) => (when === undefined ? [] : [say(', if '), pick(conditionText(when))]);

export const desk: StepEntry<DeskStep> = {
  name: 'Desk', group: 'Ask', about: 'Ask a person to review the values', words: 'review human exception correct validation',
  schema: { properties: { when: condition, title: text }, required: ['when'] },
  blank: (id) => ({ id, do: 'desk', when: { trusted: false } }),
  sentence: (step) => [say('Ask the desk to review it'), ...ifText(step.when)],
  form: [{ is: 'condition', at: 'when', label: 'When' }, { is: 'text', at: 'title', label: 'Title on the desk', optional: true }],
  uses: (step) => usesOfCondition(step.when),
};

export const approve: StepEntry<ApproveStep> = {
  name: 'Approve', group: 'Ask', about: 'Ask a person whether it may go on', words: 'approval sign release reject',
  schema: { properties: { title: text, text: longText, when: condition, rejected: { enum: ['stop', 'go on'] } }, required: ['title'] },
  blank: (id) => ({ id, do: 'approve', title: 'Approve this document' }),
  sentence: (step) => [say('Ask for approval: '), pick(step.title), ...ifText(step.when), say(step.rejected === 'go on' ? '; go on either way' : '; stop where it is rejected')],
  form: [
    { is: 'text', at: 'title', label: 'Title on the desk' },
    { is: 'long template', at: 'text', label: 'What the person should know', optional: true },
    { is: 'condition', at: 'when', label: 'Only when', optional: true },
    { is: 'choice', at: 'rejected', label: 'Where it is rejected', options: [{ value: 'stop', label: 'the run stops' }, { value: 'go on', label: 'the run goes on; a branch decides' }] },
  ],
  uses: (step) => [...usesOfTemplate(step.text), ...usesOfCondition(step.when)],
  gives: () => [{ name: 'decision', label: 'Decision (approved or rejected)' }, { name: 'by', label: 'Who decided' }, { name: 'note', label: 'Reason' }],
};

export const ask: StepEntry<AskStep> = {
  name: 'Ask', group: 'Ask', about: 'Ask a person a question with a small form', words: 'question form input human answer',
  schema: {
    properties: { title: text, text: longText, when: condition, answers: { type: 'array', items: object({ key: valueKey, label: text, type: { enum: ANSWER_TYPES }, options: { type: 'array', items: text, minItems: 1, maxItems: 50 }, required: { type: 'boolean' } }, ['key', 'label', 'type']), minItems: 1, maxItems: 20 } },
    required: ['title', 'answers'],
  },
  blank: (id) => ({ id, do: 'ask', title: 'A question', answers: [{ key: 'answer', label: 'Answer', type: 'text' }] }),
  sentence: (step) => [say('Ask the desk: '), pick(step.title), say(' ('), ...picked(step.answers.map((answer) => answer.label)), say(')'), ...ifText(step.when)],
  form: [{ is: 'text', at: 'title', label: 'The question' }, { is: 'long template', at: 'text', label: 'What the person should know', optional: true }, { is: 'answers', at: 'answers' }, { is: 'condition', at: 'when', label: 'Only when', optional: true }],
  uses: (step) => [...usesOfTemplate(step.text), ...usesOfCondition(step.when)],
  gives: (step) => step.answers.map(({ key, label }) => ({ name: key, label })),
  complain: (step) => step.answers.filter((answer) => answer.type === 'choice' && (answer.options ?? []).length === 0).map((answer) => `“${answer.label}” is a choice without options. Name some, or make it a text.`),
};

export const wait: StepEntry<WaitStep> = {
  name: 'Wait', group: 'Flow', about: 'Wait for a time, or until a date', words: 'delay pause until time sleep later',
  schema: { properties: { minutes: { type: 'integer', minimum: 1, maximum: 527_040 }, until: value }, required: [] },
  blank: (id) => ({ id, do: 'wait', minutes: 60 }),
  sentence: (step) => (step.until === undefined ? [say('Wait '), pick(minutesText(step.minutes ?? 0))] : [say('Wait until '), pick(valueText(step.until))]),
  form: [{ is: 'number', at: 'minutes', label: 'Minutes', optional: true, min: 1, max: 527_040 }, { is: 'value', at: 'until', label: 'or until this date or time', optional: true }],
  uses: (step) => (step.until === undefined ? [] : [{ value: step.until }]),
  complain: (step) => (step.minutes === undefined && step.until === undefined ? ['It waits for nothing. Say for how many minutes, or until when.'] : []),
};

function minutesText(minutes: number): string {
  const [count, unit] = minutes % 1440 === 0 && minutes > 0 ? [minutes / 1440, 'day'] : minutes % 60 === 0 && minutes > 0 ? [minutes / 60, 'hour'] : [minutes, 'minute'];
  return `${count} ${unit}${count === 1 ? '' : 's'}`;
}
