import { and, eq, inArray, lt, ne, sql } from 'drizzle-orm';
import { document, documentPrint, documentValue } from '../schema';
import { isoMoment, type Queries } from '../database';

/** Candidates looked at; a value that more documents share tells nothing. */
const MOST = 20;

export interface Marks {
  readonly kindKey: string;
  readonly documentId: string;
  readonly values: Readonly<Record<string, string>>;
  readonly print: readonly string[];
}

/** Note by what a document can be found again. */
export async function noteMarks(tx: Queries, { kindKey, documentId, values, print }: Marks): Promise<void> {
  await tx.delete(documentValue).where(eq(documentValue.documentId, documentId));
  await tx.delete(documentPrint).where(eq(documentPrint.documentId, documentId));
  const rows = Object.entries(values).map(([field, value]) => ({ kindKey, field, value: value.slice(0, 200), documentId }));
  if (rows.length > 0) await tx.insert(documentValue).values(rows);
  if (print.length > 0) await tx.insert(documentPrint).values(print.map((part) => ({ kindKey, part, documentId })));
}

export interface Earlier {
  readonly id: string;
  readonly name: string;
  readonly receivedAt: string;
  readonly values: Readonly<Record<string, string>>;
  /** Parts of the print that are the same. */
  readonly shared: number;
}

/** Documents that came before and share a telling value or most of the print. Identifiers sort by when they were made. */
export async function earlierLike(db: Queries, { kindKey, documentId, values, print }: Marks, leastShared: number): Promise<Earlier[]> {
  const before = and(eq(documentValue.kindKey, kindKey), lt(documentValue.documentId, documentId));
  const [[field, value] = [null, null]] = Object.entries(values);
  const byValue = field === null ? [] : await db.select({ id: documentValue.documentId }).from(documentValue).where(and(before, eq(documentValue.field, field), eq(documentValue.value, value))).limit(MOST);
  const shared = print.length === 0 ? [] : await db.select({ id: documentPrint.documentId, n: sql<number>`COUNT(*)` }).from(documentPrint).where(and(eq(documentPrint.kindKey, kindKey), inArray(documentPrint.part, [...print]), lt(documentPrint.documentId, documentId), ne(documentPrint.documentId, documentId))).groupBy(documentPrint.documentId).having(sql`COUNT(*) >= ${leastShared}`).limit(MOST);
  const ids = [...new Set([...byValue, ...shared].map((row) => row.id))];
  if (ids.length === 0) return [];
  const [documents, noted] = await Promise.all([db.select({ id: document.id, name: document.fileName, receivedAt: document.receivedAt }).from(document).where(inArray(document.id, ids)), db.select().from(documentValue).where(inArray(documentValue.documentId, ids))]);
  return documents.map((row) => ({ id: row.id, name: row.name, receivedAt: isoMoment(row.receivedAt), values: Object.fromEntries(noted.filter((one) => one.documentId === row.id).map((one) => [one.field, one.value])), shared: Number(shared.find((one) => one.id === row.id)?.n ?? 0) }));
}
