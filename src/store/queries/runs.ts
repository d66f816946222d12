import { and, asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import { shareOut, type Claimant } from '@/core/resilience/fairness';
import type { Failure } from '@/core/resilience/failure';
import { CAME, type Given, type Memory, type StepFact, type StepResult } from '@/core/pipeline/facts';
import { attempt, document, fact, run } from '../schema';
import { inTransaction, matched, now, nowPlus, type Db, type Queries } from '../database';
import type { MoveFrom, RunState } from '../states';
import type { PageOfList } from './documents';
import { pipelineSwitches } from './pipelines';

export type RunRow = typeof run.$inferSelect;
export type FactRow = typeof fact.$inferSelect;

/** A worker's hold on a run. Everything it records is fenced by the number. */
export interface Claim {
  readonly runId: string;
  readonly claimNo: number;
  readonly documentId: string;
  readonly pipelineKey: string;
  readonly pipelineVersion: number;
  readonly depth: number;
}

export async function insertRun(tx: Queries, { came, ...values }: { id: string; documentId: string; pipelineKey: string; pipelineVersion: number; depth?: number; /** What it is given along, and by whom. */ came?: { readonly from: string; readonly values: Given } | undefined }): Promise<void> {
  await tx.insert(run).values({ ...values, state: 'queued', dueAt: now, claimNo: 0, createdAt: now, updatedAt: now });
  await tx.update(document).set({ runId: values.id }).where(eq(document.id, values.documentId));
  if (came) await saveFacts(tx, values.id, [{ stepId: CAME, fact: { state: 'done', result: { made: 'given', ...came } }, attempts: 1, tookMs: 0 }]);
}

/**
 * Pipelines that have due runs and are not paused, with what is under way. Both queries go by the index (state, pipeline_key, due_at, id).
 * Grouped by the state too, although there is but one: only then does the server hop from pipeline to pipeline in the index (loose index
 * scan) instead of reading every queued run, and a claim costs the same however many wait.
 */
async function claimantsIn(db: Queries): Promise<Claimant[]> {
  const first = await db.select({ key: run.pipelineKey, due: sql<string>`MIN(${run.dueAt})`, at: now }).from(run).where(eq(run.state, 'queued')).groupBy(run.state, run.pipelineKey);
  const keys = first.filter(({ due, at }) => due <= at).map(({ key }) => key);
  if (keys.length === 0) return [];
  const working = await db.select({ key: run.pipelineKey, n: sql<number>`COUNT(*)` }).from(run).where(eq(run.state, 'working')).groupBy(run.pipelineKey);
  const switches = new Map((await pipelineSwitches(db)).map((row) => [row.pipelineKey, row]));
  return keys.filter((key) => (switches.get(key)?.pausedAt ?? null) === null).map((key) => ({ key, working: Number(working.find((row) => row.key === key)?.n ?? 0), priority: switches.get(key)?.priority ?? 0 }));
}

/** Claim up to `most` due runs, shared out fairly among the pipelines that have any. What one leaves over goes to the others. */
export async function claimRuns(db: Db, workerId: string, most: number, leaseMs: number): Promise<Claim[]> {
  const claims: Claim[] = [];
  let claimants = await claimantsIn(db);
  while (claims.length < most && claimants.length > 0) {
    const emptied = new Set<string>();
    for (const [pipeline, share] of shareOut(most - claims.length, claimants)) {
      const some = await claimSome(db, { workerId, pipeline, most: share, leaseMs });
      claims.push(...some);
      if (some.length < share) emptied.add(pipeline);
    }
    if (emptied.size === 0) break;
    claimants = claimants.filter(({ key }) => !emptied.has(key)).map((claimant) => ({ ...claimant, working: claimant.working + claims.filter((claim) => claim.pipelineKey === claimant.key).length }));
  }
  return claims;
}

/**
 * Claim due runs of one pipeline. The order follows the index (state, pipeline_key, due_at, id): sorting otherwise would lock every due
 * row and leave the next worker nothing. This server has no UPDATE … RETURNING, hence select and update in one short transaction.
 */
async function claimSome(db: Db, { workerId, pipeline, most, leaseMs }: { workerId: string; pipeline: string; most: number; leaseMs: number }): Promise<Claim[]> {
  return inTransaction(db, async (tx) => {
    const rows = await tx
      .select({ runId: run.id, claimNo: run.claimNo, documentId: run.documentId, pipelineKey: run.pipelineKey, pipelineVersion: run.pipelineVersion, depth: run.depth })
      .from(run)
      .where(and(eq(run.state, 'queued'), eq(run.pipelineKey, pipeline), sql`${run.dueAt} <= NOW(6)`))
      .orderBy(asc(run.state), asc(run.pipelineKey), asc(run.dueAt), asc(run.id))
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
  for (let from = 0; from < facts.length; from += FACTS_AT_ONCE) await saveSome(tx, runId, facts.slice(from, from + FACTS_AT_ONCE));
}

/** Facts written with one statement; a document of thousands of lines has tens of thousands. */
const FACTS_AT_ONCE = 500;

async function saveSome(tx: Queries, runId: string, facts: readonly NewFact[]): Promise<void> {
  const rows = facts.map(({ stepId, fact: value, attempts, tookMs }) => ({
    runId, stepId, state: value.state, attempts, tookMs, recordedAt: now,
    // A step that paused keeps here what it wants to find again.
    result: value.state === 'done' ? value.result : value.state === 'paused' || value.state === 'failed' ? (value.memory ?? null) : null,
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
    case 'paused':
      return { state: 'paused', memory: row.result as Memory };
    case 'failed':
      return { state: 'failed', failure: row.failure as Failure, attempts: row.attempts, spentMs: row.spentMs, ...(row.result === null ? {} : { memory: row.result as Memory }) };
  }
}

/** Steps of a run that wait for a person. */
export async function countWaiting(tx: Queries, runId: string): Promise<number> {
  const [row] = await tx.select({ n: sql<number>`COUNT(*)` }).from(fact).where(and(eq(fact.runId, runId), eq(fact.state, 'waiting')));
  return Number(row?.n ?? 0);
}

/** Forget that a step waits for something that is there now, so that it is done again; false when it does not wait any more. */
export const dropWaitingFact = async (tx: Queries, where: { runId: string; stepId: string; taskId: string }): Promise<boolean> =>
  matched(await tx.delete(fact).where(and(eq(fact.runId, where.runId), eq(fact.stepId, where.stepId), eq(fact.state, 'waiting'), eq(fact.taskId, where.taskId)))) === 1;

/** A step that waited for a person comes back with what it is to remember. */
export const pauseFact = (tx: Queries, where: { runId: string; stepId: string; taskId: string }, memory: Memory) =>
  tx.update(fact).set({ state: 'paused', result: memory, taskId: null, recordedAt: now }).where(and(eq(fact.runId, where.runId), eq(fact.stepId, where.stepId), eq(fact.state, 'waiting'), eq(fact.taskId, where.taskId)));

/** Forget that a step failed, so that it has its whole budget again; the attempts stay on record. */
export const dropFailedFacts = (tx: Queries, runId: string) => tx.delete(fact).where(and(eq(fact.runId, runId), eq(fact.state, 'failed')));

/** Forget what steps have made, their lines too, so that they are done again. */
export const dropFactsOf = (tx: Queries, runId: string, steps: readonly string[]) => tx.delete(fact).where(and(eq(fact.runId, runId), inArray(sql`SUBSTRING_INDEX(${fact.stepId}, '#', 1)`, [...steps])));

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

/** Runs of a pipeline that have not ended, are not being worked on, and are on a version before this one. */
export const olderRuns = (db: Queries, pipelineKey: string, version: number, most: number): Promise<{ id: string; version: number }[]> =>
  db.select({ id: run.id, version: run.pipelineVersion }).from(run).where(and(eq(run.pipelineKey, pipelineKey), lt(run.pipelineVersion, version), inArray(run.state, ['queued', 'waiting', 'stranded']))).orderBy(asc(run.id)).limit(most);

/** False when it has gone on, or to another version, meanwhile. */
export const changeVersion = async (tx: Queries, { id, version }: { id: string; version: number }, to: number): Promise<boolean> =>
  matched(await tx.update(run).set({ pipelineVersion: to, updatedAt: now }).where(and(eq(run.id, id), eq(run.pipelineVersion, version), inArray(run.state, ['queued', 'waiting', 'stranded'])))) === 1;

/** Stranded runs that stopped at the same step for the same cause. */
export interface StrandedGroup {
  readonly pipelineKey: string;
  readonly atStep: string;
  readonly code: string;
  /** Of the newest. */
  readonly message: string;
  readonly runs: number;
  readonly since: string;
}

const failureCode = sql<string>`JSON_VALUE(${run.failure}, '$.code')`;
/** The step without its line: lines that fail alike belong together. */
const stepReached = sql<string>`SUBSTRING_INDEX(${run.atStep}, '#', 1)`;

export async function strandedGroups(db: Queries): Promise<StrandedGroup[]> {
  const rows = await db
    .select({ pipelineKey: run.pipelineKey, atStep: stepReached, code: failureCode, message: sql<string>`MAX(JSON_VALUE(${run.failure}, '$.message'))`, runs: sql<number>`COUNT(*)`, since: sql<string>`MIN(${run.updatedAt})` })
    .from(run)
    .where(eq(run.state, 'stranded'))
    .groupBy(run.pipelineKey, stepReached, failureCode)
    .orderBy(desc(sql`COUNT(*)`))
    .limit(50);
  return rows.map((row) => ({ ...row, atStep: row.atStep ?? '', runs: Number(row.runs) }));
}

export type GroupKey = Pick<StrandedGroup, 'pipelineKey' | 'atStep' | 'code'>;

/** Stranded runs of a group, oldest first. */
export const strandedIn = async (db: Queries, { pipelineKey, atStep, code }: GroupKey, most: number): Promise<string[]> =>
  (await db.select({ id: run.id }).from(run).where(and(eq(run.state, 'stranded'), eq(run.pipelineKey, pipelineKey), eq(stepReached, atStep), eq(failureCode, code))).orderBy(asc(run.id)).limit(most)).map((row) => row.id);

/** Let a run that waits for its next attempt make it now; false when it does not wait. */
export const hurry = async (tx: Queries, id: string): Promise<boolean> => matched(await tx.update(run).set({ dueAt: now, updatedAt: now }).where(and(eq(run.id, id), eq(run.state, 'queued'), sql`${run.dueAt} > NOW(6)`))) === 1;

export async function countByState(db: Queries): Promise<Partial<Record<RunState, number>>> {
  const rows = await db.select({ state: run.state, n: sql<number>`COUNT(*)` }).from(run).groupBy(run.state);
  return Object.fromEntries(rows.map((row) => [row.state, Number(row.n)]));
}

/** Runs of each pipeline by state. */
export async function countByPipeline(db: Queries): Promise<ReadonlyMap<string, Partial<Record<RunState, number>>>> {
  const rows = await db.select({ key: run.pipelineKey, state: run.state, n: sql<number>`COUNT(*)` }).from(run).groupBy(run.state, run.pipelineKey);
  const counts = new Map<string, Partial<Record<RunState, number>>>();
  for (const row of rows) counts.set(row.key, { ...counts.get(row.key), [row.state]: Number(row.n) });
  return counts;
}

/** Documents of the newest runs of a pipeline, each once. */
export async function newestDocumentsOf(db: Queries, pipelineKey: string, most: number): Promise<string[]> {
  const rows = await db.select({ id: run.documentId }).from(run).where(eq(run.pipelineKey, pipelineKey)).orderBy(desc(run.id)).limit(most);
  return [...new Set(rows.map(({ id }) => id))];
}
