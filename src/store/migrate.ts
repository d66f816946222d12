import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type mysql from 'mysql2/promise';
import { withLock } from './lock';

/** Where the numbered migrations stand, from the project's root. */
export const MIGRATIONS = path.resolve('src/store/migrations');

/**
 * Bring the database up to date. Definitions commit by themselves on this server, so each file can be run again, and one
 * lock keeps two starters apart. Returns the names of the files that were applied now.
 */
export async function migrate(pool: mysql.Pool, folder = MIGRATIONS): Promise<string[]> {
  return withLock(pool, 'migrate', 60, async () => {
    await pool.query('CREATE TABLE IF NOT EXISTS migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(6) NOT NULL) ENGINE=InnoDB');
    const [rows] = await pool.query<mysql.RowDataPacket[]>('SELECT name FROM migration');
    const done = new Set(rows.map((row) => String(row['name'])));
    const open = readdirSync(folder).filter((name) => /^\d{3}-.*\.sql$/.test(name) && !done.has(name)).sort();
    for (const name of open) {
      for (const statement of statementsOf(readFileSync(path.join(folder, name), 'utf8'))) await pool.query(statement);
      await pool.query('INSERT INTO migration (name, applied_at) VALUES (?, NOW(6))', [name]);
    }
    return open;
  });
}

/** Statements end with a semicolon at the end of a line. */
const statementsOf = (text: string): string[] => text.split(/;\s*$/m).map((statement) => statement.trim()).filter((statement) => statement.replace(/^--.*$/gm, '').trim() !== '');
