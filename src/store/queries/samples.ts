import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Truth } from '@/core/measuring/compare';
import type { KindDefinition } from '@/core/reading/kind';
import { kindDraft, sample } from '../schema';
import { matched, now, type Queries } from '../database';
import type { SampleState } from '../states';

export type SampleRow = Omit<typeof sample.$inferSelect, 'truth'> & { readonly truth: Truth };
export type NewSample = Omit<SampleRow, 'addedAt' | 'revision'>;

const rowFrom = (row: typeof sample.$inferSelect): SampleRow => ({ ...row, truth: row.truth as Truth });

export const samplesOf = async (db: Queries, kindKey: string): Promise<SampleRow[]> => (await db.select().from(sample).where(eq(sample.kindKey, kindKey)).orderBy(sample.id)).map(rowFrom);

export async function sampleById(db: Queries, id: string): Promise<SampleRow | null> {
  const [row] = await db.select().from(sample).where(eq(sample.id, id)).limit(1);
  return row ? rowFrom(row) : null;
}

/** Add a sample; false when the kind has one with the same bytes already. */
export async function insertSample(tx: Queries, values: NewSample): Promise<boolean> {
  return matched(await tx.insert(sample).ignore().values({ ...values, revision: 1, addedAt: now })) === 1;
}

/** Values confirmed at a later time for bytes that are a sample already. */
export const proposeTruth = async (tx: Queries, kindKey: string, sha256: string, truth: Truth): Promise<boolean> =>
  matched(await tx.update(sample).set({ truth, state: 'proposed', revision: sql`${sample.revision} + 1` }).where(and(eq(sample.kindKey, kindKey), eq(sample.sha256, sha256), inArray(sample.state, ['new', 'proposed'])))) === 1;

export interface SampleChange {
  readonly truth?: Truth;
  readonly state?: SampleState;
  readonly heldBack?: boolean;
}

/** Change a sample if nobody else has since. */
export const changeSample = async (tx: Queries, id: string, revision: number, change: SampleChange): Promise<boolean> =>
  matched(await tx.update(sample).set({ ...change, revision: revision + 1 }).where(and(eq(sample.id, id), eq(sample.revision, revision)))) === 1;

export const deleteSample = async (tx: Queries, id: string): Promise<boolean> => matched(await tx.delete(sample).where(eq(sample.id, id))) === 1;

export async function countSamples(db: Queries): Promise<Map<string, { all: number; confirmed: number; proposed: number }>> {
  const rows = await db.select({ key: sample.kindKey, all: sql<number>`COUNT(*)`, confirmed: sql<number>`SUM(state = 'confirmed')`, proposed: sql<number>`SUM(state = 'proposed')` }).from(sample).groupBy(sample.kindKey);
  return new Map(rows.map((row) => [row.key, { all: Number(row.all), confirmed: Number(row.confirmed), proposed: Number(row.proposed) }]));
}

export interface DraftRow {
  readonly kindKey: string;
  readonly definition: KindDefinition;
  readonly revision: number;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export async function draftOf(db: Queries, kindKey: string): Promise<DraftRow | null> {
  const [row] = await db.select().from(kindDraft).where(eq(kindDraft.kindKey, kindKey)).limit(1);
  return row ? { ...row, definition: row.definition as KindDefinition } : null;
}

export const allDrafts = async (db: Queries): Promise<DraftRow[]> => (await db.select().from(kindDraft).orderBy(kindDraft.kindKey)).map((row) => ({ ...row, definition: row.definition as KindDefinition }));

/** Keep a draft if it is still the one it was made from; revision 0 makes a new one. */
export async function saveKindDraft(tx: Queries, draft: { kindKey: string; definition: KindDefinition; revision: number; by: string }): Promise<boolean> {
  const { kindKey, definition, revision, by } = draft;
  if (revision === 0) return matched(await tx.insert(kindDraft).ignore().values({ kindKey, definition, revision: 1, updatedAt: now, updatedBy: by })) === 1;
  return matched(await tx.update(kindDraft).set({ definition, revision: revision + 1, updatedAt: now, updatedBy: by }).where(and(eq(kindDraft.kindKey, kindKey), eq(kindDraft.revision, revision)))) === 1;
}

export const deleteKindDraft = async (tx: Queries, kindKey: string): Promise<boolean> => matched(await tx.delete(kindDraft).where(eq(kindDraft.kindKey, kindKey))) === 1;
