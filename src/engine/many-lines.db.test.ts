import { eq, sql } from 'drizzle-orm';
import { stringify } from 'yaml';
import type { Step } from '@/core/pipeline/definition';
import { publish } from '@/services/definitions';
import { receive } from '@/services/receive';
import { describeRun, tallyRuns } from '@/services/runs';
import { claimRuns } from '@/store/queries/runs';
import { putList } from '@/store/queries/lists';
import { fact, listRow } from '@/store/schema';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { TESTER } from '../../tests/support/scenario';
import { NOTHING_KIND, readingOf } from '../../tests/support/world';
import { advance } from './advance';

const LINES = 10_000;
/** The line on which an expression fails. */
const WRONG = 4_711;

let bed: TestBed;
beforeAll(async () => {
  bed = await openTestBed('lines');
  await putList(bed.services.store.db, { key: 'slips', name: 'Slips', description: '', columns: [{ name: 'Item', type: 'text' }] });
});
afterAll(() => bed.close());

const engine = () => testEngine(bed.services, { kind: async () => NOTHING_KIND, read: async () => readingOf(LINES), pages: async () => [], marks: (kind, _readings, _pages, documentId) => ({ kindKey: kind.key, documentId, values: {}, print: [] }) });

/** A document of so many lines goes through these steps. Returns its run. */
async function run(key: string, ...steps: Step[]): Promise<string> {
  await publish(bed.services, TESTER, 'pipeline', stringify({ leadline: 'pipeline/1', key, name: key, steps: [{ id: 'read', do: 'read', kind: 'slip' }, ...steps] }), 'test');
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: key }, { dedupeKey: key, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${key}.txt`, mediaType: 'text/plain', bytes: Buffer.from(`A long slip, ${key}.`) }] });
  for (const claim of await claimRuns(bed.services.store.db, 'W', 5, 600_000)) await advance(engine(), claim, new AbortController().signal);
  return documents[0]?.runId ?? '';
}
const countFacts = async (id: string, state: string) => Number((await bed.services.store.db.select({ n: sql<number>`COUNT(*)` }).from(fact).where(sql`run_id = ${id} AND state = ${state} AND step_id LIKE 'mark#%'`))[0]?.n);

test('a document of ten thousand lines is worked through, line by line, and written at once', async () => {
  const id = await run('long', { id: 'all', do: 'each', of: 'items', steps: [{ id: 'mark', do: 'set', values: { seen: { pick: 'row.item' } } }] }, { id: 'rows', do: 'write-list', list: 'slips', each: 'items', columns: { Item: 'row.item' } });
  expect((await describeRun(bed.services, id)).state).toBe('finished');
  expect([await countFacts(id, 'done'), (await bed.services.store.db.select({ n: sql<number>`COUNT(*)` }).from(listRow).where(eq(listRow.runId, id)))[0]?.n]).toEqual([LINES, LINES]);
  expect((await tallyRuns(bed.services, { pipeline: 'long' }, { offset: 0, limit: 5 })).rows[0]?.cells.map(({ text }) => text)).toContain(`${LINES} of ${LINES}`);
}, 120_000);

test('an expression that fails on one line of ten thousand strands that line, and says which', async () => {
  const id = await run('one-wrong', { id: 'all', do: 'each', of: 'items', steps: [{ id: 'mark', do: 'set', values: { seen: { expression: `row.item = "item ${WRONG}" ? $error("no such item") : row.item` } } }] });
  const { state, steps, failure } = await describeRun(bed.services, id);
  expect([state, failure, await countFacts(id, 'done'), await countFacts(id, 'failed')]).toEqual(['stranded', expect.stringContaining('no such item'), LINES - 1, 1]);
  expect(steps.at(-1)?.lines[0]).toMatchObject({ line: WRONG, state: 'stranded' });
}, 120_000);
