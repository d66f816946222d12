import { budgetFor, isExhausted, type Budget } from '@/core/resilience/backoff';
import { isRetryable, wantsPatience, type Failure } from '@/core/resilience/failure';
import { eachStep, type EachStep, type PipelineDefinition, type Step } from './definition';
import { CAME, factId, knownFrom, type Facts, type Known, type Memory, type StepFact, type StepResult } from './facts';

/** A step where it stands in the run: within lines it is done once for each of them. */
export interface Spot {
  readonly step: Step;
  /** Line counted from 0; null outside of lines. */
  readonly line: number | null;
  /** Id of its fact. */
  readonly id: string;
}

/** What is next for a run. */
export type Next =
  | (Spot & { readonly next: 'do'; /** Counted from 1. */ readonly attempt: number; /** What the step left for itself when it paused. */ readonly memory: Memory | null })
  | (Spot & { readonly next: 'retry'; readonly attempt: number; readonly failure: Failure; readonly memory: Memory | null })
  /** Nothing but steps that paused or failed just now: come back later. */
  | (Spot & { readonly next: 'rest' })
  | (Spot & { readonly next: 'wait for a person'; readonly task: string })
  | (Spot & { readonly next: 'stranded'; readonly failure: Failure })
  | { readonly next: 'finished'; readonly stopped: string | null };

/** How urgent it is; among lines the most urgent is next, so that one that fails or waits holds up no other. */
const URGENCY: Readonly<Record<Next['next'], number>> = { do: 0, retry: 1, rest: 2, 'wait for a person': 3, stranded: 4, finished: 5 };

/** What the planner goes by. */
interface Ground {
  readonly facts: Facts;
  readonly budget: Budget;
  /** Fact ids of steps that paused or failed under this claim; their time has not come yet. */
  readonly resting: ReadonlySet<string>;
}

const NONE: ReadonlySet<string> = new Set();

/**
 * Given the definition and the facts so far: what is next. Pure; the engine, the try-out and the replay all ask it.
 * `retry` says that the last attempt failed and may be made again; when, the engine decides with the database's clock.
 */
export function planNext(definition: PipelineDefinition, facts: Facts, budget: Budget, resting = NONE): Next {
  return planSteps(definition.steps, null, { facts, budget, resting }) ?? { next: 'finished', stopped: null };
}

/** Null: all of these are done. */
function planSteps(steps: readonly Step[], line: number | null, ground: Ground): Next | null {
  for (const step of steps) {
    if (step.off) continue;
    const spot: Spot = { step, line, id: factId(step.id, line) };
    const fact = ground.facts.get(spot.id);
    if (fact?.state !== 'done') return planStep(spot, fact, ground);
    if (fact.result.made === 'stop') return { next: 'finished', stopped: fact.result.reason };
    const within = planWithin(step, fact.result, line, ground);
    if (within) return within;
  }
  return null;
}

function planStep(spot: Spot, fact: Exclude<StepFact, { state: 'done' }> | undefined, { budget, resting }: Ground): Next {
  if (!fact) return { ...spot, next: 'do', attempt: 1, memory: null };
  switch (fact.state) {
    case 'waiting':
      return { ...spot, next: 'wait for a person', task: fact.task };
    case 'paused':
      return resting.has(spot.id) ? { ...spot, next: 'rest' } : { ...spot, next: 'do', attempt: 1, memory: fact.memory };
    case 'failed':
      if (!isRetryable(fact.failure) || isExhausted(budgetFor(budget, wantsPatience(fact.failure)), fact)) return { ...spot, next: 'stranded', failure: fact.failure };
      return resting.has(spot.id) ? { ...spot, next: 'rest' } : { ...spot, next: 'retry', attempt: fact.attempts + 1, failure: fact.failure, memory: fact.memory ?? null };
  }
}

function planWithin(step: Step, result: StepResult, line: number | null, ground: Ground): Next | null {
  if (step.do === 'branch' && result.made === 'choice') return planSteps(wayOf(step, result), line, ground);
  if (step.do === 'each' && result.made === 'lines') return planLines(step, result.lines, ground);
  return null;
}

/** How far the lines of a step have come, as far as was looked. */
interface Progress {
  /** Lines before `next` that are not done: they failed, rest, or wait. */
  blocked: number[];
  /** The first line that was not looked at yet. */
  next: number;
}

/**
 * What is done stays done while a claim lasts, so that lines that are done need not be looked at again: a document of thousands of lines
 * would otherwise be gone over thousands of times. Kept beside the facts, and forgotten with them.
 */
const progressOf = new WeakMap<Facts, Map<string, Progress>>();

function progressIn(facts: Facts, step: string): Progress {
  const steps = progressOf.get(facts) ?? new Map<string, Progress>();
  progressOf.set(facts, steps);
  const progress = steps.get(step) ?? { blocked: [], next: 0 };
  steps.set(step, progress);
  return progress;
}

function planLines(step: EachStep, lines: number, ground: Ground): Next | null {
  const progress = progressIn(ground.facts, step.id);
  let most: Next | null = null;
  // A line that was stopped on purpose is done; the others go on.
  const look = (line: number): Next | null => {
    const next = planSteps(step.steps, line, ground);
    const open = next?.next === 'finished' ? null : next;
    if (open && (most === null || URGENCY[open.next] < URGENCY[most.next])) most = open;
    return open;
  };
  const blocked: number[] = [];
  for (const [index, line] of progress.blocked.entries()) {
    const next = look(line);
    if (next) blocked.push(line);
    if (next?.next === 'do') return endWith(progress, [...blocked, ...progress.blocked.slice(index + 1)], next);
  }
  progress.blocked = blocked;
  for (; progress.next < lines; progress.next += 1) {
    const next = look(progress.next);
    if (next?.next === 'do') return next;
    if (next) progress.blocked.push(progress.next);
  }
  return most;
}

function endWith(progress: Progress, blocked: number[], next: Next): Next {
  progress.blocked = blocked;
  return next;
}

const wayOf = (step: Extract<Step, { do: 'branch' }>, { way }: Extract<StepResult, { made: 'choice' }>): readonly Step[] => (way === 'else' ? step.else?.steps : step.ways[way]?.steps) ?? [];

/** The steps on this run's way, as far as its choices are known; of lines only the one that is asked for. */
function* spotsTaken(steps: readonly Step[], facts: Facts, line: number | null, wanted: number | null): Generator<Spot> {
  for (const step of steps) {
    if (step.off) continue;
    const id = factId(step.id, line);
    yield { step, line, id };
    if (step.do === 'each' && wanted !== null) yield* spotsTaken(step.steps, facts, wanted, wanted);
    if (step.do !== 'branch') continue;
    const fact = facts.get(id);
    if (fact?.state !== 'done' || fact.result.made !== 'choice') return;
    yield* spotsTaken(wayOf(step, fact.result), facts, line, wanted);
  }
}

/** What the finished steps have made known, in the order of the steps; within lines also what that line has made known, and its row. */
export function knownSoFar(definition: PipelineDefinition, facts: Facts, at: Pick<Spot, 'step' | 'line'> | null = null): Known {
  const came = facts.get(CAME);
  const results: [string, StepResult][] = came?.state === 'done' ? [[CAME, came.result]] : [];
  for (const spot of spotsTaken(definition.steps, facts, null, at?.line ?? null)) {
    const fact = facts.get(spot.id);
    if (fact?.state === 'done') results.push([spot.step.id, fact.result]);
  }
  const known = knownFrom(results);
  return at === null || at.line === null ? known : { ...known, row: rowAt(definition, known, at.step.id, at.line) };
}

function rowAt(definition: PipelineDefinition, known: Known, step: string, line: number): Known['row'] {
  const table = tableAround(definition.steps, step);
  return table === null ? null : (known.readings.tables[table]?.[line] ?? null);
}

/** The table whose lines a step is done for; null outside of lines. */
export function tableAround(steps: readonly Step[], id: string): string | null {
  const around = [...eachStep(steps)].find(({ step }) => step.do === 'each' && [...eachStep(step.steps)].some(({ step: inner }) => inner.id === id));
  return around?.step.do === 'each' ? around.step.of : null;
}

/** Ids of steps on branches that this run did not take. */
export function stepsNotTaken(definition: PipelineDefinition, facts: Facts): Set<string> {
  const taken = [...spotsTaken(definition.steps, facts, null, null)].map(({ step }) => step);
  if (taken.some((step) => step.do === 'branch' && facts.get(step.id)?.state !== 'done')) return new Set();
  // What happens within lines differs from line to line.
  const reached = new Set(taken.flatMap((step) => (step.do === 'each' ? [step.id, ...[...eachStep(step.steps)].map(({ step: inner }) => inner.id)] : [step.id])));
  return new Set([...eachStep(definition.steps)].map(({ step }) => step.id).filter((id) => !reached.has(id)));
}
