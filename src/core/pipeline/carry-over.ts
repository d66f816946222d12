import { eachStep, type PipelineDefinition } from './definition';
import { CAME, partsOf } from './facts';

/**
 * Why a run that has come so far in one version of a pipeline cannot go on in another; null when it can. What it has done must be known
 * there under the same name and be of the same sort: a fact about a step means nothing for another one.
 */
export function carryOverProblem(from: PipelineDefinition, to: PipelineDefinition, reached: Iterable<string>): string | null {
  const [before, after] = [kindsOf(from), kindsOf(to)];
  for (const fact of reached) {
    const { step } = partsOf(fact);
    // What it was given when it was started belongs to the run, not to a version.
    if (step === CAME) continue;
    if (!after.has(step)) return `the step “${step}” is not there any more`;
    if (after.get(step) !== before.get(step)) return `the step “${step}” is of another sort now`;
  }
  return null;
}

const kindsOf = (pipeline: PipelineDefinition): ReadonlyMap<string, string> => new Map([...eachStep(pipeline.steps)].map(({ step }) => [step.id, step.do]));
