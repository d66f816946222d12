import { and, asc, desc, eq, inArray, isNull, lt, or, sql } from 'drizzle-orm';
import type { Cost } from '@/core/reading/reading';
import type { PastDocument } from '@/core/measuring/forecast';
import { batch, batchItem, document, fact, run, task, worker } from '../schema';
import { inTransaction, matched, now, nowPlus, type Db, type Queries } from '../database';
import type { BatchItemState, BatchState } from '../states';
import type { PageOfList } from './documents';

export type BatchRow = typeof batch.$inferSelect;
export type BatchItemRow = typeof batchItem.$inferSelect;

/** Items written with one statement. */
const ITEMS_AT_ONCE = 1_000;

export async function insertBatch(tx: Queries, values: Pick<BatchRow, 'id' | 'name' | 'pipelineKey' | 'place' | 'sourceKey' | 'settings' | 'released' | 'begunBy'>, items: readonly Pick<BatchItemRow, 'ref' | 'name' | 'size'>[]): Promise<void> {
  await tx.insert(batch).values({ ...values, state: 'under way', begunAt: now });
  for (let from = 0; from < items.length; from += ITEMS_AT_ONCE) {
    await tx.insert(batchItem).values(items.slice(from, from + ITEMS_AT_ONCE).map(({ ref, name, size }, index) => ({ batchId: values.id, number: from + index + 1, ref, name: name.slice(0, 255), size, state: 'waiting' as const })));
  }
}

export async function batchById(db: Queries, id: string): Promise<BatchRow | null> {
  const [row] = await db.select().from(batch).where(eq(batch.id, id)).limit(1);
  return row ?? null;
}

export const newestBatches = (db: Queries, most: number): Promise<BatchRow[]> => db.select().from(batch).orderBy(desc(batch.id)).limit(most);

/** False when it is in none of the states it may be moved from. */
export const moveBatch = async (tx: Queries, id: string, from: readonly BatchState[], set: Partial<Pick<BatchRow, 'state' | 'released' | 'problem'>>): Promise<boolean> => matched(await tx.update(batch).set({ ...set, leaseUntil: null, worker: null }).where(and(eq(batch.id, id), inArray(batch.state, [...from])))) === 1;

/** Hold a batch that no other worker takes from; null when there is none. One at a time for each worker. */
export async function claimBatch(db: Db, workerId: string, leaseMs: number): Promise<BatchRow | null> {
  return inTransaction(db, async (tx) => {
    const [row] = await tx.select().from(batch).where(and(eq(batch.state, 'under way'), or(isNull(batch.leaseUntil), lt(batch.leaseUntil, now), eq(batch.worker, workerId)))).orderBy(asc(batch.state), asc(batch.id)).limit(1).for('update', { skipLocked: true });
    if (!row) return null;
    await tx.update(batch).set({ worker: workerId, leaseUntil: nowPlus(leaseMs) }).where(eq(batch.id, row.id));
    return row;
  });
}

export const keepBatch = (db: Queries, id: string, workerId: string, leaseMs: number) => db.update(batch).set({ leaseUntil: nowPlus(leaseMs) }).where(and(eq(batch.id, id), eq(batch.worker, workerId)));

/** Let it rest for a while because of a problem, or for none until the next look. */
export const leaveBatch = (db: Queries, id: string, { problem, forMs }: { problem: string | null; forMs: number }) => db.update(batch).set({ problem: problem?.slice(0, 1000) ?? null, worker: null, leaseUntil: nowPlus(forMs) }).where(eq(batch.id, id));

/** Runs of a batch that workers still have before them. */
export async function countUnfinished(db: Queries, id: string): Promise<number> {
  const [row] = await db.select({ n: sql<number>`COUNT(*)` }).from(batchItem).innerJoin(document, eq(document.eventId, batchItem.eventId)).innerJoin(run, eq(run.id, document.runId)).where(and(eq(batchItem.batchId, id), inArray(run.state, ['queued', 'working'])));
  return Number(row?.n ?? 0);
}

/** The next items that may be taken. */
export const nextItems = (db: Queries, { id, released }: BatchRow, most: number): Promise<BatchItemRow[]> =>
  db.select().from(batchItem).where(and(eq(batchItem.batchId, id), eq(batchItem.state, 'waiting'), sql`${batchItem.number} <= ${released}`)).orderBy(asc(batchItem.number)).limit(most);

export const noteItem = (db: Queries, id: string, number: number, set: { state: BatchItemState; eventId?: string; problem?: string }) => db.update(batchItem).set({ ...set, ...(set.problem === undefined ? {} : { problem: set.problem.slice(0, 1000) }) }).where(and(eq(batchItem.batchId, id), eq(batchItem.number, number)));

/** How many items of each batch are in which state. */
export async function countItems(db: Queries, ids: readonly string[]): Promise<{ id: string; state: BatchItemState; n: number }[]> {
  if (ids.length === 0) return [];
  const rows = await db.select({ id: batchItem.batchId, state: batchItem.state, n: sql<number>`COUNT(*)` }).from(batchItem).where(inArray(batchItem.batchId, [...ids])).groupBy(batchItem.batchId, batchItem.state);
  return rows.map((row) => ({ ...row, n: Number(row.n) }));
}

/** How many documents of a batch have come how far; `null` is one without a run: a repeat, or one that cannot be read. */
export async function countDocuments(db: Queries, id: string): Promise<{ state: string | null; n: number }[]> {
  const rows = await db.select({ state: run.state, n: sql<number>`COUNT(*)` }).from(batchItem).innerJoin(document, eq(document.eventId, batchItem.eventId)).leftJoin(run, eq(run.id, document.runId)).where(eq(batchItem.batchId, id)).groupBy(run.state);
  return rows.map((row) => ({ ...row, n: Number(row.n) }));
}

/** Items in order, each with its documents and their runs; an item that was not taken stands alone. */
export async function itemsOf(db: Queries, id: string, { offset, limit }: PageOfList) {
  const found = await db.select({ item: batchItem, document, run }).from(batchItem).leftJoin(document, eq(document.eventId, batchItem.eventId)).leftJoin(run, eq(run.id, document.runId)).where(eq(batchItem.batchId, id)).orderBy(asc(batchItem.number), asc(document.part)).limit(limit).offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(batchItem).leftJoin(document, eq(document.eventId, batchItem.eventId)).where(eq(batchItem.batchId, id));
  return { found, total: Number(count?.n ?? 0) };
}

/** What the newest finished runs took: of a pipeline, or of a batch alone. */
export async function pastOf(db: Queries, where: { readonly pipeline: string } | { readonly batch: string }, most: number): Promise<PastDocument[]> {
  const finished = 'pipeline' in where
    ? await db.select({ id: run.id }).from(run).where(and(eq(run.state, 'finished'), eq(run.pipelineKey, where.pipeline))).orderBy(desc(run.id)).limit(most)
    : await db.select({ id: run.id }).from(batchItem).innerJoin(document, eq(document.eventId, batchItem.eventId)).innerJoin(run, eq(run.id, document.runId)).where(and(eq(batchItem.batchId, where.batch), eq(run.state, 'finished'))).orderBy(desc(run.id)).limit(most);
  if (finished.length === 0) return [];
  const ids = finished.map((row) => row.id);
  const [work, costs, asked] = await Promise.all([
    db.select({ id: fact.runId, ms: sql<number>`SUM(${fact.tookMs})` }).from(fact).where(inArray(fact.runId, ids)).groupBy(fact.runId),
    db.select({ id: fact.runId, costs: sql<string | null>`JSON_EXTRACT(${fact.result}, '$.reading.costs')` }).from(fact).where(and(inArray(fact.runId, ids), sql`JSON_EXISTS(${fact.result}, '$.reading.costs[0]')`)),
    db.select({ id: task.runId }).from(task).where(inArray(task.runId, ids)).groupBy(task.runId),
  ]);
  const costsOf = (id: string): PastDocument['costs'] => costs.filter((row) => row.id === id).flatMap((row) => JSON.parse(row.costs ?? '[]') as Cost[]);
  return ids.map((id) => ({ workMs: Number(work.find((row) => row.id === id)?.ms ?? 0), costs: costsOf(id), asked: asked.some((row) => row.id === id) }));
}

/** Workers that were seen in the last seconds. */
export async function countWorkers(db: Queries): Promise<number> {
  const [row] = await db.select({ n: sql<number>`COUNT(*)` }).from(worker).where(sql`${worker.seenAt} > NOW(6) - INTERVAL 20 SECOND`);
  return Number(row?.n ?? 0);
}
