import type { BranchStep, SetStep, StopStep } from '@/core/pipeline/definition';
import { holds } from '@/core/pipeline/values';
import type { StepHandler } from '../step';

export const branch: StepHandler<BranchStep> = async (step, { known, document }) => {
  const way = step.ways.findIndex((candidate) => holds(candidate.when, known, document));
  const name = way < 0 ? (step.else?.name ?? 'otherwise') : (step.ways[way]?.name ?? '');
  return { then: 'record', result: { made: 'choice', way: way < 0 ? 'else' : way, name } };
};

export const set: StepHandler<SetStep> = async (step) => ({ then: 'record', result: { made: 'notes', values: step.values } });

export const stop: StepHandler<StopStep> = async (step) => ({ then: 'record', result: { made: 'stop', reason: step.reason } });
