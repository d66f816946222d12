import { and, desc, eq, lt, or } from 'drizzle-orm';
import type { SoundedSample, Sounding } from '@/core/measuring/sounding';
import type { TierChoice } from '@/core/measuring/tiers';
import type { Target } from '@/core/measuring/threshold';
import type { KindDefinition } from '@/core/reading/kind';
import { sounding } from '../schema';
import { inTransaction, matched, now, nowPlus, type Db, type Queries } from '../database';

export interface SoundingResult {
  readonly sounding: Sounding;
  readonly perSample: readonly SoundedSample[];
  readonly tiers: TierChoice | null;
}

export type SoundingRow = Omit<typeof sounding.$inferSelect, 'definition' | 'target' | 'result'> & { readonly definition: KindDefinition; readonly target: Target; readonly result: SoundingResult | null };

const rowFrom = (row: typeof sounding.$inferSelect): SoundingRow => ({ ...row, definition: row.definition as KindDefinition, target: row.target as Target, result: row.result as SoundingResult | null });

export async function insertSounding(tx: Queries, values: { id: string; kindKey: string; definition: KindDefinition; version: number | null; target: Target; samplesAll: number; askedBy: string }): Promise<void> {
  await tx.insert(sounding).values({ ...values, state: 'queued', samplesDone: 0, askedAt: now });
}

export const soundingsOf = async (db: Queries, kindKey: string, most: number): Promise<SoundingRow[]> => (await db.select().from(sounding).where(eq(sounding.kindKey, kindKey)).orderBy(desc(sounding.id)).limit(most)).map(rowFrom);

export async function soundingById(db: Queries, id: string): Promise<SoundingRow | null> {
  const [row] = await db.select().from(sounding).where(eq(sounding.id, id)).limit(1);
  return row ? rowFrom(row) : null;
}

/** Take the oldest that waits, or one whose worker has been silent too long. */
export const claimSounding = (db: Db, workerId: string, leaseMs: number): Promise<SoundingRow | null> =>
  inTransaction(db, async (tx) => {
    const [row] = await tx.select().from(sounding).where(or(eq(sounding.state, 'queued'), and(eq(sounding.state, 'working'), lt(sounding.leaseUntil, now)))).orderBy(sounding.id).limit(1).for('update', { skipLocked: true });
    if (!row) return null;
    await tx.update(sounding).set({ state: 'working', worker: workerId, leaseUntil: nowPlus(leaseMs) }).where(eq(sounding.id, row.id));
    return rowFrom(row);
  });

const ours = (id: string, workerId: string) => and(eq(sounding.id, id), eq(sounding.worker, workerId), eq(sounding.state, 'working'));

/** False: another worker has it now. */
export const soundingProgress = async (db: Queries, id: string, workerId: string, done: number, leaseMs: number): Promise<boolean> => matched(await db.update(sounding).set({ samplesDone: done, leaseUntil: nowPlus(leaseMs) }).where(ours(id, workerId))) === 1;

export const finishSounding = async (db: Queries, id: string, workerId: string, end: { result: SoundingResult; all: number } | { failure: string }): Promise<boolean> =>
  matched(await db.update(sounding).set('failure' in end ? { state: 'failed', failure: end.failure.slice(0, 1000), finishedAt: now } : { state: 'done', result: end.result, samplesDone: end.all, samplesAll: end.all, finishedAt: now }).where(ours(id, workerId))) === 1;
