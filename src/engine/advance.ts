import { needsContent } from '@/core/pipeline/content';
import { knownSoFar, planNext, type Next, type Spot } from '@/core/pipeline/planner';
import type { PipelineDefinition, Step } from '@/core/pipeline/definition';
import { ValueProblem, type DocumentFacts } from '@/core/pipeline/values';
import { budgetFor, isExhausted, pauseBefore } from '@/core/resilience/backoff';
import { classOf, failureOf, FAILURES, isRetryable, StepFailure, wantsPatience, type Failure } from '@/core/resilience/failure';
import { isConnectionLost, isoMoment, type Queries } from '@/store/database';
import { documentById, pagesOf, type DocumentRow } from '@/store/queries/documents';
import { confirmDelivery, doubtDelivery, planDelivery, unplanDelivery } from '@/store/queries/deliveries';
import type { Claim } from '@/store/queries/runs';
import type { Page } from '@/core/page/page';
import type { Engine } from './engine';
import { ClaimLost, Journal } from './journal';
import { ONCE } from './outside';
import { HANDLERS } from './steps/handlers';
import { taskFor, type Outcome, type Proof, type Sending, type StepContext, type StepHandler } from './step';

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
    const next = planNext(subject.pipeline, journal.facts, engine.budget, journal.resting);
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
  /** The document as it is now; its content may come while the run goes on. */
  row: DocumentRow;
  document: DocumentFacts & { readonly sha256: string; readonly subject: string | null };
  pages: () => Promise<readonly Page[]>;
}

async function subjectOf(engine: Engine, claim: Claim): Promise<Subject> {
  const [pipeline, row] = await Promise.all([engine.pipeline(claim.pipelineKey, claim.pipelineVersion), documentById(engine.db, claim.documentId)]);
  if (!pipeline || !row) throw new Error(`Run ${claim.runId} belongs to ${pipeline ? 'a document' : 'a pipeline version'} that is not there.`);
  return { pipeline, ...aboutDocument(engine, row) };
}

function aboutDocument(engine: Engine, row: DocumentRow): Omit<Subject, 'pipeline'> {
  let pages: Promise<readonly Page[]> | null = null;
  return {
    row,
    document: { id: row.id, sha256: row.sha256, subject: row.subject, fileName: row.fileName, receivedAt: isoMoment(row.receivedAt), sender: row.sender },
    pages: () => (pages ??= pagesOf(engine.db, row.sha256)),
  };
}

/** True when this claim has come to its end. */
async function takeUp(engine: Engine, journal: Journal, subject: Subject, next: Next, signal: AbortSignal): Promise<boolean> {
  switch (next.next) {
    case 'do':
    case 'retry':
      await attemptStep(engine, journal, subject, next, signal);
      return false;
    case 'rest':
      await journal.commitRest(next.id);
      return true;
    case 'wait for a person':
      await journal.commitWait(next.id);
      return true;
    case 'stranded':
      await journal.commit({ to: 'stranded', atStep: next.id, failure: next.failure });
      return true;
    case 'finished':
      await journal.commit({ to: 'finished', stopped: next.stopped, failure: null, ...(next.stopped === null ? { atStep: null } : {}) });
      return true;
  }
}

type Trial = Extract<Next, { next: 'do' | 'retry' }>;

async function attemptStep(engine: Engine, journal: Journal, subject: Subject, next: Trial, signal: AbortSignal): Promise<void> {
  const begun = engine.clock.nowMs();
  const took = () => engine.clock.nowMs() - begun;
  try {
    if (subject.row.awaits !== null && needsContent(next.step)) Object.assign(subject, aboutDocument(engine, await within(STEP_DEADLINE_MS, engine.content(subject.row))));
    const outcome = await within(STEP_DEADLINE_MS, (HANDLERS[next.step.do] as StepHandler)(next.step, contextOf(engine, journal, subject, next, signal)));
    await settle(journal, next, outcome, { subject, took });
  } catch (error) {
    // Not the step's doing: the claim is gone, or our database with it. A peer that was lost comes as a failure of the step.
    if (error instanceof ClaimLost || (!(error instanceof StepFailure) && isConnectionLost(error))) throw error;
    afterFailure({ engine, journal, subject }, next, failureFrom(error), took());
  }
}

function contextOf(engine: Engine, journal: Journal, subject: Subject, next: Trial, signal: AbortSignal): StepContext {
  const { document, pages, pipeline } = subject;
  const known = knownSoFar(pipeline, journal.facts, next);
  const once = next.memory?.[ONCE];
  return { engine: typeof once === 'string' ? { ...engine, outside: engine.outside.once(once) } : engine, claim: journal.claim, spot: next, document, pages, known, scope: { known, document }, memory: next.memory, signal };
}

/** An expression that fails for this document is the pipeline's fault, not ours. */
const failureFrom = (error: unknown): Failure => (error instanceof ValueProblem ? new StepFailure('value-failed', `${error.message}. Change the pipeline or the value, then refloat`).failure : failureOf(error));

async function settle(journal: Journal, { id, attempt }: Trial, outcome: Outcome, { subject, took }: { subject: Subject; took: () => number }): Promise<void> {
  switch (outcome.then) {
    case 'record':
      journal.done(id, outcome.result, { attempts: attempt, tookMs: took(), alongside: outcome.alongside });
      return;
    case 'ask':
      journal.waiting(id, outcome.task, took());
      return;
    case 'pause':
      journal.paused(id, outcome.memory, took());
      journal.rest(id, outcome.forMs, null);
      return;
    case 'send': {
      const { delivery } = outcome;
      const proof = await deliver(journal, id, delivery);
      if (proof === 'uncertain') askWhetherItArrived(journal, { id, delivery, subject, tookMs: took() });
      else journal.done(id, delivery.result(proof), { attempts: attempt, tookMs: took(), alongside: async (tx) => void (await confirmDelivery(tx, delivery.key, proof)) });
      return;
    }
  }
}

/** Planned before sent; where an earlier attempt may have sent it already, the other side is asked first. */
async function deliver(journal: Journal, stepId: string, delivery: Sending): Promise<Proof | 'uncertain'> {
  const { key, target, rows } = delivery;
  let fresh = true;
  await journal.commit({ to: 'working', atStep: stepId }, async (tx) => {
    fresh = await planDelivery(tx, { key, runId: journal.claim.runId, stepId, target, rows });
  });
  if (fresh) return within(STEP_DEADLINE_MS, delivery.send());
  if (delivery.confirm === null) return 'uncertain';
  try {
    return (await delivery.confirm()) ?? (await within(STEP_DEADLINE_MS, delivery.send()));
  } catch (error) {
    // This attempt may have touched nothing; the one before it may have written all the same, and is asked after again.
    throw error instanceof StepFailure ? error.touched() : error;
  }
}

function askWhetherItArrived(journal: Journal, { id, delivery, subject, tookMs }: { id: string; delivery: Sending; subject: Subject; tookMs: number }): void {
  const { key, target } = delivery;
  const text = `An attempt to write to ${target} broke off, and nobody can tell from here whether it arrived. Look there first.`;
  const task = taskFor({ claim: journal.claim, spot: { id } as Spot, document: subject.document }, { title: 'Has it arrived?', reason: text, question: { asks: 'delivery', text, key, target } });
  journal.waiting(id, task, tookMs, (tx) => doubtDelivery(tx, key));
}

/** Record the failed attempt and, where it may be made again, when; where a person can help, ask. */
function afterFailure({ engine, journal, subject }: { engine: Engine; journal: Journal; subject: Subject }, { id, step, attempt, memory }: Trial, failure: Failure, tookMs: number): void {
  if (classOf(failure) === 'person') return askForHelp(journal, subject, { id, step, failure, tookMs });
  if (classOf(failure) === 'held') return hold({ engine, journal }, { id, memory }, failure, tookMs);
  const before = journal.facts.get(id);
  const worked = (before?.state === 'failed' ? before.spentMs : 0) + tookMs;
  const budget = budgetFor(engine.budget, wantsPatience(failure));
  const pause = pauseBefore(attempt + 1, budget, engine.chance(), failure.retryAfterMs);
  const again = isRetryable(failure) && !isExhausted(budget, { attempts: attempt, spentMs: worked + pause });
  const spentMs = again ? worked + pause : Math.max(worked, isRetryable(failure) ? budget.totalMs : worked);
  journal.failed(id, failure, { attempts: attempt, spentMs, tookMs, nextInMs: again ? pause : null, alongside: unplanned(journal, id, failure) });
  if (again) journal.rest(id, pause, failure);
}

/** Where surely nothing was written, the next attempt is the first again and need not ask whether it was. */
const unplanned = (journal: Journal, id: string, failure: Failure) => async (tx: Queries): Promise<void> => {
  if (failure.untouched) await unplanDelivery(tx, `${journal.claim.runId}/${id}`);
};

/** Longest rest of a run that others come before, ms. */
const HELD_MS = 60_000;

/**
 * Nothing was tried: the step keeps its attempts and comes again later. Many may wait for the same connection; each comes at another
 * moment, so that they do not all ask at once for the one place that gets free.
 */
function hold({ engine, journal }: { readonly engine: Engine; readonly journal: Journal }, { id, memory }: Pick<Trial, 'id' | 'memory'>, failure: Failure, tookMs: number): void {
  const forMs = Math.min(HELD_MS, (failure.retryAfterMs ?? 1_000) * (1 + 3 * engine.chance()));
  journal.held(id, memory ?? {}, tookMs, unplanned(journal, id, failure));
  journal.rest(id, forMs, failure);
}

/** Something is missing that a person can supply; the step is done again when it is there. */
function askForHelp(journal: Journal, subject: Subject, { id, step, failure, tookMs }: { id: string; step: Step; failure: Failure; tookMs: number }): void {
  const about = failure.about ?? `step:${subject.pipeline.key}/${id}`;
  const task = taskFor({ claim: journal.claim, spot: { id } as Spot, document: subject.document }, { title: FAILURES[failure.code].text, reason: failure.message, about, question: { asks: 'supply', text: failure.message, about, ...(failure.columns ? { columns: failure.columns } : {}), ...credentialOf(step, failure) } });
  journal.waiting(id, task, tookMs, unplanned(journal, id, failure));
}

/** Steps that go out with the secret of one connection can be given another for one time. */
function credentialOf(step: Step, failure: Failure): { readonly credential?: string } {
  return failure.code === 'no-credential' && 'connection' in step && failure.about === `connection:${step.connection}` ? { credential: step.connection } : {};
}

function within<T>(ms: number, work: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new StepFailure('deadline', `not done after ${ms / 1000} s`)), ms);
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}
