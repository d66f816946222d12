import { and, asc, desc, eq, gt, inArray, lte, sql } from 'drizzle-orm';
import type { Notice, NoticeData, NoticeType } from '@/core/telling/notice';
import { newId } from '@/settings/identifier';
import { document, listener, notice, run, telling } from '../schema';
import { inTransaction, isoMoment, matched, now, nowPlus, type Db, type Queries } from '../database';

export type ListenerRow = typeof listener.$inferSelect;
type NoticeRow = typeof notice.$inferSelect;

const noticeFrom = (row: NoticeRow): Notice => ({ id: row.id, type: row.type, runId: row.runId, pipelineKey: row.pipelineKey, data: row.data as NoticeData, at: isoMoment(row.at) });

/** Note what happened, in the transaction that makes it happen: neither goes without the other. Who is told is found out later. */
export async function noteHappening(tx: Queries, happening: Omit<Notice, 'id' | 'at'>): Promise<void> {
  await tx.insert(notice).values({ id: newId(), ...happening, at: now, spread: false });
}

/** Make a telling of each new notice for each listener that wants it. Returns how many notices were new. */
export async function spreadNotices(db: Db, most: number): Promise<number> {
  return inTransaction(db, async (tx) => {
    const fresh = await tx.select({ id: notice.id, type: notice.type }).from(notice).where(eq(notice.spread, false)).orderBy(asc(notice.id)).limit(most).for('update', { skipLocked: true });
    if (fresh.length === 0) return 0;
    const listeners = (await allListeners(tx)).filter(({ enabled }) => enabled);
    const rows = listeners.flatMap(({ key, types }) => fresh.filter(({ type }) => wants(types as readonly NoticeType[], type)).map(({ id }) => ({ listenerKey: key, noticeId: id, state: 'due' as const, attempts: 0, dueAt: now })));
    if (rows.length > 0) await tx.insert(telling).ignore().values(rows);
    await tx.update(notice).set({ spread: true }).where(inArray(notice.id, fresh.map(({ id }) => id)));
    return fresh.length;
  });
}

/** A listener that names no types wants to hear of everything. */
const wants = (types: readonly NoticeType[], type: NoticeType): boolean => types.length === 0 || types.includes(type);

/**
 * The log from a notice on, oldest first. The last seconds are left out: what commits late may stand before what committed sooner, and
 * who reads on from there would never see it.
 */
export async function noticesAfter(db: Queries, { after, types, most }: { after: string; types: readonly NoticeType[]; most: number }): Promise<Notice[]> {
  const settled = sql`${notice.at} < NOW(6) - INTERVAL ${LATE_SECONDS} SECOND`;
  const rows = await db.select().from(notice).where(and(gt(notice.id, after), settled, types.length > 0 ? inArray(notice.type, [...types]) : undefined)).orderBy(asc(notice.id)).limit(most);
  return rows.map(noticeFrom);
}

const LATE_SECONDS = 5;

export const allListeners = (db: Queries): Promise<ListenerRow[]> => db.select().from(listener).orderBy(asc(listener.name));

export async function listenerByKey(db: Queries, key: string): Promise<ListenerRow | null> {
  const [row] = await db.select().from(listener).where(eq(listener.key, key)).limit(1);
  return row ?? null;
}

export async function putListener(tx: Queries, values: Pick<ListenerRow, 'key' | 'name' | 'url' | 'types' | 'secret' | 'enabled'>): Promise<void> {
  const { key, ...set } = values;
  await tx.insert(listener).values({ key, ...set }).onDuplicateKeyUpdate({ set: { ...set, problem: null } });
}

export async function deleteListener(tx: Queries, key: string): Promise<boolean> {
  await tx.delete(telling).where(eq(telling.listenerKey, key));
  return matched(await tx.delete(listener).where(eq(listener.key, key))) === 1;
}

/** How much each listener was told, and how much it is still to be told. */
export async function countTellings(db: Queries): Promise<{ key: string; state: string; n: number }[]> {
  const rows = await db.select({ key: telling.listenerKey, state: telling.state, n: sql<number>`COUNT(*)` }).from(telling).groupBy(telling.listenerKey, telling.state);
  return rows.map((row) => ({ ...row, n: Number(row.n) }));
}

/** The newest tellings of a listener with what they tell. */
export const tellingsOf = (db: Queries, key: string, most: number) =>
  db.select({ telling, notice, fileName: document.fileName }).from(telling).innerJoin(notice, eq(notice.id, telling.noticeId)).leftJoin(run, eq(run.id, notice.runId)).leftJoin(document, eq(document.id, run.documentId)).where(eq(telling.listenerKey, key)).orderBy(desc(telling.noticeId)).limit(most);

export interface DueTelling {
  readonly notice: Notice;
  readonly listener: ListenerRow;
  /** This one included. */
  readonly attempt: number;
}

/**
 * Take tellings whose time has come. Taken, they are due again after `holdMs`: a worker that dies on the way only delays them, and the
 * receiver knows them by their id.
 */
export async function takeDueTellings(db: Db, most: number, holdMs: number): Promise<DueTelling[]> {
  const listeners = new Map((await allListeners(db)).filter(({ enabled }) => enabled).map((row) => [row.key, row]));
  if (listeners.size === 0) return [];
  const taken = await inTransaction(db, async (tx) => {
    const rows = await tx.select().from(telling).where(and(eq(telling.state, 'due'), lte(telling.dueAt, now), inArray(telling.listenerKey, [...listeners.keys()]))).orderBy(asc(telling.state), asc(telling.dueAt)).limit(most).for('update', { skipLocked: true });
    for (const row of rows) await tx.update(telling).set({ attempts: row.attempts + 1, dueAt: nowPlus(holdMs) }).where(isTelling(row.listenerKey, row.noticeId));
    return rows;
  });
  if (taken.length === 0) return [];
  const notices = new Map((await db.select().from(notice).where(inArray(notice.id, taken.map(({ noticeId }) => noticeId)))).map((row) => [row.id, noticeFrom(row)]));
  return taken.flatMap((row) => {
    const [told, to] = [notices.get(row.noticeId), listeners.get(row.listenerKey)];
    return told && to ? [{ notice: told, listener: to, attempt: row.attempts + 1 }] : [];
  });
}

const isTelling = (key: string, noticeId: string) => and(eq(telling.listenerKey, key), eq(telling.noticeId, noticeId));

export async function noteTold(db: Db, key: string, noticeId: string): Promise<void> {
  await db.update(telling).set({ state: 'told', toldAt: now, failure: null }).where(isTelling(key, noticeId));
  await db.update(listener).set({ toldAt: now, problem: null }).where(eq(listener.key, key));
}

/** `againInMs` null: it is given up. */
export async function noteUntold(db: Db, key: string, noticeId: string, { failure, againInMs }: { failure: string; againInMs: number | null }): Promise<void> {
  const text = failure.slice(0, 1000);
  await db.update(telling).set({ failure: text, ...(againInMs === null ? { state: 'given up' as const } : { dueAt: nowPlus(againInMs) }) }).where(isTelling(key, noticeId));
  await db.update(listener).set({ problem: text }).where(eq(listener.key, key));
}

export const switchListener = async (db: Queries, key: string, enabled: boolean): Promise<boolean> => matched(await db.update(listener).set({ enabled }).where(eq(listener.key, key))) === 1;

/** Tell a listener again, or for the first time, what happened since a moment. Returns how much. */
export async function tellAgain(tx: Queries, key: string, types: readonly NoticeType[], since: string): Promise<number> {
  const wanted = types.length === 0 ? sql`` : sql`AND type IN (${sql.join(types.map((type) => sql`${type}`), sql`, `)})`;
  const [result] = (await tx.execute(sql`INSERT INTO ${telling} (listener_key, notice_id, state, attempts, due_at) SELECT ${key}, id, 'due', 0, NOW(6) FROM ${notice} WHERE at >= ${since} ${wanted} ON DUPLICATE KEY UPDATE state = 'due', attempts = 0, due_at = NOW(6)`)) as unknown as [{ affectedRows: number }];
  const [row] = await tx.select({ n: sql<number>`COUNT(*)` }).from(telling).where(and(eq(telling.listenerKey, key), eq(telling.state, 'due')));
  return result.affectedRows === 0 ? 0 : Number(row?.n ?? 0);
}
