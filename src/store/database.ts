import { sql, type SQL } from 'drizzle-orm';
import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import mysql from 'mysql2/promise';
import type { Settings } from '@/settings/settings';
import * as schema from './schema';

export type Db = MySql2Database<typeof schema>;
/** A database or a transaction on it: queries take either. */
export type Queries = Pick<Db, 'select' | 'insert' | 'update' | 'delete' | 'execute'>;

export interface Store {
  readonly db: Db;
  readonly pool: mysql.Pool;
  close(): Promise<void>;
}

/** Connections are opened when first needed. */
export function openStore(settings: Settings['database'], connections = 8): Store {
  const pool = mysql.createPool({
    host: settings.host,
    port: settings.port,
    user: settings.user,
    password: settings.password,
    database: settings.name,
    connectionLimit: connections,
    timezone: 'Z',
    charset: 'utf8mb4',
    dateStrings: true,
    // A dead server shows within this time instead of after the system's two minutes.
    connectTimeout: 5_000,
    enableKeepAlive: true,
  });
  // Claims with SKIP LOCKED need READ COMMITTED: otherwise gaps are locked and the next worker finds nothing.
  pool.pool.on('connection', (connection: { query(text: string): unknown }) => {
    connection.query("SET SESSION TRANSACTION ISOLATION LEVEL READ COMMITTED");
    connection.query("SET SESSION time_zone = '+00:00'");
  });
  return { db: drizzle(pool, { schema, mode: 'planetscale', casing: 'snake_case' }), pool, close: () => pool.end() };
}

/** The database's own time, to microseconds; the only clock that decides anything in the engine. */
export const now = sql<string>`NOW(6)`;
/** The database's time in `ms` milliseconds. */
export const nowPlus = (ms: number): SQL<string> => sql<string>`NOW(6) + INTERVAL ${Math.round(ms * 1000)} MICROSECOND`;

/** How many rows a guarded change matched: the answer to "was it still so?". */
export const matched = (result: unknown): number => (result as [{ affectedRows: number }])[0].affectedRows;

/** `2026-03-12 10:00:00.000000` (UTC) as the database gives it → ISO 8601. */
export const isoMoment = (moment: string): string => `${moment.slice(0, 10)}T${moment.slice(11, 23)}Z`;

/** Errors of the server after which the same transaction may simply be tried again: deadlock, lock wait timeout. */
const AGAIN = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT']);
const LOST = new Set(['PROTOCOL_CONNECTION_LOST', 'ECONNREFUSED', 'ECONNRESET', 'ETIMEDOUT', 'EPIPE', 'ER_SERVER_SHUTDOWN', 'ER_CON_COUNT_ERROR']);

/** The server's error code, wherever the layers between have put it. */
export function errorCode(error: unknown): string | null {
  const { code, cause } = (error ?? {}) as { code?: unknown; cause?: unknown };
  if (typeof code === 'string') return code;
  return cause === undefined ? null : errorCode(cause);
}

export const isConnectionLost = (error: unknown): boolean => LOST.has(errorCode(error) ?? '');
export const isDuplicate = (error: unknown): boolean => errorCode(error) === 'ER_DUP_ENTRY';

/** One transaction, tried again up to five times when the server broke a deadlock with it. */
export async function inTransaction<T>(db: Db, work: (tx: Queries) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await db.transaction((tx) => work(tx as unknown as Queries));
    } catch (error) {
      if (attempt >= 5 || !AGAIN.has(errorCode(error) ?? '')) throw error;
    }
  }
}
