import { and, desc, eq } from 'drizzle-orm';
import { remembered } from '../schema';
import { matched, now, type Queries } from '../database';

export type RememberedRow = typeof remembered.$inferSelect;
export type NewRemembered = Omit<RememberedRow, 'answeredAt'>;

/** All answers of a kind, those that are not applied included, newest first. */
export const rememberedOf = (db: Queries, kindKey: string): Promise<RememberedRow[]> => db.select().from(remembered).where(eq(remembered.kindKey, kindKey)).orderBy(desc(remembered.answeredAt));

export const alwaysOf = (db: Queries, kindKey: string): Promise<RememberedRow[]> => db.select().from(remembered).where(and(eq(remembered.kindKey, kindKey), eq(remembered.state, 'always'))).orderBy(remembered.id);

/** The last answer counts. */
export async function putRemembered(tx: Queries, values: NewRemembered): Promise<void> {
  const { value, state, answeredBy } = values;
  await tx.insert(remembered).values({ ...values, answeredAt: now }).onDuplicateKeyUpdate({ set: { value, state, answeredBy, answeredAt: now } });
}

export const deleteRemembered = async (tx: Queries, id: string): Promise<boolean> => matched(await tx.delete(remembered).where(eq(remembered.id, id))) === 1;
