import { claimBatch, countItems, countUnfinished, keepBatch, leaveBatch, moveBatch, nextItems, noteItem, type BatchItemRow, type BatchRow } from '@/store/queries/batches';
import { sourceByKey } from '@/store/queries/sources';
import { PROGRAM, type Services } from './context';
import { openPlace } from './batches';
import { originOf, receive } from './receive';

/** Runs of a batch that are under way at once: enough for all workers, few enough that a pause is felt. */
const AHEAD = 16;
/** Pause before a batch that has enough under way is looked at again, ms; meanwhile others have their turn. */
const SATED_MS = 500;
/** Pause before a place that could not be reached is tried again, ms. */
const TROUBLE_MS = 15_000;

/** Take the next items of a batch, if one is under way. True when something was taken, so that it is worth looking again at once. */
export async function workBatch(services: Services, workerId: string, leaseMs: number, signal: AbortSignal): Promise<boolean> {
  const { db } = services.store;
  const row = await claimBatch(db, workerId, leaseMs);
  if (!row) return false;
  const unfinished = await countUnfinished(db, row.id);
  const items = await nextItems(db, row, Math.max(0, AHEAD - unfinished));
  if (items.length > 0) return holding(services, { id: row.id, workerId, leaseMs }, () => takeItems(services, row, items, signal));
  if (unfinished === 0) await settle(services, row);
  else await leaveBatch(db, row.id, { problem: row.problem, forMs: SATED_MS });
  return false;
}

/** Reading what is taken may last longer than a lease; it is renewed meanwhile. */
async function holding<T>({ store }: Services, { id, workerId, leaseMs }: { readonly id: string; readonly workerId: string; readonly leaseMs: number }, work: () => Promise<T>): Promise<T> {
  const beat = setInterval(() => void keepBatch(store.db, id, workerId, leaseMs).catch(() => undefined), leaseMs / 3);
  return work().finally(() => clearInterval(beat));
}

/** All that was released is through: the batch is done, or waits for somebody to say go on. */
async function settle(services: Services, { id }: BatchRow): Promise<void> {
  const { db } = services.store;
  const left = (await countItems(db, [id])).find(({ state }) => state === 'waiting')?.n ?? 0;
  await moveBatch(db, id, ['under way'], { state: left === 0 ? 'done' : 'paused', problem: null });
}

async function takeItems(services: Services, row: BatchRow, items: readonly BatchItemRow[], signal: AbortSignal): Promise<boolean> {
  const { db } = services.store;
  const numbers = new Map(items.map(({ ref, number }) => [ref, number]));
  const note = (ref: string, set: Parameters<typeof noteItem>[3]) => noteItem(db, row.id, numbers.get(ref) ?? 0, set);
  try {
    const source = row.sourceKey === null ? null : await sourceByKey(db, row.sourceKey);
    const { place, settings, secret } = await openPlace(services, { key: row.place, sourceKey: row.sourceKey, settings: row.settings as Record<string, unknown> });
    await place.take({
      settings, secret, refs: items.map(({ ref }) => ref), signal,
      // A crash between the two only means that it is taken again, and then its event is known.
      emit: async (ref, arrival) => {
        const { eventId } = await receive(services, PROGRAM, { ...(source ? originOf(source) : { sourceKey: 'batch' }), pipelineKey: row.pipelineKey }, arrival);
        await note(ref, { state: 'taken', eventId });
      },
      fail: async (ref, why) => void (await note(ref, { state: 'failed', problem: why })),
    });
    await leaveBatch(db, row.id, { problem: null, forMs: 0 });
    return true;
  } catch (error) {
    await leaveBatch(db, row.id, { problem: (error as Error).message, forMs: TROUBLE_MS });
    return false;
  }
}
