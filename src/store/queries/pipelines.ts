import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { pipelineDraft, pipelineSwitch } from '../schema';
import { matched, now, type Queries } from '../database';

export type PipelineDraft = typeof pipelineDraft.$inferSelect;
export type PipelineSwitch = typeof pipelineSwitch.$inferSelect;

export async function pipelineDraftOf(db: Queries, key: string): Promise<PipelineDraft | null> {
  const [row] = await db.select().from(pipelineDraft).where(eq(pipelineDraft.pipelineKey, key)).limit(1);
  return row ?? null;
}

export const allPipelineDrafts = (db: Queries): Promise<PipelineDraft[]> => db.select().from(pipelineDraft).orderBy(pipelineDraft.pipelineKey);

/** Keep a draft; false when somebody else changed it since `revision`. 0: there was none. */
export async function savePipelineDraft(tx: Queries, { key, yaml, revision, by }: { key: string; yaml: string; revision: number; by: string }): Promise<boolean> {
  if (revision === 0) return matched(await tx.insert(pipelineDraft).ignore().values({ pipelineKey: key, yaml, revision: 1, updatedAt: now, updatedBy: by })) === 1;
  return matched(await tx.update(pipelineDraft).set({ yaml, revision: sql`${pipelineDraft.revision} + 1`, updatedAt: now, updatedBy: by }).where(and(eq(pipelineDraft.pipelineKey, key), eq(pipelineDraft.revision, revision)))) === 1;
}

export const deletePipelineDraft = (tx: Queries, key: string) => tx.delete(pipelineDraft).where(eq(pipelineDraft.pipelineKey, key));

/** Switches that somebody has touched; a pipeline without one is on, with the usual priority. */
export const pipelineSwitches = (db: Queries): Promise<PipelineSwitch[]> => db.select().from(pipelineSwitch);

export const pausedPipelines = async (db: Queries): Promise<string[]> => (await db.select({ key: pipelineSwitch.pipelineKey }).from(pipelineSwitch).where(isNotNull(pipelineSwitch.pausedAt))).map(({ key }) => key);

/** Pause or let go on; who paused it is kept. */
export async function setPaused(tx: Queries, key: string, paused: boolean, by: string): Promise<void> {
  const set = { pausedAt: paused ? now : null, pausedBy: paused ? by : null };
  await tx.insert(pipelineSwitch).values({ pipelineKey: key, priority: 0, ...set }).onDuplicateKeyUpdate({ set });
}

export const setPriority = async (tx: Queries, key: string, priority: number): Promise<void> => void (await tx.insert(pipelineSwitch).values({ pipelineKey: key, priority, pausedAt: null, pausedBy: null }).onDuplicateKeyUpdate({ set: { priority } }));
