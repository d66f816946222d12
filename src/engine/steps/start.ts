import type { StartStep } from '@/core/pipeline/definition';
import { valuesOf } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import { newId } from '@/settings/identifier';
import { insertRun } from '@/store/queries/runs';
import type { StepHandler } from '../step';

/** Pipelines that start each other in a row. Static checks find circles; this stops those that arise from later changes. */
const MOST_DEPTH = 8;

/** The new run commits together with the fact, so that it is started once. */
export const start: StepHandler<StartStep> = async (step, { engine, claim, document, scope }) => {
  const version = await engine.outside.publishedVersion(step.pipeline);
  if (version === null) throw new StepFailure('no-such-pipeline', `“${step.pipeline}”. Publish it, then refloat`);
  if (claim.depth + 1 > MOST_DEPTH) throw new StepFailure('too-deep', `this run is number ${claim.depth + 1} in a row of pipelines that start each other. Take the step “${step.id}” out of the circle`);
  const run = newId();
  const values = await valuesOf(step.give ?? {}, scope);
  return {
    then: 'record',
    result: { made: 'started', pipeline: step.pipeline, run },
    alongside: async (tx) => {
      await insertRun(tx, { id: run, documentId: document.id, pipelineKey: step.pipeline, pipelineVersion: version, depth: claim.depth + 1, came: step.give && { from: claim.pipelineKey, values } });
    },
  };
};
