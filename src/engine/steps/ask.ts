import type { ApproveStep, AskStep } from '@/core/pipeline/definition';
import { fillIn, holds } from '@/core/pipeline/values';
import { taskFor, type StepHandler } from '../step';

export const ask: StepHandler<AskStep> = async (step, context) => {
  if (step.when && !holds(step.when, context.scope)) return { then: 'record', result: { made: 'no question' } };
  const text = fillIn(step.text ?? '', context.scope);
  return { then: 'ask', task: taskFor(context, { title: step.title, reason: text || step.title, question: { asks: 'form', text, answers: step.answers } }) };
};

/** Values that an approver wants to see first, at most. */
const MOST_FACTS = 12;

export const approve: StepHandler<ApproveStep> = async (step, context) => {
  const { scope, engine, known } = context;
  if (step.when && !holds(step.when, scope)) return { then: 'record', result: { made: 'no question' } };
  const text = fillIn(step.text ?? '', scope);
  const kind = known.reading ? await engine.kind(known.reading.kind) : null;
  const facts = (kind?.fields ?? []).flatMap((field) => {
    const value = known.readings.fields[field.key]?.value ?? null;
    return value === null ? [] : [{ name: field.label, value }];
  });
  return { then: 'ask', task: taskFor(context, { title: step.title, reason: text || step.title, question: { asks: 'approval', text, facts: facts.slice(0, MOST_FACTS), rejected: step.rejected ?? 'stop' } }) };
};
