import { fetchFile, type HttpSettings } from '@/connectors/http/http';
import { download } from '@/connectors/http/download';
import { safeFileName } from '@/connectors/limits';
import type { ArrivedFile, Reference } from '@/connectors/source';
import { StepFailure } from '@/core/resilience/failure';
import { inspectFile } from '@/digitise/inspect';
import { inTransaction } from '@/store/database';
import { withLock } from '@/store/lock';
import { noteAct } from '@/store/queries/audit';
import { contentCame, documentById, savePages, type DocumentRow } from '@/store/queries/documents';
import { areBytesNeeded, dropPages } from '@/store/queries/keeping';
import { PROGRAM, Refusal, type Services } from './context';
import { requireDocument } from './documents';
import { throughConnection } from './outside';
import { keepPictures } from './pictures';
import { united } from './several-files';

/** The document with its content: fetched now where it has not come yet. Every failure is a {@link StepFailure}; nothing changes by it. */
export async function withContent(services: Services, row: DocumentRow): Promise<DocumentRow> {
  const awaits = row.awaits as readonly Reference[] | null;
  if (!awaits) return row;
  const files: ArrivedFile[] = [];
  for (const reference of awaits) files.push(await fetched(services, reference));
  const file = files.length > 1 ? await united(files) : files[0];
  if (!file) throw new StepFailure('content-unreadable', `the ${files.length} files of ${row.fileName} are not all PDFs or pictures that can be opened, and cannot be one document. Let each be one, or only the first`);
  const { problem, pageCount, pages, pictures } = await inspectFile(file.bytes);
  if (problem) throw new StepFailure('content-unreadable', `${file.name}. ${problem.text}`);
  // As with everything that arrives: the bytes must not be deleted for another document while they are put away for this one.
  await withLock(services.store.pool, 'receive', 60, async () => {
    const sha256 = await services.blobs.put(file.bytes);
    await keepPictures(services, sha256, pictures);
    const spare = sha256 !== row.sha256 && !(await areBytesNeeded(services.store.db, row));
    await inTransaction(services.store.db, async (tx) => {
      await savePages(tx, sha256, pages);
      await contentCame(tx, row.id, { sha256, fileName: file.name.slice(0, 255), mediaType: file.mediaType.slice(0, 100), size: file.bytes.length, pageCount });
      if (spare) await dropPages(tx, [row.sha256]);
      await noteAct(tx, PROGRAM, { act: 'content fetched', on: ['document', row.id], detail: { from: awaits.map(({ connection, at }) => `${connection === null ? '' : `${connection}: `}${at}`.slice(0, 200)) } });
    });
    if (spare) await services.blobs.remove(row.sha256);
  });
  return (await documentById(services.store.db, row.id)) ?? row;
}

/** The same on purpose, before a step asks for it. */
export async function fetchNow(services: Services, id: string): Promise<void> {
  const row = await requireDocument(services, id);
  await withContent(services, row).catch((error: unknown) => {
    throw error instanceof StepFailure ? new Refusal('conflict', `${error.message}.`) : error;
  });
}

async function fetched(services: Services, { at, connection: key, name }: Reference): Promise<ArrivedFile> {
  const file = key === null ? await download(at, {}, { base: new URL(at).host }) : await throughConnection<HttpSettings, ArrivedFile>(services, { connector: 'http', key }, ({ settings, secret }, about) => fetchFile(settings, secret, at, about));
  return name === null ? file : { ...file, name: safeFileName(name, file.name) };
}
