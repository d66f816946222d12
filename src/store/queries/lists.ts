import { and, asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import type { AnyMySqlColumn } from 'drizzle-orm/mysql-core';
import type { Place } from '@/core/page/page';
import type { ListColumn } from '@/core/list/list';
import { document, list, listRow, referenceRow } from '../schema';
import { isoMoment, now, type Queries } from '../database';
import type { PageOfList } from './documents';
import type { ListOrigin } from './reference';

export interface ListHead {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly columns: readonly ListColumn[];
  /** Of reference data; null for results. */
  readonly keyColumn: string | null;
  readonly origin: ListOrigin | null;
  readonly syncedAt: string | null;
  readonly problem: string | null;
}

const headOf = ({ key, name, description, columns, keyColumn, origin, syncedAt, problem }: typeof list.$inferSelect): ListHead => ({ key, name, description, columns: columns as ListColumn[], keyColumn, origin: origin as ListOrigin | null, syncedAt: syncedAt === null ? null : isoMoment(syncedAt), problem });

export async function listByKey(db: Queries, key: string): Promise<ListHead | null> {
  const [row] = await db.select().from(list).where(eq(list.key, key)).limit(1);
  return row ? headOf(row) : null;
}

export async function allLists(db: Queries): Promise<(ListHead & { rows: number })[]> {
  const heads = await db.select().from(list).orderBy(list.name);
  const counts = await db.select({ key: listRow.listKey, n: sql<number>`COUNT(*)` }).from(listRow).groupBy(listRow.listKey);
  const references = await db.select({ key: referenceRow.listKey, n: sql<number>`COUNT(*)` }).from(referenceRow).groupBy(referenceRow.listKey);
  return heads.map((head) => ({ ...headOf(head), rows: Number([...counts, ...references].find((count) => count.key === head.key)?.n ?? 0) }));
}

/** Make a list for results, or change what its columns are. */
export async function putList(tx: Queries, { key, name, description, columns }: Pick<ListHead, 'key' | 'name' | 'description' | 'columns'>): Promise<void> {
  await tx.insert(list).values({ key, name, description, columns: [...columns] }).onDuplicateKeyUpdate({ set: { name, description, columns: [...columns] } });
}

export interface NewListRow {
  readonly cells: Readonly<Record<string, string | null>>;
  readonly places: Readonly<Record<string, Place>>;
}

export interface RowOrigin {
  readonly listKey: string;
  readonly deliveryKey: string;
  readonly documentId: string;
  readonly runId: string;
}

/** Write rows in the transaction of the fact. The unique key (delivery, line) makes a second writing fail instead of doubling. */
export async function insertListRows(tx: Queries, origin: RowOrigin, rows: readonly NewListRow[]): Promise<void> {
  if (rows.length > 0) await tx.insert(listRow).values(rows.map((row, line) => ({ ...origin, line, ...row, writtenAt: now })));
}

const cellIn = (cells: AnyMySqlColumn, column: string): SQL<string | null> => sql`JSON_VALUE(${cells}, ${`$."${column.replace(/["\\]/g, '')}"`})`;

export const hasRowWith = async (db: Queries, listKey: string, column: string, value: string): Promise<boolean> =>
  (await db.select({ id: listRow.id }).from(listRow).where(and(eq(listRow.listKey, listKey), eq(cellIn(listRow.cells, column), value))).limit(1)).length > 0;

export interface RowQuery {
  readonly filters: Readonly<Record<string, string>>;
  readonly sort: string | null;
  readonly descending: boolean;
}

/** Rows with their way back, filtered and sorted by the server; newest first without a sort. */
export async function listRows(db: Queries, head: ListHead, query: RowQuery, { offset, limit }: PageOfList) {
  const where = and(eq(listRow.listKey, head.key), ...matchingCells(listRow.cells, head, query));
  const order = orderedBy(listRow.cells, head, query) ?? [desc(listRow.id)];
  const rows = await db.select({ row: listRow, fileName: document.fileName }).from(listRow).innerJoin(document, eq(document.id, listRow.documentId)).where(where).orderBy(...order).limit(limit).offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(listRow).where(where);
  return { total: Number(count?.n ?? 0), rows: rows.map(({ row, fileName }) => ({ ...row, fileName, cells: row.cells as NewListRow['cells'], places: row.places as NewListRow['places'] })) };
}

/** Conditions on the cells of a list's rows, as the filters ask for. */
export function matchingCells(cells: AnyMySqlColumn, head: ListHead, { filters }: RowQuery): SQL[] {
  const wanted = Object.entries(filters).filter(([name, part]) => part !== '' && head.columns.some((column) => column.name === name));
  return wanted.map(([name, part]) => sql`${cellIn(cells, name)} LIKE ${`%${part.replace(/[%_\\]/g, '\\$&')}%`}`);
}

/** The order that is asked for; null without one. */
export function orderedBy(cells: AnyMySqlColumn, head: ListHead, { sort, descending }: RowQuery): SQL[] | null {
  const column = head.columns.find((candidate) => candidate.name === sort);
  if (!column) return null;
  const cell = cellIn(cells, column.name);
  const figures = column.type === 'money' || column.type === 'number';
  return [(descending ? desc : asc)(figures ? sql`CAST(${cell} AS DECIMAL(30, 8))` : cell)];
}
