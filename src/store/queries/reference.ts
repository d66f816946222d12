import { and, asc, eq, isNotNull, sql, type SQL } from 'drizzle-orm';
import type { ListRow, ReferenceList } from '@/core/list/list';
import { list, referenceRow } from '../schema';
import { matched, now, type Queries } from '../database';
import type { PageOfList } from './documents';
import { matchingCells, orderedBy, type ListHead, type RowQuery } from './lists';

/** Where the rows of a reference list come from. */
export type ListOrigin = { readonly from: 'file'; readonly name: string } | { readonly from: 'query'; readonly connection: string; readonly query: string; /** Minutes between two syncs; null: by hand only. */ readonly every: number | null };

/** Rows written with one statement. */
const CHUNK = 500;

/** A reference list with all its rows; null when there is none, or when the list holds results. */
export async function referenceList(db: Queries, key: string): Promise<ReferenceList | null> {
  const [head] = await db.select().from(list).where(and(eq(list.key, key), isNotNull(list.keyColumn))).limit(1);
  if (!head?.keyColumn) return null;
  const rows = await db.select({ cells: referenceRow.cells }).from(referenceRow).where(eq(referenceRow.listKey, key)).orderBy(referenceRow.number);
  return { key, name: head.name, columns: head.columns as ReferenceList['columns'], keyColumn: head.keyColumn, rows: rows.map((row) => row.cells as ListRow) };
}

export async function referenceRevision(db: Queries, key: string): Promise<number | null> {
  const [head] = await db.select({ revision: list.revision }).from(list).where(and(eq(list.key, key), isNotNull(list.keyColumn))).limit(1);
  return head?.revision ?? null;
}

export interface NewReference {
  readonly list: ReferenceList;
  readonly description: string;
  readonly origin: ListOrigin;
}

/** Put a reference list in place of the one that was there. False when a list of results has this key. */
export async function putReference(tx: Queries, { list: wanted, description, origin }: NewReference): Promise<boolean> {
  const { key, name, columns, keyColumn, rows } = wanted;
  await tx.insert(list).ignore().values({ key, name, description, columns: [...columns], keyColumn, origin, syncedAt: now, revision: 0 });
  const put = await tx.update(list).set({ name, description, columns: [...columns], keyColumn, origin, syncedAt: now, problem: null, revision: sql`${list.revision} + 1` }).where(and(eq(list.key, key), isNotNull(list.keyColumn)));
  if (matched(put) !== 1) return false;
  await tx.delete(referenceRow).where(eq(referenceRow.listKey, key));
  for (let from = 0; from < rows.length; from += CHUNK) await tx.insert(referenceRow).values(rows.slice(from, from + CHUNK).map((cells, index) => ({ listKey: key, number: from + index, cells })));
  return true;
}

export const reportReference = (db: Queries, key: string, problem: string) => db.update(list).set({ problem: problem.slice(0, 1000), syncedAt: now }).where(eq(list.key, key));

export async function deleteReference(tx: Queries, key: string): Promise<boolean> {
  await tx.delete(referenceRow).where(eq(referenceRow.listKey, key));
  return matched(await tx.delete(list).where(and(eq(list.key, key), isNotNull(list.keyColumn)))) === 1;
}

export async function referenceRows(db: Queries, head: ListHead, query: RowQuery, { offset, limit }: PageOfList) {
  const where = and(eq(referenceRow.listKey, head.key), ...matchingCells(referenceRow.cells, head, query));
  const order: SQL[] = orderedBy(referenceRow.cells, head, query) ?? [asc(referenceRow.number)];
  const rows = await db.select().from(referenceRow).where(where).orderBy(...order).limit(limit).offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(referenceRow).where(where);
  return { total: Number(count?.n ?? 0), rows: rows.map((row) => ({ number: row.number, cells: row.cells as ListRow })) };
}

/** Lists that are synced by a query and whose time has come. */
export async function dueReferences(db: Queries): Promise<string[]> {
  const rows = await db.select({ key: list.key, origin: list.origin, due: sql<number>`${list.syncedAt} IS NULL OR ${list.syncedAt} < NOW(6) - INTERVAL COALESCE(JSON_VALUE(${list.origin}, '$.every'), 5256000) MINUTE` }).from(list).where(isNotNull(list.keyColumn));
  return rows.filter((row) => (row.origin as ListOrigin | null)?.from === 'query' && Number(row.due) === 1).map((row) => row.key);
}
