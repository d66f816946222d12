import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import { StepFailure } from '@/core/resilience/failure';
import { open, type DatabaseSettings } from './query';

/** Rows for a table, with the column by which they are known to have been written. */
export interface Insertion {
  readonly table: string;
  readonly keyColumn: string;
  readonly key: string;
  readonly rows: readonly Readonly<Record<string, string | null>>[];
}

interface Inserted {
  readonly rows: number;
  readonly left: number;
}

/** Errors of the server that mean: come again. 1205 lock wait, 1213 deadlock, 1040 too many connections, 2006/2013 connection lost. */
const TRANSIENT = new Set([1205, 1213, 1040, 2006, 2013]);

/** Insert rows once per key, all or none: a row with the key tells that the transaction was committed. */
export async function insertOnce(settings: DatabaseSettings, secret: string | null, insertion: Insertion, about?: string): Promise<Inserted> {
  const { table, keyColumn, key, rows } = insertion;
  return connected(settings, secret, about, async (connection) => {
    const before = await countWith(connection, insertion);
    if (before > 0) return { rows: before, left: 0 };
    await connection.beginTransaction();
    for (const [line, row] of rows.entries()) {
      const cells = { ...row, [keyColumn]: `${key}/${line}` };
      await connection.query<ResultSetHeader>('INSERT INTO ?? SET ?', [table, cells]);
    }
    await connection.commit();
    return { rows: rows.length, left: 0 };
  });
}

/** How many rows of a delivery are there; null where there are none. */
export const insertedRows = (settings: DatabaseSettings, secret: string | null, insertion: Insertion, about?: string): Promise<Inserted | null> =>
  connected(settings, secret, about, async (connection) => {
    const rows = await countWith(connection, insertion);
    return rows > 0 ? { rows, left: 0 } : null;
  });

type Connection = Awaited<ReturnType<typeof open>>;

async function countWith(connection: Connection, { table, keyColumn, key }: Insertion): Promise<number> {
  const [found] = await connection.query<RowDataPacket[]>('SELECT COUNT(*) AS n FROM ?? WHERE ?? LIKE ?', [table, keyColumn, `${key.replaceAll(/[%_\\]/g, '\\$&')}/%`]);
  return Number(found[0]?.['n'] ?? 0);
}

async function connected<T>(settings: DatabaseSettings, secret: string | null, about: string | undefined, work: (connection: Connection) => Promise<T>): Promise<T> {
  const connection = await open(settings, secret).catch((error: unknown) => Promise.reject(databaseFailure(error, settings, about, true)));
  try {
    return await work(connection);
  } catch (error) {
    throw databaseFailure(error, settings, about, false);
  } finally {
    connection.destroy();
  }
}

function databaseFailure(error: unknown, { host, port, database }: DatabaseSettings, about: string | undefined, before: boolean): StepFailure {
  const { errno, message } = error as { errno?: number; message: string };
  const detail = `${host}:${port}/${database}: ${message.slice(0, 300)}`;
  const options = { cause: error, ...(before ? { untouched: true as const } : {}), ...(about === undefined ? {} : { about }) };
  // 1045, 1044: the user may not; 1054 unknown column, 1146 unknown table.
  if (errno === 1045 || errno === 1044) return new StepFailure('no-credential', detail, options);
  if (errno === 1054 || errno === 1146) return new StepFailure('no-such-column', detail, options);
  return new StepFailure(errno === undefined || TRANSIENT.has(errno) ? 'service-down' : 'service-refused', detail, options);
}
