import type { Facts, StepFact, StepResult } from '@/core/pipeline/facts';
import type { Failure } from '@/core/resilience/failure';
import { inTransaction, type Db, type Queries } from '@/store/database';
import { factFrom, factRowsOf, insertAttempt, moveClaimed, saveFacts, type Claim, type Move, type NewFact } from '@/store/queries/runs';

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
  #pending: Pending[] = [];

  private constructor(
    private readonly db: Db,
    readonly claim: Claim,
    facts: Map<string, StepFact>,
  ) {
    this.#facts = facts;
  }

  static async open(db: Db, claim: Claim): Promise<Journal> {
    // Facts are recorded only under a claim, so the first one finds none.
    const rows = claim.claimNo === 1 ? [] : await factRowsOf(db, [claim.runId]);
    return new Journal(db, claim, new Map(rows.map((row) => [row.stepId, factFrom(row)])));
  }

  get facts(): Facts {
    return this.#facts;
  }

  /** Note that a step is done. Recorded with the next commit. */
  done(stepId: string, result: StepResult, how: { attempts: number; tookMs: number; alongside?: ((tx: Queries) => Promise<void>) | undefined }): void {
    this.#add({ stepId, fact: { state: 'done', result }, attempts: how.attempts, tookMs: how.tookMs, alongside: how.alongside });
  }

  waiting(stepId: string, task: string, tookMs: number, alongside: (tx: Queries) => Promise<void>): void {
    this.#add({ stepId, fact: { state: 'waiting', task }, attempts: 1, tookMs, alongside });
  }

  failed(stepId: string, failure: Failure, how: { attempts: number; spentMs: number; tookMs: number; nextInMs: number | null }): void {
    const { runId } = this.claim;
    const alongside = (tx: Queries) => insertAttempt(tx, { runId, stepId, number: how.attempts, failure, tookMs: how.tookMs, nextInMs: how.nextInMs });
    this.#add({ stepId, fact: { state: 'failed', failure, attempts: how.attempts, spentMs: how.spentMs }, attempts: how.attempts, tookMs: how.tookMs, alongside });
  }

  #add(pending: Pending): void {
    this.#facts.set(pending.stepId, pending.fact);
    this.#pending.push(pending);
  }

  /** Everything noted so far in one transaction, fenced by the claim. Throws {@link ClaimLost} and records nothing when it is no longer ours. */
  async commit(move: Move, further?: (tx: Queries) => Promise<void>): Promise<void> {
    const pending = this.#pending;
    await inTransaction(this.db, async (tx) => {
      if (!(await moveClaimed(tx, this.claim, move))) throw new ClaimLost(`run ${this.claim.runId}, claim ${this.claim.claimNo}`);
      await saveFacts(tx, this.claim.runId, pending);
      for (const { alongside } of pending) await alongside?.(tx);
      await further?.(tx);
    });
    this.#pending = [];
  }
}
