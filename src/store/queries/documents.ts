import { and, asc, desc, eq, inArray, isNotNull, notInArray, isNull, like, or, sql, type SQL } from 'drizzle-orm';
import type { Given } from '@/core/pipeline/facts';
import type { Page, PageOrigin, Word } from '@/core/page/page';
import { document, event, pageText, run } from '../schema';
import { now, type Queries } from '../database';

export type DocumentRow = typeof document.$inferSelect;
export type NewDocument = Omit<DocumentRow, 'receivedAt' | 'runId' | 'kindKey' | 'papersGoneAt' | 'awaits'> & Partial<Pick<DocumentRow, 'awaits'>>;
export type NewEvent = Omit<typeof event.$inferSelect, 'receivedAt'>;

/** Record an event; false when it is known already under its dedupe key. */
export async function insertEvent(tx: Queries, values: NewEvent): Promise<boolean> {
  const [result] = (await tx.insert(event).ignore().values({ ...values, receivedAt: now })) as unknown as [{ affectedRows: number }];
  return result.affectedRows === 1;
}

export async function eventByKey(db: Queries, sourceKey: string, dedupeKey: string) {
  const [row] = await db.select().from(event).where(and(eq(event.sourceKey, sourceKey), eq(event.dedupeKey, dedupeKey))).limit(1);
  return row ?? null;
}

export const documentsOfEvent = (db: Queries, eventId: string): Promise<DocumentRow[]> => db.select().from(document).where(eq(document.eventId, eventId)).orderBy(document.part);

export async function insertDocument(tx: Queries, values: NewDocument): Promise<void> {
  await tx.insert(document).values({ ...values, receivedAt: now });
}

/** Events that are looked at for the names of their properties. */
const MOST_EVENTS = 200;

/** Pipeline → names of the properties that its newest events had. */
export async function newestProperties(db: Queries): Promise<ReadonlyMap<string, readonly string[]>> {
  const rows = await db.select({ pipeline: document.pipelineKey, data: event.data }).from(event).innerJoin(document, and(eq(document.eventId, event.id), eq(document.part, 0))).where(eq(event.type, EVENT_SENT)).orderBy(desc(event.id)).limit(MOST_EVENTS);
  const names = new Map<string, Set<string>>();
  for (const { pipeline, data } of rows) for (const name of Object.keys((data as { properties?: object }).properties ?? {})) names.set(pipeline, (names.get(pipeline) ?? new Set()).add(name));
  return new Map([...names].map(([pipeline, set]) => [pipeline, [...set]]));
}

/** The content of a document has been fetched. */
export async function contentCame(tx: Queries, id: string, content: Pick<DocumentRow, 'sha256' | 'fileName' | 'mediaType' | 'size' | 'pageCount'>): Promise<void> {
  await tx.update(document).set({ ...content, awaits: null }).where(eq(document.id, id));
}

/** The first document with these bytes. */
export async function firstWithBytes(db: Queries, sha256: string): Promise<DocumentRow | null> {
  const [row] = await db.select().from(document).where(eq(document.sha256, sha256)).orderBy(asc(document.id)).limit(1);
  return row ?? null;
}

export async function documentById(db: Queries, id: string): Promise<DocumentRow | null> {
  const [row] = await db.select().from(document).where(eq(document.id, id)).limit(1);
  return row ?? null;
}

export async function savePages(tx: Queries, sha256: string, pages: readonly Page[]): Promise<void> {
  if (pages.length === 0) return;
  const rows = pages.map((page) => ({ sha256, number: page.number, width: page.width, height: page.height, words: page.words.map((word) => [word.text, ...word.box, ...(word.sure === undefined ? [] : [word.sure])]), origin: page.origin ?? null, why: page.why?.slice(0, 500) ?? null }));
  await tx.insert(pageText).ignore().values(rows);
}

type KeptWord = [string, number, number, number, number, number?];

export async function pagesOf(db: Queries, sha256: string): Promise<Page[]> {
  const rows = await db.select().from(pageText).where(eq(pageText.sha256, sha256)).orderBy(pageText.number);
  return rows.map((row) => ({ number: row.number, width: row.width, height: row.height, words: (row.words as KeptWord[]).map(([text, x0, y0, x1, y1, sure]): Word => ({ text, box: [x0, y0, x1, y1], ...(sure === undefined ? {} : { sure }) })), ...(row.origin ? { origin: row.origin as PageOrigin } : {}), ...(row.why ? { why: row.why } : {}) }));
}

export const setDocumentKind = (tx: Queries, id: string, kindKey: string) => tx.update(document).set({ kindKey }).where(eq(document.id, id));

/** CloudEvents type of events that are sent with properties alone. */
export const EVENT_SENT = 'leadline.event.sent';

/** Who gave a run what the event says. */
export const THE_EVENT = 'the event';

/** What the event of a document says of it; undefined for anything but an event of properties. */
export async function propertiesOf(db: Queries, eventId: string): Promise<Given | undefined> {
  const [row] = await db.select({ data: event.data }).from(event).where(and(eq(event.id, eventId), eq(event.type, EVENT_SENT))).limit(1);
  return (row?.data as { properties?: Given } | undefined)?.properties;
}

/** Files that came with others and were left out by rule, or are a part of one that was made of them: kept, and nothing is wrong with them. */
export const LEFT_ON_PURPOSE = ['left-out', 'part-of-one'] as const;

export interface DocumentFilter {
  /** Words in file name, sender or subject. */
  readonly search?: string | undefined;
  readonly source?: string | undefined;
  readonly state?: 'problem' | 'repeat' | 'waiting' | 'stranded' | 'finished' | 'under way' | undefined;
}

export interface PageOfList {
  readonly offset: number;
  readonly limit: number;
}

/** Documents with the state of their newest run, newest first, and how many there are in all. */
export async function listDocuments(db: Queries, filter: DocumentFilter, { offset, limit }: PageOfList) {
  const where = and(...conditions(filter));
  const rows = await db
    .select({ document, runState: run.state, runStep: run.atStep, runStopped: run.stopped })
    .from(document)
    .leftJoin(run, eq(run.id, document.runId))
    .where(where)
    .orderBy(desc(document.receivedAt), desc(document.id))
    .limit(limit)
    .offset(offset);
  const [count] = await db.select({ n: sql<number>`COUNT(*)` }).from(document).leftJoin(run, eq(run.id, document.runId)).where(where);
  return { rows, total: Number(count?.n ?? 0) };
}

function conditions({ search, source, state }: DocumentFilter): (SQL | undefined)[] {
  const pattern = `%${(search ?? '').replace(/[%_\\]/g, '\\$&')}%`;
  return [
    search ? or(like(document.fileName, pattern), like(document.sender, pattern), like(document.subject, pattern)) : undefined,
    source ? eq(document.sourceKey, source) : undefined,
    state ? stateCondition(state) : undefined,
  ];
}

function stateCondition(state: NonNullable<DocumentFilter['state']>): SQL | undefined {
  switch (state) {
    case 'problem':
      return and(isNotNull(document.problemCode), notInArray(document.problemCode, [...LEFT_ON_PURPOSE]));
    case 'repeat':
      return and(isNotNull(document.repeatOf), isNull(document.runId));
    case 'waiting':
    case 'stranded':
    case 'finished':
      return eq(run.state, state);
    case 'under way':
      return inArray(run.state, ['queued', 'working']);
  }
}
