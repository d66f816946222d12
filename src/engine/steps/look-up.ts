import type { LookUpStep } from '@/core/pipeline/definition';
import { valueOf } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import { taskFor, type StepHandler } from '../step';

export const lookUp: StepHandler<LookUpStep> = async (step, context) => {
  const { value } = await valueOf(step.find, context.scope);
  const found = await context.engine.outside.find(step.list, step.column ?? null, value);
  if (found.row !== null) return { then: 'record', result: { made: 'row', list: step.list, values: found.row } };
  const missing = value === null ? 'There is no value to look up' : `“${value}” is not in the list “${step.list}”`;
  switch (step.missing ?? 'ask') {
    case 'go on':
      return { then: 'record', result: { made: 'row', list: step.list, values: null } };
    case 'strand':
      throw new StepFailure('not-in-list', `${missing}. Add it to the list or correct it, then refloat`);
    case 'ask':
      return { then: 'ask', task: taskFor(context, { title: 'Which one is it?', reason: `${missing}.`, question: { asks: 'row', text: `${missing}. Which one is meant?`, list: step.list, options: found.near } }) };
  }
};
