import { and, asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import type { Place } from '@/core/page/page';
import type { ValueType } from '@/core/value/normalise';
import { document, list, listRow } from '../schema';
import { now, type Queries } from '../database';
import type { PageOfList } from './documents';

export interface ListColumn {
  readonly name: string;
  readonly type: ValueType;
}

export interface ListHead {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly columns: readonly ListColumn[];
}

const headOf = (row: typeof list.$inferSelect): ListHead => ({ ...row, columns: row.columns as ListColumn[] });

export async function listByKey(db: Queries, key: string): Promise<ListHead | null> {
  const [row] = await db.select().from(list).where(eq(list.key, key)).limit(1);
  return row ? headOf(row) : null;
}

export async function allLists(db: Queries): Promise<(ListHead & { rows: number })[]> {
  const heads = await db.select().from(list).orderBy(list.name);
  const counts = await db.select({ key: listRow.listKey, n: sql<number>`COUNT(*)` }).from(listRow).groupBy(listRow.listKey);
  return heads.map((head) => ({ ...headOf(head), rows: Number(counts.find((count) => count.key === head.key)?.n ?? 0) }));
}

export async function putList(tx: Queries, head: ListHead): Promise<void> {
  await tx.insert(list).values(head).onDuplicateKeyUpdate({ set: { name: head.name, description: head.description, columns: head.columns } });
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

const cellOf = (column: string): SQL<string | null> => sql`JSON_VALUE(${listRow.cells}, ${`$."${column.replace(/["\\]/g, '')}"`})`;

export const hasRowWith = async (db: Queries, listKey: string, column: string, value: string): Promise<boolean> =>
  (await db.select({ id: listRow.id }).from(listRow).where(and(eq(listRow.listKey, listKey), eq(cellOf(column), value))).limit(1)).length > 0;

export interface RowQuery {
  readonly filters: Readonly<Record<string, string>>;
  readonly sort: string | null;
  readonly descending: boolean;
}

/** Rows with their way back, filtered and sorted by the server; newest first without a sort. */
export async function listRows(db: Queries, head: ListHead, query: RowQuery, { offset, limit }: PageOfList) {
  const known = (name: string) => head.columns.find((column) => column.name === name);
  const filters = Object.entries(query.filters).filter(([column, wanted]) => known(column) && wanted !== '');
  const where = and(eq(listRow.listKey, head.key), ...filters.map(([column, wanted]) => sql`${cellOf(column)} LIKE ${`%${wanted.replace(/[%_\\]/g, '\\$&')}%`}`));
  const order = orderOf(query.sort === null ? undefined : known(query.sort), query.descending);
  const rows = await db.select({ row: listRow, fileName: document.fileName }).from(listRow).innerJoin(document, eq(document.id, listRow.documentId)).where(where).orderBy(...order).limit(limit).offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(listRow).where(where);
  return { total: Number(count?.n ?? 0), rows: rows.map(({ row, fileName }) => ({ ...row, fileName, cells: row.cells as NewListRow['cells'], places: row.places as NewListRow['places'] })) };
}

function orderOf(column: ListColumn | undefined, descending: boolean): SQL[] {
  const way = descending ? desc : asc;
  if (!column) return [desc(listRow.id)];
  const cell = cellOf(column.name);
  const figures = column.type === 'money' || column.type === 'number';
  return [way(figures ? sql`CAST(${cell} AS DECIMAL(30, 8))` : cell), way(listRow.id)];
}
