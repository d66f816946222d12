import { and, asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import type { Failure } from '@/core/resilience/failure';
import type { StepFact, StepResult } from '@/core/pipeline/facts';
import { attempt, document, fact, run } from '../schema';
import { inTransaction, matched, now, nowPlus, type Db, type Queries } from '../database';
import type { MoveFrom, RunState } from '../states';
import type { PageOfList } from './documents';

export type RunRow = typeof run.$inferSelect;
export type FactRow = typeof fact.$inferSelect;

/** A worker's hold on a run. Everything it records is fenced by the number. */
export interface Claim {
  readonly runId: string;
  readonly claimNo: number;
  readonly documentId: string;
  readonly pipelineKey: string;
  readonly pipelineVersion: number;
}

export async function insertRun(tx: Queries, values: { id: string; documentId: string; pipelineKey: string; pipelineVersion: number }): Promise<void> {
  await tx.insert(run).values({ ...values, state: 'queued', dueAt: now, claimNo: 0, createdAt: now, updatedAt: now });
  await tx.update(document).set({ runId: values.id }).where(eq(document.id, values.documentId));
}

/**
 * Claim up to `most` due runs. The order follows the index (state, due_at, id): sorting otherwise would lock every due row and
 * leave the next worker nothing. This server has no UPDATE … RETURNING, hence select and update in one short transaction.
 */
export async function claimRuns(db: Db, workerId: string, most: number, leaseMs: number): Promise<Claim[]> {
  return inTransaction(db, async (tx) => {
    const rows = await tx
      .select({ runId: run.id, claimNo: run.claimNo, documentId: run.documentId, pipelineKey: run.pipelineKey, pipelineVersion: run.pipelineVersion })
      .from(run)
      .where(and(eq(run.state, 'queued'), sql`${run.dueAt} <= NOW(6)`))
      .orderBy(asc(run.state), asc(run.dueAt), asc(run.id))
      .limit(most)
      .for('update', { skipLocked: true });
    if (rows.length === 0) return [];
    await tx
      .update(run)
      .set({ state: 'working', claimNo: sql`${run.claimNo} + 1`, worker: workerId, leaseUntil: nowPlus(leaseMs), updatedAt: now })
      .where(inArray(run.id, rows.map((row) => row.runId)));
    return rows.map((row) => ({ ...row, claimNo: row.claimNo + 1 }));
  });
}

/** Lengthen the lease; false when the run has gone to somebody else. */
export async function renewLease(db: Queries, claim: Claim, leaseMs: number): Promise<boolean> {
  const result = await db.update(run).set({ leaseUntil: nowPlus(leaseMs) }).where(held(claim));
  return matched(result) === 1;
}

const held = (claim: Claim) => and(eq(run.id, claim.runId), eq(run.claimNo, claim.claimNo), eq(run.state, 'working'));

/** Runs whose worker has not renewed its lease go back into the queue. Returns how many. */
export async function releaseExpired(db: Queries): Promise<number> {
  return matched(await db.update(run).set({ state: 'queued', dueAt: now, updatedAt: now }).where(and(eq(run.state, 'working'), lt(run.leaseUntil, now))));
}

/** Where a claimed run goes, with what is then known about it. */
export interface Move {
  /** `working`: it stays claimed, and what is known so far is recorded. */
  readonly to: MoveFrom<'working'>;
  readonly atStep?: string | null;
  readonly dueInMs?: number;
  readonly failure?: Failure | null;
  readonly stopped?: string | null;
}

/** Move a claimed run; false when the claim is no longer ours, and then nothing else may be recorded. */
export async function moveClaimed(tx: Queries, claim: Claim, move: Move): Promise<boolean> {
  const ended = move.to === 'finished';
  const result = await tx
    .update(run)
    .set({
      state: move.to,
      updatedAt: now,
      ...(move.atStep === undefined ? {} : { atStep: move.atStep }),
      ...(move.failure === undefined ? {} : { failure: move.failure }),
      ...(move.stopped === undefined ? {} : { stopped: move.stopped }),
      ...(move.to === 'queued' ? { dueAt: nowPlus(move.dueInMs ?? 0) } : {}),
      ...(ended ? { finishedAt: now } : {}),
    })
    .where(held(claim));
  return matched(result) === 1;
}

/** A run moved by something other than a worker; guarded by the state it must be in. */
export async function moveRun<F extends RunState>(tx: Queries, id: string, from: F, to: MoveFrom<F>): Promise<boolean> {
  const target: RunState = to;
  const result = await tx
    .update(run)
    .set({ state: target, updatedAt: now, ...(target === 'queued' ? { dueAt: now, failure: null } : {}), ...(target === 'given up' ? { finishedAt: now } : {}) })
    .where(and(eq(run.id, id), eq(run.state, from)));
  return matched(result) === 1;
}

export interface NewFact {
  readonly stepId: string;
  readonly fact: StepFact;
  /** Counted from 1. */
  readonly attempts: number;
  readonly tookMs: number;
}

/** Put the newest facts about steps in place. Only inside a transaction that has moved the claim. */
export async function saveFacts(tx: Queries, runId: string, facts: readonly NewFact[]): Promise<void> {
  if (facts.length === 0) return;
  const rows = facts.map(({ stepId, fact: value, attempts, tookMs }) => ({
    runId, stepId, state: value.state, attempts, tookMs, recordedAt: now,
    result: value.state === 'done' ? value.result : null,
    failure: value.state === 'failed' ? value.failure : null,
    taskId: value.state === 'waiting' ? value.task : null,
    spentMs: value.state === 'failed' ? Math.round(value.spentMs) : 0,
  }));
  const given = (column: string) => sql.raw(`VALUES(${column})`);
  await tx.insert(fact).values(rows).onDuplicateKeyUpdate({
    set: { state: given('state'), result: given('result'), failure: given('failure'), taskId: given('task_id'), attempts: given('attempts'), spentMs: given('spent_ms'), tookMs: given('took_ms'), recordedAt: now },
  });
}

export async function insertAttempt(tx: Queries, values: { runId: string; stepId: string; number: number; failure: Failure; tookMs: number; nextInMs: number | null }): Promise<void> {
  const { nextInMs, ...rest } = values;
  await tx.insert(attempt).values({ ...rest, recordedAt: now, nextAt: nextInMs === null ? null : nowPlus(nextInMs) });
}

export const attemptsOf = (db: Queries, runId: string) => db.select().from(attempt).where(eq(attempt.runId, runId)).orderBy(attempt.id);
export const factRowsOf = (db: Queries, runIds: readonly string[]): Promise<FactRow[]> => (runIds.length === 0 ? Promise.resolve([]) : db.select().from(fact).where(inArray(fact.runId, [...runIds])));
/** Facts without their contents, for the tally. */
export const factStatesOf = (db: Queries, runIds: readonly string[]) =>
  runIds.length === 0 ? Promise.resolve([]) : db.select({ runId: fact.runId, stepId: fact.stepId, state: fact.state, attempts: fact.attempts, tookMs: fact.tookMs, made: sql<string | null>`JSON_VALUE(${fact.result}, '$.made')`, name: sql<string | null>`JSON_VALUE(${fact.result}, '$.name')`, rows: sql<string | null>`JSON_VALUE(${fact.result}, '$.rows')`, trusted: sql<string | null>`JSON_VALUE(${fact.result}, '$.trusted')` }).from(fact).where(inArray(fact.runId, [...runIds]));

/** A row back as the fact the planner knows. */
export function factFrom(row: FactRow): StepFact {
  switch (row.state) {
    case 'done':
      return { state: 'done', result: row.result as StepResult };
    case 'waiting':
      return { state: 'waiting', task: row.taskId ?? '' };
    case 'failed':
      return { state: 'failed', failure: row.failure as Failure, attempts: row.attempts, spentMs: row.spentMs };
  }
}

/** Forget that a step failed, so that it has its whole budget again; the attempts stay on record. */
export const dropFailedFacts = (tx: Queries, runId: string) => tx.delete(fact).where(and(eq(fact.runId, runId), eq(fact.state, 'failed')));

/** Put an answer where a step waits for it; false when it does not wait any more. */
export async function answerFact(tx: Queries, where: { runId: string; stepId: string; taskId: string }, result: StepResult): Promise<boolean> {
  const changed = await tx.update(fact).set({ state: 'done', result, recordedAt: now }).where(and(eq(fact.runId, where.runId), eq(fact.stepId, where.stepId), eq(fact.state, 'waiting'), eq(fact.taskId, where.taskId)));
  return matched(changed) === 1;
}

export async function runById(db: Queries, id: string): Promise<RunRow | null> {
  const [row] = await db.select().from(run).where(eq(run.id, id)).limit(1);
  return row ?? null;
}

export const runsOfDocument = (db: Queries, documentId: string): Promise<RunRow[]> => db.select().from(run).where(eq(run.documentId, documentId)).orderBy(desc(run.id)).limit(50);

export interface RunFilter {
  readonly state?: RunState | undefined;
  readonly pipeline?: string | undefined;
}

/** Runs with their documents, newest first, and how many there are in all. */
export async function listRuns(db: Queries, filter: RunFilter, { offset, limit }: PageOfList) {
  const where = and(filter.state ? eq(run.state, filter.state) : undefined, filter.pipeline ? eq(run.pipelineKey, filter.pipeline) : undefined);
  const rows = await db.select({ run, fileName: document.fileName, sender: document.sender, subject: document.subject }).from(run).innerJoin(document, eq(document.id, run.documentId)).where(where).orderBy(desc(run.id)).limit(limit).offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(run).where(where);
  return { rows, total: Number(count?.n ?? 0) };
}

export async function countByState(db: Queries): Promise<Partial<Record<RunState, number>>> {
  const rows = await db.select({ state: run.state, n: sql<number>`COUNT(*)` }).from(run).groupBy(run.state);
  return Object.fromEntries(rows.map((row) => [row.state, Number(row.n)]));
}
