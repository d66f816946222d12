import { eq } from 'drizzle-orm';
import { existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { advance } from '@/engine/advance';
import { claimRuns } from '@/store/queries/runs';
import { deliveriesOf } from '@/store/queries/deliveries';
import { document, fact, notice, run } from '@/store/schema';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { describeDocument, documentText, pagePicture, runDocument } from './documents';
import { clearAway, deletePapers, describeKeeping, setKeeping } from './keeping';
import { rowsOfList } from './lists';
import { receive } from './receive';
import { describeRun } from './runs';
import { sampleFromDocument } from './samples';

let bed: TestBed;
let count = 0;
beforeAll(async () => {
  bed = await openTestBed('keeping');
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterAll(() => bed.close());
afterEach(() => setKeeping(bed.services, TESTER, { papersDays: null, factsDays: null }));

const db = () => bed.services.store.db;
const blobOf = (sha256: string): string => path.join(bed.dataFolder, 'blobs/originals', sha256.slice(0, 2), sha256.slice(2));

/** A bill that went through, so many days ago. */
async function finished(daysAgo: number): Promise<{ id: string; runId: string; sha256: string }> {
  const bytes = await printBill(makeBill(2 + (count += 4)));
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: `k-${count}`, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `bill-${count}.pdf`, mediaType: 'application/pdf', bytes }] });
  for (const claim of await claimRuns(db(), 'W', 20, 60_000)) await advance(testEngine(bed.services), claim, new AbortController().signal);
  const [row] = documents;
  await age(row!.id, daysAgo);
  return { id: row!.id, runId: row!.runId!, sha256: row!.sha256 };
}
async function age(id: string, days: number): Promise<void> {
  const { pool } = bed.services.store;
  await pool.query('UPDATE document SET received_at = NOW(6) - INTERVAL ? DAY WHERE id = ?', [days, id]);
  await pool.query('UPDATE run SET finished_at = NOW(6) - INTERVAL ? DAY WHERE document_id = ? AND state = "finished"', [days, id]);
}
const isGone = async (id: string): Promise<boolean> => (await db().select({ at: document.papersGoneAt }).from(document).where(eq(document.id, id)))[0]?.at !== null;

test('without a rule nothing goes, however old', async () => {
  const { id } = await finished(4_000);
  await clearAway(bed.services);
  expect(await isGone(id)).toBe(false);
  await age(id, 0);
});
test('pages and originals go when they are over; what was written and its proof stay', async () => {
  const [old, young] = [await finished(40), await finished(20)];
  expect(await describeKeeping(bed.services, { papersDays: 30, factsDays: null })).toMatchObject({ due: { documents: 1, runs: 0 } });
  await setKeeping(bed.services, TESTER, { papersDays: 30, factsDays: null });
  expect(await clearAway(bed.services)).toBe(false);
  expect([await isGone(old.id), existsSync(blobOf(old.sha256)), await isGone(young.id), existsSync(blobOf(young.sha256))]).toEqual([true, false, false, true]);
  const described = await describeDocument(bed.services, old.id);
  expect([described.pages, described.problem?.code, described.readings?.fields['number']?.value]).toEqual([[], 'deleted', expect.stringMatching(/\d/)]);
  expect((await deliveriesOf(db(), old.runId)).map(({ state, proof }) => [state, proof !== null])).toEqual([['confirmed', true], ['confirmed', true]]);
  const { rows } = await rowsOfList(bed.services, 'haulage-ledger', { filters: {}, sort: null, descending: false }, { offset: 0, limit: 50 });
  expect(rows.some((row) => row.document?.id === old.id)).toBe(true);
  for (const ask of [() => pagePicture(bed.services, old.id, 1, 'read'), () => documentText(bed.services, old.id), () => runDocument(bed.services, TESTER, old.id)]) await expect(ask()).rejects.toThrow(/The pages were deleted on \d{4}-/);
});
test('what was read and done goes by its own time, and the run can still be looked at', async () => {
  const old = await finished(400);
  await setKeeping(bed.services, TESTER, { papersDays: null, factsDays: 365 });
  await bed.services.store.pool.query('UPDATE notice SET at = NOW(6) - INTERVAL 400 DAY WHERE run_id = ?', [old.runId]);
  await clearAway(bed.services);
  expect([(await db().select().from(fact).where(eq(fact.runId, old.runId))).length, (await db().select().from(notice).where(eq(notice.runId, old.runId))).length]).toEqual([0, 0]);
  const described = await describeRun(bed.services, old.runId);
  expect([described.state, (await deliveriesOf(db(), old.runId)).length]).toEqual(['finished', 2]);
  expect((await db().select().from(run).where(eq(run.id, old.runId)))[0]?.factsGoneAt).not.toBeNull();
  await clearAway(bed.services);
});
test('what is still worked on stays, however old', async () => {
  const { id, runId } = await finished(50);
  await bed.services.store.pool.query("UPDATE run SET state = 'waiting', finished_at = NULL WHERE id = ?", [runId]);
  await setKeeping(bed.services, TESTER, { papersDays: 30, factsDays: 30 });
  await clearAway(bed.services);
  expect(await isGone(id)).toBe(false);
  await expect(deletePapers(bed.services, TESTER, id, 'asked for')).rejects.toThrow('still being worked on');
  await bed.services.store.pool.query("UPDATE run SET state = 'finished', finished_at = NOW(6) WHERE id = ?", [runId]);
});
test('bytes that a sample or a younger document needs stay, though the document loses its pages', async () => {
  const one = await finished(0);
  await sampleFromDocument(bed.services, TESTER, 'haulage-bill', one.id);
  await deletePapers(bed.services, TESTER, one.id, 'asked for by the sender');
  expect([await isGone(one.id), existsSync(blobOf(one.sha256)), (await describeDocument(bed.services, one.id)).pages]).toEqual([true, true, []]);
  await expect(deletePapers(bed.services, TESTER, one.id, 'again')).rejects.toThrow('were deleted before');
});
