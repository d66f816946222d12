import { and, eq, isNull, lt, or, sql } from 'drizzle-orm';
import { source } from '../schema';
import { matched, now, nowPlus, type Queries } from '../database';

export type SourceRow = typeof source.$inferSelect;
export type SourceSettings = Pick<SourceRow, 'key' | 'name' | 'connector' | 'settings' | 'secret' | 'pipelineKey' | 'enabled'>;

export const listSources = (db: Queries): Promise<SourceRow[]> => db.select().from(source).orderBy(source.name);

export async function sourceByKey(db: Queries, key: string): Promise<SourceRow | null> {
  const [row] = await db.select().from(source).where(eq(source.key, key)).limit(1);
  return row ?? null;
}

/** Add or change; the cursor stays, so that nothing is taken twice, and the watch begins anew with the new settings. */
export async function putSource(tx: Queries, values: SourceSettings): Promise<void> {
  const { name, connector, settings, secret, pipelineKey, enabled } = values;
  const set = { name, connector, settings, pipelineKey, enabled, worker: null, leaseUntil: null, problem: null, ...(secret === null ? {} : { secret }) };
  await tx.insert(source).values(values).onDuplicateKeyUpdate({ set });
}

export const deleteSource = async (tx: Queries, key: string): Promise<boolean> => matched(await tx.delete(source).where(eq(source.key, key))) === 1;

/** Take or keep the watch over a source; false when another worker has it or it is switched off. */
export async function holdSource(db: Queries, key: string, workerId: string, leaseMs: number): Promise<boolean> {
  const free = or(isNull(source.worker), eq(source.worker, workerId), isNull(source.leaseUntil), lt(source.leaseUntil, now));
  const result = await db.update(source).set({ worker: workerId, leaseUntil: nowPlus(leaseMs) }).where(and(eq(source.key, key), eq(source.enabled, true), free));
  return matched(result) === 1;
}

/** Renew only: false when the settings were changed or the source went to another worker. */
export async function keepSource(db: Queries, key: string, workerId: string, leaseMs: number): Promise<boolean> {
  const result = await db.update(source).set({ leaseUntil: nowPlus(leaseMs) }).where(and(eq(source.key, key), eq(source.enabled, true), eq(source.worker, workerId)));
  return matched(result) === 1;
}

export const freeSource = (db: Queries, key: string, workerId: string) => db.update(source).set({ worker: null, leaseUntil: null }).where(and(eq(source.key, key), eq(source.worker, workerId)));

export async function saveCursor(db: Queries, key: string, workerId: string, cursor: unknown): Promise<void> {
  await db.update(source).set({ cursor }).where(and(eq(source.key, key), eq(source.worker, workerId)));
}

export async function reportSource(db: Queries, key: string, workerId: string, problem: string | null): Promise<void> {
  await db.update(source).set({ checkedAt: now, problem: problem === null ? null : sql`LEFT(${problem}, 1000)` }).where(and(eq(source.key, key), eq(source.worker, workerId)));
}
