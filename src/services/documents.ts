import { and, eq } from 'drizzle-orm';
import type { Reference } from '@/connectors/source';
import type { DocumentDetail, DocumentSummary, PageOf } from '@/contracts/api';
import { hocrOf } from '@/core/page/hocr';
import { layoutText } from '@/core/page/layout-text';
import { knownSoFar } from '@/core/pipeline/planner';
import { searchablePdf, type PicturedPage } from '@/digitise/searchable';
import { newId } from '@/settings/identifier';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { documentById, LEFT_ON_PURPOSE, listDocuments, propertiesOf, THE_EVENT, type DocumentFilter, type DocumentRow, type PageOfList } from '@/store/queries/documents';
import { factFrom, factRowsOf, insertRun, runsOfDocument, type RunRow } from '@/store/queries/runs';
import { listSources } from '@/store/queries/sources';
import { list, listRow } from '@/store/schema';
import type { RunState } from '@/store/states';
import { Refusal, type Services } from './context';
import { paperOfDocument } from './papers';
import { pictureOf, type Stage } from './pictures';

export async function searchDocuments(services: Services, filter: DocumentFilter, page: PageOfList): Promise<PageOf<DocumentSummary>> {
  const [{ rows, total }, names] = await Promise.all([listDocuments(services.store.db, filter, page), sourceNames(services)]);
  return { total, offset: page.offset, rows: rows.map((row) => summary(row.document, { state: row.runState, step: row.runStep, stopped: row.runStopped }, names)) };
}

async function sourceNames(services: Services): Promise<ReadonlyMap<string, string>> {
  return new Map((await listSources(services.store.db)).map((source) => [source.key, source.name]));
}

/** Documents that came by hand or over the endpoint have no source of their own. */
const OTHER_SOURCES: Readonly<Record<string, string>> = { endpoint: 'Endpoint', dropped: 'Dropped in', batch: 'Batch' };

type RunGlimpse = { readonly state: RunState | null; readonly step: string | null; readonly stopped: string | null };

function summary(row: DocumentRow, run: RunGlimpse, names: ReadonlyMap<string, string>): DocumentSummary {
  return {
    id: row.id,
    fileName: row.fileName,
    source: { key: row.sourceKey, name: names.get(row.sourceKey) ?? OTHER_SOURCES[row.sourceKey] ?? row.sourceKey },
    sender: row.sender,
    subject: row.subject,
    receivedAt: isoMoment(row.receivedAt),
    pageCount: row.pageCount,
    size: row.size,
    kind: row.kindKey,
    problem: row.problemCode !== null ? { code: row.problemCode, text: row.problemText ?? '' } : row.papersGoneAt !== null ? { code: 'deleted', text: goneText(row) ?? '' } : null,
    repeatOf: row.repeatOf,
    awaits: ((row.awaits ?? []) as Reference[]).map(({ at, connection }) => (connection === null ? at : `${connection}: ${at}`)),
    run: row.runId === null || run.state === null ? null : { id: row.runId, state: run.state, step: run.step, stopped: run.stopped },
  };
}

export async function requireDocument(services: Services, id: string): Promise<DocumentRow> {
  const row = await documentById(services.store.db, id);
  if (!row) throw new Refusal('not-found', `There is no document ${id}.`);
  return row;
}

/** A document whose pages and original are still there. */
export async function requirePapers(services: Services, id: string): Promise<DocumentRow> {
  const row = await requireDocument(services, id);
  const gone = goneText(row);
  if (gone !== null) throw new Refusal('not-found', `${row.fileName}: ${gone}`);
  return row;
}

/** What stands in place of the pages; null while they are there. */
const goneText = ({ papersGoneAt }: DocumentRow): string | null => (papersGoneAt === null ? null : `The pages were deleted on ${isoMoment(papersGoneAt).slice(0, 10)}. What was written stays, with its proof.`);

export async function describeDocument(services: Services, id: string): Promise<DocumentDetail> {
  const { db } = services.store;
  const row = await requireDocument(services, id);
  const [runs, pages, names] = await Promise.all([runsOfDocument(db, id), paperOfDocument(services, row).then((paper) => paper.pages), sourceNames(services)]);
  const newest = runs.find((run) => run.id === row.runId);
  const known = newest ? await knownOf(services, newest) : null;
  const written = await db.selectDistinct({ list: listRow.listKey, listName: list.name, row: listRow.id }).from(listRow).innerJoin(list, eq(list.key, listRow.listKey)).where(and(eq(listRow.documentId, id))).limit(200);
  return {
    ...summary(row, { state: newest?.state ?? null, step: newest?.atStep ?? null, stopped: newest?.stopped ?? null }, names),
    sha256: row.sha256,
    mediaType: row.mediaType,
    pages: (row.papersGoneAt === null ? pages : []).map(({ number, width, height, origin, why }) => ({ number, width, height, origin: origin ?? 'text layer', why: why ?? null })),
    runs: runs.map((run) => ({ id: run.id, state: run.state, createdAt: isoMoment(run.createdAt) })),
    reading: known?.reading ?? null,
    readings: known?.reading ? known.readings : null,
    kindDefinition: known?.reading ? await services.kind(known.reading.kind) : null,
    written,
  };
}

/** What the finished steps of a run have made known. */
export async function knownOf(services: Services, run: RunRow) {
  const [pipeline, rows] = await Promise.all([services.pinned('pipeline', run.pipelineKey, run.pipelineVersion), factRowsOf(services.store.db, [run.id])]);
  if (!pipeline) return null;
  return knownSoFar(pipeline.definition, new Map(rows.map((row) => [row.stepId, factFrom(row)])));
}

/** A picture of one page, drawn once and kept. */
export async function pagePicture(services: Services, id: string, page: number, stage: Stage): Promise<{ bytes: Buffer; mediaType: string }> {
  const row = await requirePapers(services, id);
  if (row.pageCount === null || page < 1 || page > row.pageCount) throw new Refusal('not-found', `${row.fileName} has no page ${page} that can be shown.`);
  return pictureOf(services, stage === 'came' ? row.sha256 : (await paperOfDocument(services, row)).hash, page, stage);
}

/** The text of all pages with columns kept, pages parted by form feeds. */
export async function documentText(services: Services, id: string): Promise<string> {
  const row = await requirePapers(services, id);
  return (await paperOfDocument(services, row)).pages.map((page) => layoutText(page).text).join('\n\f');
}

export async function documentHocr(services: Services, id: string): Promise<string> {
  const row = await requirePapers(services, id);
  return hocrOf(row.fileName, (await paperOfDocument(services, row)).pages);
}

/** The pages as a PDF in which words can be found, whatever they came as. */
export async function documentSearchable(services: Services, id: string): Promise<{ name: string; bytes: Buffer }> {
  const row = await requirePapers(services, id);
  const { hash, pages: all } = await paperOfDocument(services, row);
  const pages = all.filter((page) => page.origin !== 'typed' && page.origin !== 'data');
  if (pages.length === 0) throw new Refusal('conflict', `${row.fileName} has no pages of paper.`);
  const pictured: PicturedPage[] = [];
  for (const page of pages) pictured.push({ page, picture: (await pictureOf(services, hash, page.number)).bytes });
  return { name: row.fileName.replace(/\.[^.]+$/, '') + '.searchable.pdf', bytes: await searchablePdf(row.fileName, pictured) };
}

/** What keeps a document from running by itself, but not on purpose. */
const RUNNABLE: readonly string[] = ['no-pipeline', ...LEFT_ON_PURPOSE];

/** Run a document that has none, such as a repeat, or run it once more on purpose. Returns the run's id. */
export async function runDocument(services: Services, actor: Actor, id: string): Promise<string> {
  const { db } = services.store;
  const row = await requirePapers(services, id);
  if (row.problemCode !== null && !RUNNABLE.includes(row.problemCode)) throw new Refusal('conflict', `${row.fileName} cannot be run: ${row.problemText}`);
  const pipeline = await findDefinition(db, 'pipeline', row.pipelineKey);
  if (!pipeline) throw new Refusal('conflict', `No pipeline “${row.pipelineKey}” is published yet.`);
  const [runId, said] = [newId(), await propertiesOf(db, row.eventId)];
  await inTransaction(db, async (tx) => {
    await insertRun(tx, { id: runId, documentId: id, pipelineKey: pipeline.key, pipelineVersion: pipeline.version, came: said && { from: THE_EVENT, values: said } });
    await noteAct(tx, actor, { act: 'run asked for', on: ['document', id], detail: { run: runId } });
  });
  return runId;
}
