import type { Truth } from '@/core/measuring/compare';
import { normaliseFor, type CleanUp, type KindDefinition } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import type { Sample } from '@/core/teaching/sample';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { inspectFile } from '@/digitise/inspect';
import { newId } from '@/settings/identifier';
import { inTransaction, type Queries } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { documentById, pagesOf, savePages } from '@/store/queries/documents';
import { changeSample, deleteSample, insertSample, proposeTruth, sampleById, samplesOf, type SampleChange, type SampleRow } from '@/store/queries/samples';
import type { SampleState } from '@/store/states';
import { Refusal, type Services } from './context';
import { paperOf, type Paper } from './papers';
import { keepPictures } from './pictures';

/** Samples of one kind; more measure nothing better. */
const MOST_SAMPLES = 500;

export interface SampleFile {
  readonly name: string;
  readonly mediaType: string;
  readonly bytes: Buffer;
}

/** Add files as samples of a kind. What cannot be read is kept with the reason. Returns how many were new. */
export async function addSamples(services: Services, actor: Actor, kindKey: string, files: readonly SampleFile[], truths: ReadonlyMap<string, Truth> = new Map()): Promise<{ added: number; known: number }> {
  const have = (await samplesOf(services.store.db, kindKey)).length;
  if (have + files.length > MOST_SAMPLES) throw new Refusal('bad-request', `A kind has at most ${MOST_SAMPLES} samples; it has ${have} already. Remove some that teach nothing new.`);
  // Identifiers sort by when they were made: samples keep the order in which they were given, however long each takes.
  const named = files.map((file) => ({ id: newId(), file }));
  let added = 0;
  // One after the other would leave a core idle while a scan is recognised; all at once would hold all their bytes.
  for (let first = 0; first < files.length; first += 4) {
    const results = await Promise.all(named.slice(first, first + 4).map(({ id, file }) => addOne(services, actor, kindKey, { id, file, truth: truths.get(file.name) ?? null })));
    added += results.filter(Boolean).length;
  }
  return { added, known: files.length - added };
}

async function addOne(services: Services, actor: Actor, kindKey: string, { id, file, truth }: { readonly id: string; readonly file: SampleFile; readonly truth: Truth | null }): Promise<boolean> {
  const sha256 = await services.blobs.put(file.bytes);
  const known = await pagesOf(services.store.db, sha256);
  const inspection = known.length > 0 ? { problem: null, pages: known, pageCount: known.length, pictures: new Map<number, Buffer>() } : await inspectFile(file.bytes);
  await keepPictures(services, sha256, inspection.pictures);
  return inTransaction(services.store.db, async (tx) => {
    await savePages(tx, sha256, inspection.pages);
    const state: SampleState = truth ? 'confirmed' : 'new';
    const isNew = await insertSample(tx, { id, kindKey, sha256, fileName: file.name.slice(0, 255), mediaType: file.mediaType.slice(0, 100), pageCount: inspection.pageCount, problem: inspection.problem?.text ?? null, state, heldBack: false, truth: truth ?? { fields: {}, tables: {} }, documentId: null, addedBy: actor.name });
    if (isNew) await noteAct(tx, actor, { act: 'sample added', on: ['sample', id], detail: { kind: kindKey, file: file.name } });
    return isNew;
  });
}

/** Make a sample of a document that came in; its values as they stand now are a first proposal. */
export async function sampleFromDocument(services: Services, actor: Actor, kindKey: string, documentId: string): Promise<void> {
  const document = await documentById(services.store.db, documentId);
  if (!document) throw new Refusal('not-found', `There is no document ${documentId}.`);
  await inTransaction(services.store.db, async (tx) => {
    const isNew = await insertSample(tx, { id: newId(), kindKey, sha256: document.sha256, fileName: document.fileName, mediaType: document.mediaType, pageCount: document.pageCount, problem: document.problemText, state: 'new', heldBack: false, truth: { fields: {}, tables: {} }, documentId, addedBy: actor.name });
    if (!isNew) throw new Refusal('conflict', `${document.fileName} is a sample of this kind already.`);
    await noteAct(tx, actor, { act: 'sample added', on: ['document', documentId], detail: { kind: kindKey } });
  });
}

/** What a clerk has corrected becomes a proposal: the builder looks once and takes it. Part of the transaction that closes the task. */
export async function proposeSample(tx: Queries, kind: KindDefinition, documentId: string, readings: Readings, by: string): Promise<void> {
  const document = await documentById(tx, documentId);
  if (!document) return;
  const truth = truthOf(kind, readings);
  if (await proposeTruth(tx, kind.key, document.sha256, truth)) return;
  await insertSample(tx, { id: newId(), kindKey: kind.key, sha256: document.sha256, fileName: document.fileName, mediaType: document.mediaType, pageCount: document.pageCount, problem: null, state: 'proposed', heldBack: false, truth, documentId, addedBy: by });
}

/** Readings that a person has accepted, as confirmed values. */
export function truthOf(kind: KindDefinition, readings: Readings): Truth {
  return {
    fields: Object.fromEntries(kind.fields.map((field) => [field.key, readings.fields[field.key]?.value ?? null])),
    tables: Object.fromEntries(kind.tables.map((table) => [table.key, (readings.tables[table.key] ?? []).map((row) => Object.fromEntries(table.columns.map((column) => [column.key, row[column.key]?.value ?? null])))])),
  };
}

export async function requireSample(services: Services, id: string): Promise<SampleRow> {
  const row = await sampleById(services.store.db, id);
  if (!row) throw new Refusal('not-found', 'This sample is not there any more; somebody has removed it.');
  return row;
}

/** Confirm or change a sample. Values must be in the form in which they are kept. */
export async function keepSample(services: Services, actor: Actor, kind: KindDefinition, id: string, revision: number, change: SampleChange): Promise<number> {
  if (change.truth) refuseUnfit(kind, change.truth);
  await inTransaction(services.store.db, async (tx) => {
    if (!(await changeSample(tx, id, revision, change))) throw (await sampleById(tx, id)) ? new Refusal('conflict', 'Somebody else has changed this sample in the meantime. It is loaded again; your last change is not kept.') : new Refusal('not-found', 'This sample is not there any more; somebody has removed it.');
    await noteAct(tx, actor, { act: 'sample changed', on: ['sample', id], detail: { state: change.state ?? null } });
  });
  return revision + 1;
}

function refuseUnfit(kind: KindDefinition, truth: Truth): void {
  for (const field of kind.fields) {
    const value = truth.fields[field.key];
    if (value === null || value === undefined) continue;
    const fit = normaliseFor(field, value, PLAIN_LOCALE);
    if (!fit.ok) throw new Refusal('bad-request', `${field.label}: ${fit.why}.`);
  }
}

export async function removeSample(services: Services, actor: Actor, id: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteSample(tx, id))) throw new Refusal('not-found', 'This sample is not there any more.');
    await noteAct(tx, actor, { act: 'sample removed', on: ['sample', id] });
  });
}

/** Pages of samples, kept in memory: a rule is edited many times on the same pages. */
const kept = new Map<string, Promise<Paper>>();
const MOST_KEPT = 400;

export function samplePaper(services: Services, sha256: string, cleanUp?: CleanUp): Promise<Paper> {
  const key = `${sha256} ${JSON.stringify(cleanUp ?? {})}`;
  const known = kept.get(key);
  if (known) return known;
  if (kept.size >= MOST_KEPT) kept.clear();
  const asked = paperOf(services, sha256, cleanUp);
  kept.set(key, asked);
  asked.catch(() => kept.delete(key));
  return asked;
}

/** Samples with their pages, as teaching and measuring take them. The name is the id, which stays when a file is renamed. */
export async function sampleSet(services: Services, rows: readonly SampleRow[], kind: KindDefinition): Promise<Sample[]> {
  return Promise.all(rows.map(async (row) => ({ name: row.id, pages: (await samplePaper(services, row.sha256, kind.cleanUp)).pages, truth: row.truth })));
}
