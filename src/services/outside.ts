import { distance } from 'fastest-levenshtein';
import { insertedRows, insertOnce } from '@/connectors/database/insert';
import type { DatabaseSettings } from '@/connectors/database/query';
import { exchange, type HttpSettings } from '@/connectors/http/http';
import { nested, prepare, takeFrom } from '@/connectors/http/prepare';
import { callTool, type McpSettings, type OfferedTool } from '@/connectors/mcp/mcp';
import { sendMail, type MailSettings } from '@/connectors/mail/smtp';
import { bareKey } from '@/core/list/find-key';
import type { ReferenceList } from '@/core/list/list';
import type { Option } from '@/core/pipeline/facts';
import type { RowsWanted } from '@/core/pipeline/match';
import { StepFailure } from '@/core/resilience/failure';
import type { Found, Outside } from '@/engine/outside';
import { newestVersion } from '@/store/queries/definitions';
import { openConnection, type OpenConnection } from './connections';
import type { Services } from './context';
import { documentSearchable } from './documents';
import { guarded } from './guarded';
import { passFor } from './passes';
import { listsFor } from './reference-lists';

/** A secret that stands in for that of a connection. */
interface Once {
  readonly connection: string;
  readonly secret: string;
}

/** See {@link ONCE}. */
export const sealedOnce = (services: Services, { connection, secret }: Once): string => `${connection} ${services.secrets().seal(secret).toString('base64')}`;

function openedOnce(services: Services, given: string): Once {
  const [connection = '', sealed = ''] = given.split(' ');
  return { connection, secret: services.secrets().open(Buffer.from(sealed, 'base64')) };
}

type Through<Settings, T> = (connection: OpenConnection<Settings>, about: string) => Promise<T>;

/** Make a call through a connection of a certain sort, guarded by its breaker and limits; `about`: what a person can mend. */
export async function throughConnection<Settings, T>(services: Services, { connector, key, once }: { readonly connector: string; readonly key: string; readonly once?: Once | undefined }, call: Through<Settings, T>): Promise<T> {
  const about = `connection:${key}`;
  const connection = await openConnection<Settings>(services, connector, key);
  if (!connection) throw new StepFailure('no-such-connection', `“${key}”. Add it under Connections, and the run goes on`, { about, untouched: true });
  return guarded(services, key, connection.limits, () => call(once?.connection === key ? { ...connection, secret: once.secret } : connection, about));
}

/** What steps reach outside, each call guarded by the breaker and the limits of its connection. */
export function outsideOf(services: Services, once?: Once): Outside {
  const through = <Settings, T>(connector: string, key: string, call: Through<Settings, T>): Promise<T> => throughConnection(services, { connector, key, once }, call);
  const http = <T>(key: string, call: (connection: OpenConnection<HttpSettings>, about: string) => Promise<T>) => through('http', key, call);
  return {
    once: (given) => outsideOf(services, openedOnce(services, given)),
    find: (list, column, value) => findRow(services, { list, column, value }),
    rows: (list, where) => rowsWhere(services, list, where),
    http: async (request, scope, original, key) => {
      const prepared = await prepare(request, scope, { name: original.name, bytes: () => services.blobs.get(original.sha256), address: () => passFor(services, scope.document.id) }, key);
      return takeFrom(await http(request.connection, ({ settings, secret }, about) => exchange(settings, secret, prepared, about)), request.take);
    },
    httpThere: async (request, path) => {
      const look = ({ settings, secret }: OpenConnection<HttpSettings>, about: string) => exchange(settings, secret, { method: 'GET', path, headers: {}, body: null }, about);
      const answer = await http(request.connection, look).catch((error: unknown) => (error instanceof StepFailure && / answered 404\b/.test(error.message) ? undefined : Promise.reject(error as Error)));
      return answer === undefined ? null : takeFrom(answer, request.take);
    },
    keepsKeys: async (key) => (await openConnection<HttpSettings>(services, 'http', key))?.settings.keepsKeys ?? true,
    insertRows: (rows) => through<DatabaseSettings, { rows: number; left: number }>('database', rows.connection, ({ settings, secret }, about) => insertOnce(settings, secret, rows, about)),
    rowsThere: (rows) => through<DatabaseSettings, { rows: number; left: number } | null>('database', rows.connection, ({ settings, secret }, about) => insertedRows(settings, secret, rows, about)),
    isRepeatable: async (connection, tool) => (((await openConnection<McpSettings>(services, 'mcp', connection))?.offers as { tools?: OfferedTool[] } | null)?.tools ?? []).some(({ name, repeatable }) => name === tool && repeatable),
    useTool: async ({ connection, tool, input, take, key }) => takeFrom(await through('mcp', connection, ({ settings, secret }: OpenConnection<McpSettings>, about) => callTool(settings, secret, { tool, input: nested(input), key }, about)), take),
    mail: async ({ connection, attachment, ...message }) => {
      const file = attachment ? { name: attachment.name, bytes: await services.blobs.get(attachment.sha256) } : null;
      await through('mail', connection, ({ settings, secret }: OpenConnection<MailSettings>, about) => sendMail(settings, secret, { ...message, attachment: file }, about));
    },
    original: (sha256) => services.blobs.get(sha256),
    searchable: async (documentId) => (await documentSearchable(services, documentId)).bytes,
    publishedVersion: (pipeline) => newestVersion(services.store.db, 'pipeline', pipeline),
  };
}

async function requireList(services: Services, key: string, column: string | null): Promise<ReferenceList> {
  const list = (await listsFor(services, [key])).get(key);
  if (!list) throw new StepFailure('no-such-list', `“${key}”. Make it, then refloat`);
  if (column !== null && !list.columns.some(({ name }) => name === column)) throw new StepFailure('no-such-column', `“${list.name}” has no column “${column}”`);
  return list;
}

/** Rows that have a value in a column, however it is grouped and marked; nothing is in no row. */
function rowsWith(list: ReferenceList, column: string, value: string | null): ReferenceList['rows'] {
  const wanted = bareKey(value ?? '');
  return wanted === '' ? [] : list.rows.filter((row) => bareKey(row[column] ?? '') === wanted);
}

async function rowsWhere(services: Services, key: string, where: RowsWanted | null): Promise<ReferenceList['rows']> {
  const list = await requireList(services, key, where?.column ?? null);
  return where === null ? list.rows : rowsWith(list, where.column, where.value);
}

/** Rows that are offered where the value itself is not there. */
const MOST_NEAR = 6;

async function findRow(services: Services, { list: key, column, value }: { list: string; column: string | null; value: string | null }): Promise<Found> {
  const list = await requireList(services, key, column);
  const at = column ?? list.keyColumn;
  const wanted = bareKey(value ?? '');
  const same = rowsWith(list, at, value);
  // Two rows with the value: nobody guesses between them.
  if (same.length === 1 && same[0]) return { row: same[0] };
  return { row: null, near: (same.length > 1 ? same : nearest(list, at, wanted)).slice(0, MOST_NEAR).map((row) => optionOf(list, row)) };
}

function nearest(list: ReferenceList, column: string, wanted: string): ReferenceList['rows'] {
  const score = (text: string): number => (text.length === 0 ? 1 : distance(text, wanted) / Math.max(text.length, wanted.length));
  return [...list.rows].map((row) => ({ row, score: score(bareKey(row[column] ?? '')) })).sort((a, b) => a.score - b.score).map(({ row }) => row);
}

/** A row as people tell it from others: its key first, then the next columns. */
function optionOf(list: ReferenceList, row: ReferenceList['rows'][number]): Option {
  const others = list.columns.map(({ name }) => name).filter((name) => name !== list.keyColumn).slice(0, 4);
  return { value: row[list.keyColumn] ?? '', label: row[list.keyColumn] ?? '', reasons: [others.flatMap((name) => (row[name] ? [`${name} ${row[name]}`] : [])).join(' · ')].filter(Boolean) };
}
