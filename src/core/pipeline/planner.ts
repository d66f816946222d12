import { isExhausted, type Budget } from '@/core/resilience/backoff';
import { isRetryable, type Failure } from '@/core/resilience/failure';
import { eachStep, type PipelineDefinition, type Step } from './definition';
import { knownFrom, type Facts, type Known, type StepResult } from './facts';

/** What is next for a run. */
export type Next =
  | { readonly next: 'do'; readonly step: Step; /** Counted from 1. */ readonly attempt: number }
  | { readonly next: 'retry'; readonly step: Step; readonly attempt: number; readonly failure: Failure }
  | { readonly next: 'wait for a person'; readonly step: Step; readonly task: string }
  | { readonly next: 'stranded'; readonly step: Step; readonly failure: Failure }
  | { readonly next: 'finished'; readonly stopped: string | null };

/**
 * Given the definition and the facts so far: what is next. Pure; the engine, the try-out and the replay all ask it.
 * `retry` says that the last attempt failed and may be made again; when, the engine decides with the database's clock.
 */
export function planNext(definition: PipelineDefinition, facts: Facts, budget: Budget): Next {
  for (const step of stepsTaken(definition.steps, facts)) {
    const fact = facts.get(step.id);
    if (!fact) return { next: 'do', step, attempt: 1 };
    if (fact.state === 'waiting') return { next: 'wait for a person', step, task: fact.task };
    if (fact.state === 'failed') {
      const again = isRetryable(fact.failure) && !isExhausted(budget, fact);
      return again ? { next: 'retry', step, attempt: fact.attempts + 1, failure: fact.failure } : { next: 'stranded', step, failure: fact.failure };
    }
    if (fact.result.made === 'stop') return { next: 'finished', stopped: fact.result.reason };
  }
  return { next: 'finished', stopped: null };
}

/** The steps on this run's way, as far as its choices are known. */
function* stepsTaken(steps: readonly Step[], facts: Facts): Generator<Step> {
  for (const step of steps) {
    yield step;
    if (step.do !== 'branch') continue;
    const fact = facts.get(step.id);
    if (fact?.state !== 'done' || fact.result.made !== 'choice') return;
    const { way } = fact.result;
    yield* stepsTaken((way === 'else' ? step.else?.steps : step.ways[way]?.steps) ?? [], facts);
  }
}

/** What the finished steps have made known, in the order of the steps. */
export function knownSoFar(definition: PipelineDefinition, facts: Facts): Known {
  const results: StepResult[] = [];
  for (const step of stepsTaken(definition.steps, facts)) {
    const fact = facts.get(step.id);
    if (fact?.state === 'done') results.push(fact.result);
  }
  return knownFrom(results);
}

/** Ids of steps on branches that this run did not take. */
export function stepsNotTaken(definition: PipelineDefinition, facts: Facts): Set<string> {
  const taken = new Set([...stepsTaken(definition.steps, facts)].map((step) => step.id));
  const open = [...stepsTaken(definition.steps, facts)].some((step) => step.do === 'branch' && facts.get(step.id)?.state !== 'done');
  return new Set(open ? [] : [...eachStep(definition.steps)].map(({ step }) => step.id).filter((id) => !taken.has(id)));
}
