import { tableFromFile } from '@/connectors/table-file';
import { queryTable, type DatabaseSettings } from '@/connectors/database/query';
import { importList, type ImportedList } from '@/core/list/import';
import type { Lists, ReferenceList } from '@/core/list/list';
import { inTransaction } from '@/store/database';
import { withLock } from '@/store/lock';
import { noteAct, type Actor } from '@/store/queries/audit';
import { listByKey } from '@/store/queries/lists';
import { deleteReference, dueReferences, putReference, referenceList, referenceRevision, reportReference, type ListOrigin } from '@/store/queries/reference';
import { openConnection } from './connections';
import { PROGRAM, Refusal, type Services } from './context';

/** Seconds that a sync waits for another one of the same list. */
const LOCK_SECONDS = 60;

export interface ListInput {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  /** Column that tells the rows apart; the first that can, where none is named. */
  readonly keyColumn?: string;
}

/** Make a reference list of a file, or put the file's rows in place of those that are there. Nothing changes when something does not fit. */
export async function importFile(services: Services, actor: Actor, input: ListInput, file: { readonly name: string; readonly bytes: Buffer }): Promise<{ rows: number; keyColumn: string }> {
  const table = await tableFromFile(file.name, file.bytes).catch((error: unknown) => Promise.reject(new Refusal('bad-request', (error as Error).message)));
  return keepTable(services, actor, input, { origin: { from: 'file', name: file.name.slice(0, 255) }, table });
}

export interface QueryInput extends ListInput {
  readonly connection: string;
  readonly query: string;
  /** Minutes; null: only when asked for. */
  readonly every: number | null;
}

/** Make a reference list of a query through a named connection. */
export async function importQuery(services: Services, actor: Actor, input: QueryInput): Promise<{ rows: number; keyColumn: string }> {
  const table = await tableOfQuery(services, input.connection, input.query);
  return keepTable(services, actor, input, { origin: { from: 'query', connection: input.connection, query: input.query, every: input.every }, table });
}

async function tableOfQuery(services: Services, connection: string, query: string): Promise<string[][]> {
  const open = await openConnection<DatabaseSettings>(services, 'database', connection);
  if (!open) throw new Refusal('bad-request', `There is no database connection “${connection}”. Add it under Connections.`);
  return queryTable(open.settings, open.secret, query).catch((error: unknown) => Promise.reject(new Refusal('bad-request', (error as Error).message)));
}

async function keepTable(services: Services, actor: Actor, input: ListInput, { origin, table }: { readonly origin: ListOrigin; readonly table: string[][] }): Promise<{ rows: number; keyColumn: string }> {
  const { db } = services.store;
  const before = await listByKey(db, input.key);
  if (before && before.keyColumn === null) throw new Refusal('conflict', `“${before.name}” is a list that pipelines write to; its rows cannot be replaced. Choose another name.`);
  const known = Object.fromEntries((before?.columns ?? []).map((column) => [column.name, column.type]));
  const wanted = input.keyColumn ?? before?.keyColumn ?? undefined;
  const imported = importList(table, { types: known, ...(wanted === undefined ? {} : { keyColumn: wanted }) });
  if (!imported.ok) throw new Refusal('bad-request', imported.problems.join('\n'));
  await keep(services, actor, input, imported.list, origin);
  return { rows: imported.list.rows.length, keyColumn: imported.list.keyColumn };
}

async function keep(services: Services, actor: Actor, { key, name, description }: ListInput, { columns, keyColumn, rows }: ImportedList, origin: ListOrigin): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await putReference(tx, { list: { key, name, columns, keyColumn, rows }, description, origin }))) throw new Refusal('conflict', `There is a list “${key}” already. Choose another name.`);
    await noteAct(tx, actor, { act: 'list imported', on: ['list', key], detail: { rows: rows.length, from: origin.from } });
  });
}

/** Ask the query of a list again. What goes wrong is kept beside the list; its rows stay as they were. */
export async function syncList(services: Services, actor: Actor, key: string): Promise<{ rows: number }> {
  const head = await listByKey(services.store.db, key);
  const origin = head?.origin;
  if (!head || origin?.from !== 'query') throw new Refusal('bad-request', `“${head?.name ?? key}” does not come from a query. Import its file again.`);
  return withLock(services.store.pool, `sync ${key}`, LOCK_SECONDS, async () => {
    try {
      return await importQuery(services, actor, { key, name: head.name, description: head.description, ...(head.keyColumn === null ? {} : { keyColumn: head.keyColumn }), connection: origin.connection, query: origin.query, every: origin.every });
    } catch (error) {
      await reportReference(services.store.db, key, (error as Error).message);
      throw error;
    }
  });
}

/** Sync every list whose time has come; one worker at a time, so that none is asked for twice. */
export async function syncDueLists(services: Services): Promise<void> {
  if ((await dueReferences(services.store.db)).length === 0) return;
  await withLock(services.store.pool, 'sync due lists', LOCK_SECONDS, async () => {
    for (const key of await dueReferences(services.store.db)) await syncList(services, PROGRAM, key).catch((error: unknown) => (error instanceof Refusal ? undefined : Promise.reject(error as Error)));
  });
}

export async function removeList(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteReference(tx, key))) throw new Refusal('conflict', `“${key}” is not reference data, or not there any more. Lists of results stay.`);
    await noteAct(tx, actor, { act: 'list removed', on: ['list', key] });
  });
}

/** Lists in the memory of this process, with the revision they were read at. */
const kept = new Map<string, { revision: number; list: ReferenceList }>();

/** Reference lists by key; those that are not there are left out. The database is asked for rows only when they were replaced. */
export async function listsFor(services: Services, keys: readonly string[]): Promise<Lists> {
  const found = await Promise.all(keys.map(async (key): Promise<[string, ReferenceList][]> => {
    const revision = await referenceRevision(services.store.db, key);
    const before = kept.get(key);
    if (revision === null) return [];
    if (before?.revision === revision) return [[key, before.list]];
    const list = await referenceList(services.store.db, key);
    if (list) kept.set(key, { revision, list });
    return list ? [[key, list]] : [];
  }));
  return new Map(found.flat());
}
