import { sql } from 'drizzle-orm';
import type { Queries } from '../database';

/**
 * A text that is another one whenever documents, runs, tasks, sources or batches have changed. Built from everything that has not ended,
 * not from the newest time: what commits late may bear an earlier time than what was seen already, and would never be noticed.
 */
export async function markOfChange(db: Queries): Promise<string> {
  const [rows] = (await db.execute(sql`SELECT
    (SELECT CONCAT(COUNT(*), ':', COALESCE(SUM(CRC32(CONCAT(id, state, updated_at))), 0)) FROM run WHERE state IN ('queued', 'working', 'waiting', 'stranded')) AS run,
    (SELECT MAX(id) FROM document) AS document,
    (SELECT CONCAT(COUNT(*), ':', COALESCE(SUM(CRC32(CONCAT(id, state, updated_at))), 0)) FROM task WHERE state IN ('open', 'set aside')) AS task,
    (SELECT GROUP_CONCAT(\`key\`, enabled, COALESCE(problem, '')) FROM source) AS source,
    (SELECT CONCAT(COUNT(*), ':', COALESCE(SUM(CRC32(CONCAT(id, state, released, COALESCE(problem, '')))), 0)) FROM batch WHERE state IN ('under way', 'paused')) AS batch`)) as unknown as [Record<string, unknown>[]];
  return Object.values(rows[0] ?? {}).join('|');
}
