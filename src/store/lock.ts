import type mysql from 'mysql2/promise';
import { createHash } from 'node:crypto';
import pLimit, { type LimitFunction } from 'p-limit';

/** Raised when a named lock could not be had in time. */
export class LockTimeout extends Error {
  override readonly name = 'LockTimeout';
}

/** Tells whether the lock is still ours; to be asked right before the step that cannot be taken back. */
export type StillHeld = () => Promise<boolean>;

/**
 * Callers of one process queue here first, so that each lock takes one connection of the pool at most. Otherwise a burst of
 * waiting callers would hold every connection, and the one that has the lock could not work.
 */
const queues = new WeakMap<mysql.Pool, Map<string, LimitFunction>>();

function queueOf(pool: mysql.Pool, lock: string): LimitFunction {
  const known = queues.get(pool) ?? new Map<string, LimitFunction>();
  queues.set(pool, known);
  const queue = known.get(lock) ?? pLimit(1);
  known.set(lock, queue);
  return queue;
}

/**
 * Do something while holding a lock that all workers of this database share. Locks of the server belong to a connection and
 * go when it goes, so a killed worker never leaves one behind.
 */
export function withLock<T>(pool: mysql.Pool, name: string, waitSeconds: number, work: (held: StillHeld) => Promise<T>): Promise<T> {
  // Names are at most 64 characters.
  const lock = `leadline:${createHash('sha256').update(name).digest('hex').slice(0, 40)}`;
  return queueOf(pool, lock)(() => locked(pool, { lock, name, waitSeconds }, work));
}

async function locked<T>(pool: mysql.Pool, { lock, name, waitSeconds }: { lock: string; name: string; waitSeconds: number }, work: (held: StillHeld) => Promise<T>): Promise<T> {
  const connection = await pool.getConnection();
  let healthy = false;
  try {
    const [rows] = await connection.query<mysql.RowDataPacket[]>('SELECT GET_LOCK(?, ?) AS got', [lock, waitSeconds]);
    if (rows[0]?.['got'] !== 1) {
      healthy = true;
      throw new LockTimeout(`“${name}” was not free within ${waitSeconds} s`);
    }
    const result = await work(async () => {
      const [held] = await connection.query<mysql.RowDataPacket[]>('SELECT IS_USED_LOCK(?) = CONNECTION_ID() AS ours', [lock]);
      return held[0]?.['ours'] === 1;
    });
    const [released] = await connection.query<mysql.RowDataPacket[]>('SELECT RELEASE_LOCK(?) AS freed', [lock]);
    healthy = released[0]?.['freed'] === 1;
    return result;
  } finally {
    // A connection whose lock was not released cleanly is closed, which releases it.
    if (healthy) connection.release();
    else connection.destroy();
  }
}
