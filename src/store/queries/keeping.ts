import { and, asc, eq, inArray, isNull, ne, sql } from 'drizzle-orm';
import { attempt, document, documentPrint, documentValue, fact, keeping, notice, pageText, run, sample, serviceJob, task, telling } from '../schema';
import { now, type Queries } from '../database';
import type { DocumentRow } from './documents';

export interface Keeping {
  /** Days; null: for good. */
  readonly papersDays: number | null;
  readonly factsDays: number | null;
}

export async function keepingRule(db: Queries): Promise<Keeping> {
  const [row] = await db.select({ papersDays: keeping.papersDays, factsDays: keeping.factsDays }).from(keeping).limit(1);
  return row ?? { papersDays: null, factsDays: null };
}

export const putKeeping = (tx: Queries, rule: Keeping, by: string) => tx.insert(keeping).values({ id: 1, ...rule, changedAt: now, changedBy: by }).onDuplicateKeyUpdate({ set: { ...rule, changedAt: now, changedBy: by } });

const before = (days: number) => sql`NOW(6) - INTERVAL ${days} DAY`;

/** Of documents, those whose papers may go: the last of their runs ended so long ago, or they came so long ago and have none. */
const papersAreOld = (days: number) =>
  and(isNull(document.papersGoneAt), sql`${document.receivedAt} < ${before(days)}`, sql`NOT EXISTS (SELECT 1 FROM ${run} WHERE ${run.documentId} = ${document.id} AND (${run.state} NOT IN ('finished', 'given up') OR ${run.finishedAt} > ${before(days)}))`);

export const oldPapers = (db: Queries, days: number, most: number): Promise<DocumentRow[]> => db.select().from(document).where(papersAreOld(days)).orderBy(asc(document.receivedAt)).limit(most);

export async function countOldPapers(db: Queries, days: number): Promise<{ documents: number; bytes: number }> {
  const [row] = await db.select({ documents: sql<number>`COUNT(*)`, bytes: sql<number>`COALESCE(SUM(${document.size}), 0)` }).from(document).where(papersAreOld(days));
  return { documents: Number(row?.documents ?? 0), bytes: Number(row?.bytes ?? 0) };
}

/** Runs of a document that have not ended. */
export async function countOpenRuns(db: Queries, documentId: string): Promise<number> {
  const [row] = await db.select({ n: sql<number>`COUNT(*)` }).from(run).where(and(eq(run.documentId, documentId), sql`${run.state} NOT IN ('finished', 'given up')`));
  return Number(row?.n ?? 0);
}

/** Whether another document, or a sample of a kind, still needs the bytes. */
export async function areBytesNeeded(db: Queries, { id, sha256 }: Pick<DocumentRow, 'id' | 'sha256'>): Promise<boolean> {
  const [other] = await db.select({ id: document.id }).from(document).where(and(eq(document.sha256, sha256), ne(document.id, id), isNull(document.papersGoneAt))).limit(1);
  const [kept] = await db.select({ id: sample.id }).from(sample).where(eq(sample.sha256, sha256)).limit(1);
  return other !== undefined || kept !== undefined;
}

/** The document has no papers any more, and no near repeat is found by them. */
export async function markPapersGone(tx: Queries, id: string): Promise<void> {
  await tx.update(document).set({ papersGoneAt: now }).where(eq(document.id, id));
  await tx.delete(documentPrint).where(eq(documentPrint.documentId, id));
}

/** The words of pages. */
export const dropPages = (tx: Queries, hashes: readonly string[]) => tx.delete(pageText).where(inArray(pageText.sha256, [...hashes]));

const factsAreOld = (days: number) => and(inArray(run.state, ['finished', 'given up']), isNull(run.factsGoneAt), sql`${run.finishedAt} < ${before(days)}`);

export async function runsWithOldFacts(db: Queries, days: number, most: number): Promise<{ id: string; documentId: string; sha256: string }[]> {
  return db.select({ id: run.id, documentId: run.documentId, sha256: document.sha256 }).from(run).innerJoin(document, eq(document.id, run.documentId)).where(factsAreOld(days)).orderBy(asc(run.finishedAt)).limit(most);
}

export async function countOldFacts(db: Queries, days: number): Promise<number> {
  const [row] = await db.select({ n: sql<number>`COUNT(*)` }).from(run).where(factsAreOld(days));
  return Number(row?.n ?? 0);
}

/** What steps made, what failed, what people were shown. That there was a run, what it wrote and who decided stays. */
export async function dropFacts(tx: Queries, runs: readonly { id: string; documentId: string; sha256: string }[]): Promise<void> {
  const ids = runs.map(({ id }) => id);
  await tx.delete(fact).where(inArray(fact.runId, ids));
  await tx.delete(attempt).where(inArray(attempt.runId, ids));
  await tx.update(task).set({ draft: null, question: null, reason: '' }).where(inArray(task.runId, ids));
  await tx.delete(documentValue).where(inArray(documentValue.documentId, runs.map(({ documentId }) => documentId)));
  await tx.delete(serviceJob).where(inArray(serviceJob.sha256, runs.map(({ sha256 }) => sha256)));
  await tx.update(run).set({ factsGoneAt: now, failure: null }).where(inArray(run.id, ids));
}

/** The log of what happened, and who was told. */
export async function dropOldNotices(tx: Queries, days: number, most: number): Promise<number> {
  const old = (await tx.select({ id: notice.id }).from(notice).where(sql`${notice.at} < ${before(days)}`).orderBy(asc(notice.at)).limit(most)).map(({ id }) => id);
  if (old.length === 0) return 0;
  await tx.delete(telling).where(inArray(telling.noticeId, old));
  await tx.delete(notice).where(inArray(notice.id, old));
  return old.length;
}
