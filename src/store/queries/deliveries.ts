import { and, eq, inArray } from 'drizzle-orm';
import { delivery } from '../schema';
import { matched, now, type Queries } from '../database';

export type DeliveryRow = typeof delivery.$inferSelect;

/** Record a delivery before anything is sent. False when it was planned before, by an attempt that may or may not have sent it. */
export async function planDelivery(tx: Queries, values: Pick<DeliveryRow, 'key' | 'runId' | 'stepId' | 'target' | 'rows'>): Promise<boolean> {
  const result = await tx.insert(delivery).ignore().values({ ...values, state: 'planned', proof: null, plannedAt: now });
  return matched(result) === 1;
}

/** A delivery that commits together with its own rows needs no plan: it is there or it is not. */
export async function recordDelivery(tx: Queries, values: Pick<DeliveryRow, 'key' | 'runId' | 'stepId' | 'target' | 'rows' | 'proof'>): Promise<void> {
  await tx.insert(delivery).values({ ...values, state: 'confirmed', plannedAt: now, confirmedAt: now });
}

/** Keep the proof; false when it was confirmed before. */
export async function confirmDelivery(tx: Queries, key: string, proof: unknown): Promise<boolean> {
  const result = await tx.update(delivery).set({ state: 'confirmed', proof, confirmedAt: now }).where(and(eq(delivery.key, key), inArray(delivery.state, ['planned', 'sent', 'uncertain'])));
  return matched(result) === 1;
}

export const deliveriesOf = (db: Queries, runId: string): Promise<DeliveryRow[]> => db.select().from(delivery).where(eq(delivery.runId, runId)).orderBy(delivery.plannedAt);

/** Forget a plan whose write has surely not happened, so that the next attempt is the first again. */
export const unplanDelivery = (tx: Queries, key: string) => tx.delete(delivery).where(and(eq(delivery.key, key), eq(delivery.state, 'planned')));

/** Nobody can tell whether it has arrived; a person decides. */
export const doubtDelivery = (tx: Queries, key: string) => tx.update(delivery).set({ state: 'uncertain' }).where(and(eq(delivery.key, key), inArray(delivery.state, ['planned', 'sent'])));

/** A person says that it has not arrived: it is planned anew. */
export const dropDelivery = (tx: Queries, key: string) => tx.delete(delivery).where(and(eq(delivery.key, key), eq(delivery.state, 'uncertain')));
