import type { Arrival, ArrivedFile, Several } from '@/connectors/source';
import { inspectFile, type FileProblem, type Inspection } from '@/digitise/inspect';
import { newId } from '@/settings/identifier';
import { inTransaction, type Queries } from '@/store/database';
import { withLock } from '@/store/lock';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { documentsOfEvent, eventByKey, firstWithBytes, insertDocument, insertEvent, savePages, THE_EVENT, type DocumentRow } from '@/store/queries/documents';
import { insertRun } from '@/store/queries/runs';
import type { SourceRow } from '@/store/queries/sources';
import type { Services } from './context';
import { keepPictures } from './pictures';
import { taken, type Taken } from './several-files';

/** Where an arrival comes from and which pipeline it is for. */
export interface Origin {
  readonly sourceKey: string;
  readonly pipelineKey: string;
  /** Default each. */
  readonly several?: Several;
}

/** The origin of what arrives at a source. */
export const originOf = ({ key, pipelineKey, settings }: Pick<SourceRow, 'key' | 'pipelineKey' | 'settings'>): Origin => ({ sourceKey: key, pipelineKey, several: (settings as { several?: Several }).several ?? 'each' });

export interface Received {
  /** False: the same happening had been recorded before. */
  readonly fresh: boolean;
  readonly eventId: string;
  readonly documents: readonly DocumentRow[];
}

interface Looked extends Taken {
  readonly sha256: string;
  readonly inspection: Inspection;
}

/**
 * Record an arrival: bytes into the blob store, then event, documents and runs in one transaction. Whatever is wrong with a file
 * becomes a finding beside the kept original. The same happening twice changes nothing; the same bytes twice are a repeat.
 */
export async function receive(services: Services, actor: Actor, origin: Origin, arrival: Arrival): Promise<Received> {
  const { db, pool } = services.store;
  const known = await eventByKey(db, origin.sourceKey, arrival.dedupeKey);
  if (known) return { fresh: false, eventId: known.id, documents: await documentsOfEvent(db, known.id) };
  const files: Looked[] = [];
  for (const one of await taken(arrival.files, origin.several ?? 'each')) files.push({ ...one, sha256: await services.blobs.put(one.file.bytes), inspection: await lookAt(one.file, arrival) });
  for (const { sha256, inspection } of files) await keepPictures(services, sha256, inspection.pictures);
  const eventId = newId();
  // One at a time, so that the same bytes arriving twice at once are told apart as first and repeat.
  const fresh = await withLock(pool, 'receive', 60, async () => {
    // An older document with the same bytes may have been deleted since they were put away.
    for (const { file } of files) await services.blobs.put(file.bytes);
    return inTransaction(db, (tx) => record(tx, { actor, origin, arrival, files, eventId }));
  });
  const event = fresh ? { id: eventId } : await eventByKey(db, origin.sourceKey, arrival.dedupeKey);
  const id = event?.id ?? eventId;
  return { fresh, eventId: id, documents: await documentsOfEvent(db, id) };
}

/** A problem of the arrival itself (a mail without attachment) stands for the file; its inspection would only say "not a PDF". */
async function lookAt(file: ArrivedFile, arrival: Arrival): Promise<Inspection> {
  if (arrival.problem) return { problem: arrival.problem as FileProblem, pageCount: null, pages: [], pictures: new Map() };
  return inspectFile(file.bytes);
}

interface Recording {
  readonly actor: Actor;
  readonly origin: Origin;
  readonly arrival: Arrival;
  readonly files: readonly Looked[];
  readonly eventId: string;
}

async function record(tx: Queries, { actor, origin, arrival, files, eventId }: Recording): Promise<boolean> {
  const { dedupeKey, type, sender, subject, occurredAt, data } = arrival;
  const when = occurredAt === null ? null : occurredAt.replace('T', ' ').replace('Z', '');
  if (!(await insertEvent(tx, { id: eventId, sourceKey: origin.sourceKey, dedupeKey, type, sender, subject, occurredAt: when, data }))) return false;
  const pipeline = await findDefinition(tx, 'pipeline', origin.pipelineKey);
  for (const [part, { file, left, sha256, inspection }] of files.entries()) {
    // What an event says of itself may well be the same twice.
    const first = arrival.given ? null : await firstWithBytes(tx, sha256);
    const id = newId();
    const problem = left ?? inspection.problem ?? (pipeline ? null : { code: 'no-pipeline', text: `No pipeline “${origin.pipelineKey}” is published, so nothing can be done with it yet. The original is kept.` });
    await savePages(tx, sha256, inspection.pages);
    await insertDocument(tx, { id, eventId, part, sha256, fileName: file.name, mediaType: file.mediaType.slice(0, 100), size: file.bytes.length, pageCount: inspection.pageCount, sourceKey: origin.sourceKey, pipelineKey: origin.pipelineKey, sender, subject, problemCode: problem?.code ?? null, problemText: problem?.text ?? null, repeatOf: first?.id ?? null, awaits: file.awaits ?? null });
    await noteAct(tx, actor, { act: 'received', on: ['document', id], detail: { source: origin.sourceKey, ...(problem ? { problem: problem.code } : {}), ...(first ? { repeatOf: first.id } : {}) } });
    if (problem || first || !pipeline) continue;
    await insertRun(tx, { id: newId(), documentId: id, pipelineKey: pipeline.key, pipelineVersion: pipeline.version, came: arrival.given && { from: THE_EVENT, values: arrival.given } });
  }
  return true;
}
