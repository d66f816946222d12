import { getTableColumns } from 'drizzle-orm';
import { getTableConfig, type MySqlTable } from 'drizzle-orm/mysql-core';
import type mysql from 'mysql2/promise';
import { pause } from '@/settings/clock';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { errorCode, inTransaction, isConnectionLost, isDuplicate } from './database';
import { LockTimeout, withLock } from './lock';
import { migrate } from './migrate';
import { markOfChange } from './queries/changes';
import * as schema from './schema';

let bed: TestBed;
beforeAll(async () => (bed = await openTestBed('store')));
afterAll(() => bed.close());

const snake = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

describe('migrations', () => {
  test('make exactly the tables and columns that the program knows', async () => {
    const [rows] = await bed.services.store.pool.query<mysql.RowDataPacket[]>('SELECT table_name AS t, column_name AS c, is_nullable AS n FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name <> "migration"');
    const made = rows.map((row) => `${row['t']}.${row['c']} ${row['n'] === 'YES' ? 'null' : 'not null'}`).sort();
    const known = Object.values(schema).flatMap((table) => Object.entries(getTableColumns(table as MySqlTable)).map(([key, column]) => `${getTableConfig(table as MySqlTable).name}.${snake(key)} ${column.notNull || column.primary ? 'not null' : 'null'}`)).sort();
    expect(known).toEqual(made);
  });
  test('can be run again, and by two starters at once', async () => {
    await expect(Promise.all([migrate(bed.services.store.pool), migrate(bed.services.store.pool)])).resolves.toEqual([[], []]);
  });
});

describe(withLock, () => {
  test('lets one in at a time, across connections', async () => {
    const log: string[] = [];
    const work = (name: string) => withLock(bed.services.store.pool, 'door', 10, async (held) => {
      log.push(`${name} in`);
      await pause(20);
      expect(await held()).toBe(true);
      log.push(`${name} out`);
    });
    await Promise.all(['a', 'b', 'c'].map(work));
    expect(log.map((line) => line.slice(2))).toEqual(['in', 'out', 'in', 'out', 'in', 'out']);
  });
  test('gives up after the time it may wait', async () => {
    const other = await bed.services.store.pool.getConnection();
    const [rows] = await other.query<mysql.RowDataPacket[]>("SELECT GET_LOCK(CONCAT('leadline:', LEFT(SHA2('taken', 256), 40)), 0) AS got");
    expect(rows[0]?.['got']).toBe(1);
    await expect(withLock(bed.services.store.pool, 'taken', 1, async () => 1)).rejects.toThrow(LockTimeout);
    other.destroy();
  });
  test('a burst of callers does not use up the connections that the work itself needs', async () => {
    const inside = () => bed.services.store.pool.query('SELECT 1');
    await expect(Promise.all(Array.from({ length: 30 }, () => withLock(bed.services.store.pool, 'burst', 10, inside)))).resolves.toHaveLength(30);
  });
  test('is free again after the work failed', async () => {
    await expect(withLock(bed.services.store.pool, 'door', 1, async () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    await expect(withLock(bed.services.store.pool, 'door', 1, async () => 'in')).resolves.toBe('in');
  });
});

describe(inTransaction, () => {
  test('takes everything back when the work fails', async () => {
    const { db } = bed.services.store;
    await expect(inTransaction(db, async (tx) => {
      await tx.insert(schema.list).values({ key: 'x', name: 'X', columns: [], description: '' });
      throw new Error('no');
    })).rejects.toThrow('no');
    expect(await db.select().from(schema.list)).toEqual([]);
  });
  test('errors are told apart by the code of the server', async () => {
    const { db } = bed.services.store;
    const values = { key: 'y', name: 'Y', columns: [], description: '' };
    await db.insert(schema.list).values(values);
    const error = await db.insert(schema.list).values(values).then(() => null, (thrown: unknown) => thrown);
    expect([isDuplicate(error), isConnectionLost(error), errorCode(error)]).toEqual([true, false, 'ER_DUP_ENTRY']);
    expect(isConnectionLost(new Error('x', { cause: { code: 'ECONNREFUSED' } }))).toBe(true);
  });
});

describe(markOfChange, () => {
  const put = (id: string, state: string, at: string) => bed.services.store.pool.query('INSERT INTO run (id, document_id, pipeline_key, pipeline_version, state, due_at, claim_no, created_at, updated_at) VALUES (?, ?, "p", 1, ?, ?, 1, ?, ?) ON DUPLICATE KEY UPDATE state = VALUES(state), updated_at = VALUES(updated_at)', [id.padEnd(26, '0'), id.padEnd(26, '0'), state, at, at, at]);
  test('notices a change that bears an earlier time than what was seen already', async () => {
    await put('A', 'working', '2026-03-12 10:00:05');
    await put('B', 'working', '2026-03-12 10:00:01');
    const before = await markOfChange(bed.services.store.db);
    await put('B', 'finished', '2026-03-12 10:00:02');
    expect(await markOfChange(bed.services.store.db)).not.toBe(before);
  });
  test('stays the same while nothing happens', async () => {
    expect(await markOfChange(bed.services.store.db)).toBe(await markOfChange(bed.services.store.db));
  });
});
