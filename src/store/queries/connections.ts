import { and, eq, sql } from 'drizzle-orm';
import type { ServiceAnswer } from '@/core/reading/service';
import { connection, document, run, serviceJob } from '../schema';
import { CLOSED, type Breaker } from '@/core/resilience/breaker';
import type { Flow } from '@/core/resilience/flow';
import { inTransaction, matched, now, type Db, type Queries } from '../database';

export type ConnectionRow = typeof connection.$inferSelect;

export const listConnections = (db: Queries): Promise<ConnectionRow[]> => db.select().from(connection).orderBy(connection.name);

export async function connectionByKey(db: Queries, key: string): Promise<ConnectionRow | null> {
  const [row] = await db.select().from(connection).where(eq(connection.key, key)).limit(1);
  return row ?? null;
}

/** Add or change; a null secret keeps the one that is there. */
export async function putConnection(tx: Queries, values: Pick<ConnectionRow, 'key' | 'name' | 'connector' | 'settings' | 'secret' | 'offers'>): Promise<void> {
  const { key, secret, ...rest } = values;
  const set = { ...rest, checkedAt: now, problem: null, breaker: null, flow: null, ...(secret === null ? {} : { secret }) };
  await tx.insert(connection).values({ key, secret, ...rest, checkedAt: now }).onDuplicateKeyUpdate({ set });
}

export const deleteConnection = async (tx: Queries, key: string): Promise<boolean> => matched(await tx.delete(connection).where(eq(connection.key, key))) === 1;

/** Let a connection rest, or let it go on; false when there is none. */
export const setConnectionPaused = async (tx: Queries, key: string, by: string | null): Promise<boolean> => matched(await tx.update(connection).set(by === null ? { pausedAt: null, pausedBy: null } : { pausedAt: now, pausedBy: by }).where(eq(connection.key, key))) === 1;

/** What all workers share of a connection, so that none asks it more than it may be. */
export interface Guard {
  readonly breaker: Breaker;
  /** Null: nobody has asked it yet. */
  readonly flow: Flow | null;
  readonly paused: boolean;
}

/**
 * Change the guard of a connection: read, decided and written in one short transaction under the row's lock, with the database's
 * clock. Null when there is no such connection.
 */
export const changeGuard = <T>(db: Db, key: string, decide: (guard: Guard, nowMs: number) => { readonly guard: Guard; readonly answer: T }): Promise<T | null> =>
  inTransaction(db, async (tx) => {
    const [row] = await tx.select({ breaker: connection.breaker, flow: connection.flow, pausedAt: connection.pausedAt, at: sql<string>`UNIX_TIMESTAMP(NOW(6)) * 1000` }).from(connection).where(eq(connection.key, key)).for('update');
    if (!row) return null;
    const { guard, answer } = decide({ breaker: (row.breaker as Breaker | null) ?? CLOSED, flow: row.flow as Flow | null, paused: row.pausedAt !== null }, Number(row.at));
    await tx.update(connection).set({ breaker: guard.breaker, flow: guard.flow }).where(eq(connection.key, key));
    return answer;
  });

/** Which document is asked of which tier of which service. */
export interface JobKey {
  readonly connectionKey: string;
  readonly tier: string;
  readonly sha256: string;
}

const is = ({ connectionKey, tier, sha256 }: JobKey) => and(eq(serviceJob.connectionKey, connectionKey), eq(serviceJob.tier, tier), eq(serviceJob.sha256, sha256));

export type JobRow = Omit<typeof serviceJob.$inferSelect, 'answer'> & { readonly answer: ServiceAnswer | null };

export async function jobOf(db: Queries, key: JobKey): Promise<JobRow | null> {
  const [row] = await db.select().from(serviceJob).where(is(key)).limit(1);
  return row ? { ...row, answer: row.answer as ServiceAnswer | null } : null;
}

/** Jobs for a document that were not answered yet. */
export const openJobs = (db: Queries, sha256: string): Promise<{ connectionKey: string; job: string | null }[]> => db.select({ connectionKey: serviceJob.connectionKey, job: serviceJob.job }).from(serviceJob).where(and(eq(serviceJob.sha256, sha256), eq(serviceJob.state, 'asked')));

/** Runs on a document that rest look again now. */
export const hurryRunsOn = async (db: Queries, sha256: string): Promise<number> => matched(await db.execute(sql`UPDATE ${run} JOIN ${document} ON ${document.id} = ${run.documentId} SET ${run.dueAt} = NOW(6), ${run.updatedAt} = NOW(6) WHERE ${document.sha256} = ${sha256} AND ${run.state} = 'queued' AND ${run.dueAt} > NOW(6)`));

/** Noted before anything is sent. */
export const noteAsked = (db: Queries, key: JobKey) => db.insert(serviceJob).ignore().values({ ...key, state: 'asked', askedAt: now });

export const noteJob = (db: Queries, key: JobKey, job: string) => db.update(serviceJob).set({ job }).where(is(key));

/** Null: the service had no answer. */
export const noteAnswer = (db: Queries, key: JobKey, answer: ServiceAnswer | null) =>
  db.update(serviceJob).set({ state: answer ? 'answered' : 'no answer', answer, answeredAt: now, tookMs: sql`TIMESTAMPDIFF(MICROSECOND, ${serviceJob.askedAt}, NOW(6)) / 1000` }).where(is(key));
