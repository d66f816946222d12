import type { Facts, Memory, StepFact, StepResult } from '@/core/pipeline/facts';
import type { Failure } from '@/core/resilience/failure';
import type { NoticeData, NoticeType } from '@/core/telling/notice';
import { inTransaction, type Db, type Queries } from '@/store/database';
import { noteHappening } from '@/store/queries/notices';
import { countWaiting, factFrom, factRowsOf, insertAttempt, moveClaimed, moveRun, saveFacts, type Claim, type Move, type NewFact } from '@/store/queries/runs';
import { insertTask, type NewTask } from '@/store/queries/tasks';

/** The run has gone to another worker; nothing may be recorded any more. */
export class ClaimLost extends Error {
  override readonly name = 'ClaimLost';
}

interface Pending extends NewFact {
  readonly alongside: ((tx: Queries) => Promise<void>) | undefined;
}

/**
 * The facts of one claimed run. Results of steps that touch nothing outside are kept back and recorded together, in one
 * durable commit, before the next thing that cannot be taken back: a crash in between only means computing them again.
 */
export class Journal {
  readonly #facts: Map<string, StepFact>;
  readonly #resting = new Map<string, { readonly forMs: number; readonly failure: Failure | null }>();
  #pending: Pending[] = [];

  private constructor(
    private readonly db: Db,
    readonly claim: Claim,
    facts: Map<string, StepFact>,
  ) {
    this.#facts = facts;
  }

  static async open(db: Db, claim: Claim): Promise<Journal> {
    // Facts are recorded only under a claim, so the first one finds none; but for what another pipeline gave along.
    const rows = claim.claimNo === 1 && claim.depth === 0 ? [] : await factRowsOf(db, [claim.runId]);
    return new Journal(db, claim, new Map(rows.map((row) => [row.stepId, factFrom(row)])));
  }

  get facts(): Facts {
    return this.#facts;
  }

  /** Note that a step is done. Recorded with the next commit. */
  done(stepId: string, result: StepResult, how: { attempts: number; tookMs: number; alongside?: ((tx: Queries) => Promise<void>) | undefined }): void {
    this.#add({ stepId, fact: { state: 'done', result }, attempts: how.attempts, tookMs: how.tookMs, alongside: how.alongside });
  }

  /** Somebody is asked; `before` comes first in the same transaction. */
  waiting(stepId: string, task: NewTask, tookMs: number, before?: (tx: Queries) => Promise<unknown>): void {
    const alongside = async (tx: Queries) => {
      await before?.(tx);
      await insertTask(tx, task);
      await this.#tell(tx, 'leadline.task.opened', { step: stepId, task: { id: task.id, title: task.title, reason: task.reason } });
    };
    this.#add({ stepId, fact: { state: 'waiting', task: task.id }, attempts: 1, tookMs, alongside });
  }

  paused(stepId: string, memory: Memory, tookMs: number): void {
    this.#add({ stepId, fact: { state: 'paused', memory }, attempts: 1, tookMs, alongside: undefined });
  }

  /** Nothing was tried. What is known of earlier attempts stays as it is. */
  held(stepId: string, memory: Memory, tookMs: number, alongside: (tx: Queries) => Promise<void>): void {
    const before = this.#facts.get(stepId);
    const fact: StepFact = before?.state === 'failed' ? before : { state: 'paused', memory };
    this.#add({ stepId, fact, attempts: before?.state === 'failed' ? before.attempts : 1, tookMs, alongside });
  }

  failed(stepId: string, failure: Failure, how: { attempts: number; spentMs: number; tookMs: number; nextInMs: number | null; alongside?: (tx: Queries) => Promise<void> }): void {
    const { runId } = this.claim;
    const before = this.#facts.get(stepId);
    const memory = before?.state === 'paused' || before?.state === 'failed' ? before.memory : undefined;
    const alongside = async (tx: Queries) => {
      await insertAttempt(tx, { runId, stepId, number: how.attempts, failure, tookMs: how.tookMs, nextInMs: how.nextInMs });
      await how.alongside?.(tx);
    };
    this.#add({ stepId, fact: { state: 'failed', failure, attempts: how.attempts, spentMs: how.spentMs, ...(memory ? { memory } : {}) }, attempts: how.attempts, tookMs: how.tookMs, alongside });
  }

  #add(pending: Pending): void {
    this.#facts.set(pending.stepId, pending.fact);
    this.#pending.push(pending);
  }

  /** Come back after a while: the run holds no worker until then. */
  rest(stepId: string, forMs: number, failure: Failure | null): void {
    this.#resting.set(stepId, { forMs, failure });
  }

  /** Steps that paused or failed under this claim. */
  get resting(): ReadonlySet<string> {
    return new Set(this.#resting.keys());
  }

  /** Let the run go until the first of its resting steps has its time. */
  async commitRest(atStep: string): Promise<void> {
    const [soonest] = [...this.#resting.values()].sort((a, b) => a.forMs - b.forMs);
    await this.commit({ to: 'queued', atStep, dueInMs: soonest?.forMs ?? 0, failure: soonest?.failure ?? null });
  }

  /** Let the run go until a person answers. An answer to another line may have come while this one was worked on: then it goes on at once. */
  async commitWait(atStep: string): Promise<void> {
    const waiting = [...this.#facts.values()].filter((fact) => fact.state === 'waiting').length;
    await this.commit({ to: 'waiting', atStep, failure: null }, async (tx) => {
      if ((await countWaiting(tx, this.claim.runId)) < waiting) await moveRun(tx, this.claim.runId, 'waiting', 'queued');
    });
  }

  /** Everything noted so far in one transaction, fenced by the claim. Throws {@link ClaimLost} and records nothing when it is no longer ours. */
  async commit(move: Move, further?: (tx: Queries) => Promise<void>): Promise<void> {
    const pending = this.#pending;
    await inTransaction(this.db, async (tx) => {
      if (!(await moveClaimed(tx, this.claim, move))) throw new ClaimLost(`run ${this.claim.runId}, claim ${this.claim.claimNo}`);
      await saveFacts(tx, this.claim.runId, pending);
      for (const { alongside } of pending) await alongside?.(tx);
      await further?.(tx);
      if (move.to === 'finished') await this.#tell(tx, 'leadline.run.finished', { stopped: move.stopped ?? null });
      if (move.to === 'stranded') await this.#tell(tx, 'leadline.run.stranded', { step: move.atStep ?? null, ...(move.failure ? { failure: { code: move.failure.code, message: move.failure.message } } : {}) });
    });
    this.#pending = [];
  }

  #tell(tx: Queries, type: NoticeType, more: Partial<NoticeData>): Promise<void> {
    const { runId, pipelineKey, pipelineVersion: version, documentId: document } = this.claim;
    return noteHappening(tx, { type, runId, pipelineKey, data: { document, version, ...more } });
  }
}
