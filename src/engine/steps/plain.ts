import type { BranchStep, EachStep, SetStep, StopStep, WaitStep } from '@/core/pipeline/definition';
import { notesOf } from '@/core/pipeline/notes';
import { chooseWay, fillIn, valueOf, valuesOf, type Scope } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import type { StepHandler } from '../step';

/** Lines that are worked on one by one; a document with more is a database. */
const MOST_LINES = 10_000;

export const branch: StepHandler<BranchStep> = async (step, { scope }) => ({ then: 'record', result: chooseWay(step, scope) });

export const set: StepHandler<SetStep> = async (step, { scope }) => ({ then: 'record', result: { made: 'notes', values: await valuesOf(notesOf(step.values), scope) } });

export const stop: StepHandler<StopStep> = async (step, { scope }) => ({ then: 'record', result: { made: 'stop', reason: fillIn(step.reason, scope).slice(0, 400) } });

export const each: StepHandler<EachStep> = async (step, { known }) => {
  const lines = known.readings.tables[step.of]?.length ?? 0;
  if (lines > MOST_LINES) throw new StepFailure('value-failed', `“${step.of}” has ${lines} rows; at most ${MOST_LINES} are worked on one by one. Write them with one step instead`);
  return { then: 'record', result: { made: 'lines', of: step.of, lines } };
};

/** The moment is fixed at the first attempt. The database's clock wakes the run; another line may wake it sooner, and then it waits on. */
export const wait: StepHandler<WaitStep> = async (step, { scope, memory, engine }) => {
  const nowMs = engine.clock.nowMs();
  const moment = typeof memory?.['until'] === 'string' ? Date.parse(memory['until']) : await momentOf(step, scope, nowMs);
  if (moment <= nowMs) return { then: 'record', result: { made: 'pause', until: new Date(nowMs).toISOString() } };
  return { then: 'pause', memory: { until: new Date(moment).toISOString() }, forMs: moment - nowMs };
};

/** ISO 8601 date, or date and time. */
const ISO_MOMENT = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})?)?$/;
const MOST_WAIT_MS = 3_653 * 86_400_000;

async function momentOf(step: WaitStep, scope: Scope, nowMs: number): Promise<number> {
  if (step.until === undefined) return nowMs + (step.minutes ?? 0) * 60_000;
  const until = (await valueOf(step.until, scope)).value;
  if (until === null) return nowMs;
  // Without this, the platform reads many a number as a year.
  const moment = ISO_MOMENT.test(until) ? Date.parse(until) : NaN;
  if (Number.isNaN(moment) || moment - nowMs > MOST_WAIT_MS) throw new StepFailure('value-failed', `“${until}” is no date or time to wait until, or lies more than ten years ahead. Correct it at the desk or in the pipeline, then refloat`);
  return moment;
}
