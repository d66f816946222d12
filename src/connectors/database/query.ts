import Joi from 'joi';
import mysql from 'mysql2/promise';
import type { TableOffer } from '@/core/pipeline/catalogue/entry';
import type { TargetColumn } from '@/core/pipeline/targets';
import type { ValueType } from '@/core/value/normalise';
import type { Connector } from '../connection';

export interface DatabaseSettings {
  readonly host: string;
  readonly port: number;
  readonly user: string;
  readonly database: string;
}

/** A query for reference data is looked things up in, not a report. */
const QUERY_MS = 30_000;
const MOST_ROWS = 50_000;

export const open = ({ host, port, user, database }: DatabaseSettings, secret: string | null) => mysql.createConnection({ host, port, user, database, password: secret ?? '', connectTimeout: 5_000, dateStrings: true, timezone: 'Z', charset: 'utf8mb4', supportBigNumbers: true, bigNumberStrings: true, decimalNumbers: false });

/**
 * The rows of a query as texts, the names of the columns first. The transaction is read-only and one statement is taken, so a query
 * that writes is refused by the server. Throws a sentence.
 */
export async function queryTable(settings: DatabaseSettings, secret: string | null, query: string): Promise<string[][]> {
  const connection = await open(settings, secret).catch((error: unknown) => Promise.reject(new Error(`${settings.host}:${settings.port} cannot be reached as ${settings.user}: ${(error as Error).message}.`)));
  try {
    await connection.query(`SET SESSION max_statement_time = ${QUERY_MS / 1000}`);
    await connection.query('START TRANSACTION READ ONLY');
    const [rows, fields] = await connection.query({ sql: query, rowsAsArray: true, timeout: QUERY_MS + 5_000 });
    if (!Array.isArray(rows) || !Array.isArray(fields)) throw new Error('the query gives no rows. Write a SELECT');
    if (rows.length > MOST_ROWS) throw new Error(`the query gives ${rows.length} rows; a list has at most ${MOST_ROWS}`);
    return [fields.map((field) => field.name), ...(rows as unknown[][]).map((row) => row.map((cell) => (cell === null || cell === undefined ? '' : Buffer.isBuffer(cell) ? cell.toString('utf8') : String(cell))))];
  } catch (error) {
    throw new Error(`The query was not carried out: ${(error as Error).message}.`, { cause: error });
  } finally {
    connection.destroy();
  }
}

/** Columns of all tables and views; more than these are not listed. */
const COLUMNS = "SELECT table_name, column_name, data_type, is_nullable = 'NO' AND column_default IS NULL AND extra NOT LIKE '%auto_increment%' AND extra NOT LIKE '%generated%' FROM information_schema.columns WHERE table_schema = DATABASE() ORDER BY table_name, ordinal_position LIMIT 5000";

const TYPES: Readonly<Record<string, ValueType>> = { date: 'date', tinyint: 'number', smallint: 'number', mediumint: 'number', int: 'number', bigint: 'number', decimal: 'number', float: 'number', double: 'number' };

/** Tables with their columns, as they can be written to. */
function tablesFrom([, ...rows]: readonly (readonly string[])[]): TableOffer[] {
  const tables = new Map<string, TargetColumn[]>();
  for (const [table = '', name = '', type = '', needed] of rows) {
    const known = TYPES[type.toLowerCase()];
    tables.set(table, [...(tables.get(table) ?? []), { name, ...(known ? { type: known } : {}), ...(needed === '1' ? { needed: true } : {}) }]);
  }
  return [...tables].map(([name, columns]) => ({ name, columns }));
}

export const databaseConnector: Connector<DatabaseSettings> = {
  key: 'database',
  name: 'Database (MariaDB, MySQL)',
  secretName: 'Password',
  schema: Joi.object({ host: Joi.string().hostname().required().label('Host'), port: Joi.number().port().default(3306).label('Port'), user: Joi.string().max(100).required().label('User'), database: Joi.string().max(100).required().label('Database') }),
  async tryOut(settings, secret) {
    const tables = tablesFrom(await queryTable(settings, secret, COLUMNS));
    const names = tables.map(({ name }) => name);
    return { found: `The database answers; it shows ${names.length} ${names.length === 1 ? 'table' : 'tables'}${names.length > 0 ? `: ${names.slice(0, 8).join(', ')}${names.length > 8 ? ' …' : ''}` : ''}.`, offers: { tables } };
  },
};
