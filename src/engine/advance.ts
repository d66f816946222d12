import { knownSoFar, planNext, type Next } from '@/core/pipeline/planner';
import type { PipelineDefinition, Step } from '@/core/pipeline/definition';
import type { DocumentFacts } from '@/core/pipeline/values';
import { isExhausted, pauseBefore } from '@/core/resilience/backoff';
import { failureOf, isRetryable, StepFailure, type Failure } from '@/core/resilience/failure';
import { isConnectionLost, isoMoment } from '@/store/database';
import { documentById, pagesOf } from '@/store/queries/documents';
import { confirmDelivery, planDelivery } from '@/store/queries/deliveries';
import type { Claim } from '@/store/queries/runs';
import { insertTask } from '@/store/queries/tasks';
import type { Page } from '@/core/page/page';
import type { Engine } from './engine';
import { ClaimLost, Journal } from './journal';
import { HANDLERS } from './steps/handlers';
import type { Outcome, Proof, Sending, StepContext, StepHandler } from './step';

/** A step that does not come back within this time is given up and tried again, ms. */
const STEP_DEADLINE_MS = 120_000;

/**
 * Take a claimed run as far as it goes: ask the planner, do, note, ask again. Ends with the run finished, waiting, queued for
 * a later attempt, or stranded; or throws {@link ClaimLost} or the error of a lost database, and then another claim goes on.
 */
export async function advance(engine: Engine, claim: Claim, signal: AbortSignal): Promise<void> {
  const journal = await Journal.open(engine.db, claim);
  const subject = await subjectOf(engine, claim);
  const once: Engine = { ...engine, kind: askedOnce(engine.kind) };
  for (;;) {
    if (signal.aborted) throw new ClaimLost(`run ${claim.runId} was let go`);
    const next = planNext(subject.pipeline, journal.facts, engine.budget);
    const ended = await takeUp(once, journal, subject, next, signal);
    if (ended) return;
  }
}

/** The steps of one claim work with one version of a kind, and the database is asked for it once. */
function askedOnce(kind: Engine['kind']): Engine['kind'] {
  const asked = new Map<string, ReturnType<Engine['kind']>>();
  return (key) => {
    const answer = asked.get(key) ?? kind(key);
    asked.set(key, answer);
    return answer;
  };
}

interface Subject {
  readonly pipeline: PipelineDefinition;
  readonly document: DocumentFacts;
  readonly pages: () => Promise<readonly Page[]>;
}

async function subjectOf(engine: Engine, claim: Claim): Promise<Subject> {
  const [pipeline, document] = await Promise.all([engine.pipeline(claim.pipelineKey, claim.pipelineVersion), documentById(engine.db, claim.documentId)]);
  if (!pipeline || !document) throw new Error(`Run ${claim.runId} belongs to ${pipeline ? 'a document' : 'a pipeline version'} that is not there.`);
  let pages: Promise<readonly Page[]> | null = null;
  return {
    pipeline,
    document: { id: document.id, fileName: document.fileName, receivedAt: isoMoment(document.receivedAt), sender: document.sender },
    pages: () => (pages ??= pagesOf(engine.db, document.sha256)),
  };
}

/** True when this claim has come to its end. */
async function takeUp(engine: Engine, journal: Journal, subject: Subject, next: Next, signal: AbortSignal): Promise<boolean> {
  switch (next.next) {
    case 'do':
    case 'retry':
      return attemptStep(engine, journal, subject, next, signal);
    case 'wait for a person':
      await journal.commit({ to: 'waiting', atStep: next.step.id });
      return true;
    case 'stranded':
      await journal.commit({ to: 'stranded', atStep: next.step.id, failure: next.failure });
      return true;
    case 'finished':
      await journal.commit({ to: 'finished', stopped: next.stopped, failure: null, ...(next.stopped === null ? { atStep: null } : {}) });
      return true;
  }
}

type Attempt = { readonly step: Step; readonly attempt: number };

async function attemptStep(engine: Engine, journal: Journal, subject: Subject, { step, attempt }: Attempt, signal: AbortSignal): Promise<boolean> {
  const begun = engine.clock.nowMs();
  const took = () => engine.clock.nowMs() - begun;
  try {
    const context: StepContext = { engine, claim: journal.claim, document: subject.document, pages: subject.pages, known: knownSoFar(subject.pipeline, journal.facts), signal };
    const outcome = await within(STEP_DEADLINE_MS, (HANDLERS[step.do] as StepHandler)(step, context));
    await settle(journal, step, outcome, { attempts: attempt, took });
    return false;
  } catch (error) {
    // Not the step's doing: the claim is gone, or the database with it.
    if (error instanceof ClaimLost || isConnectionLost(error)) throw error;
    return afterFailure(engine, journal, { step, attempt }, failureOf(error), took());
  }
}

async function settle(journal: Journal, step: Step, outcome: Outcome, how: { attempts: number; took: () => number }): Promise<void> {
  switch (outcome.then) {
    case 'record':
      return journal.done(step.id, outcome.result, { attempts: how.attempts, tookMs: how.took(), alongside: outcome.alongside });
    case 'ask':
      return journal.waiting(step.id, outcome.task.id, how.took(), (tx) => insertTask(tx, outcome.task));
    case 'send': {
      const proof = await deliver(journal, step, outcome.delivery);
      const { delivery } = outcome;
      return journal.done(step.id, { made: 'rows', target: delivery.target, rows: proof.rows, left: proof.left }, { attempts: how.attempts, tookMs: how.took(), alongside: async (tx) => void (await confirmDelivery(tx, delivery.key, proof)) });
    }
  }
}

/** Planned before sent; where an earlier attempt may have sent it already, the other side is asked first. */
async function deliver(journal: Journal, step: Step, delivery: Sending): Promise<Proof> {
  const { key, target, rows } = delivery;
  let fresh = true;
  await journal.commit({ to: 'working', atStep: step.id }, async (tx) => {
    fresh = await planDelivery(tx, { key, runId: journal.claim.runId, stepId: step.id, target, rows });
  });
  const arrived = fresh ? null : await delivery.confirm();
  return arrived ?? within(STEP_DEADLINE_MS, delivery.send());
}

/** Record the failed attempt and, where it may be made again, when. True: this claim is over. */
async function afterFailure(engine: Engine, journal: Journal, { step, attempt }: Attempt, failure: Failure, tookMs: number): Promise<boolean> {
  const before = journal.facts.get(step.id);
  const worked = (before?.state === 'failed' ? before.spentMs : 0) + tookMs;
  const pause = pauseBefore(attempt + 1, engine.budget, engine.chance(), failure.retryAfterMs);
  const again = isRetryable(failure) && !isExhausted(engine.budget, { attempts: attempt, spentMs: worked + pause });
  const spentMs = again ? worked + pause : Math.max(worked, isRetryable(failure) ? engine.budget.totalMs : worked);
  journal.failed(step.id, failure, { attempts: attempt, spentMs, tookMs, nextInMs: again ? pause : null });
  if (!again) return false;
  await journal.commit({ to: 'queued', atStep: step.id, dueInMs: pause, failure });
  return true;
}

function within<T>(ms: number, work: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new StepFailure('deadline', `not done after ${ms / 1000} s`)), ms);
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}
