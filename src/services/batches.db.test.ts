import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { advance } from '@/engine/advance';
import { newId } from '@/settings/identifier';
import { claimRuns } from '@/store/queries/runs';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { batchResults, exportBatch } from './batch-results';
import { workBatch } from './batch-work';
import { beginBatch, describeBatch, describeBatches, endBatch, goOnWithBatch, lookAtPlace, pauseBatch } from './batches';
import { saveSource } from './sources';

let bed: TestBed;
let folder = '';
let count = 0;
const PIPELINE = 'haulage-to-ledger';
beforeAll(async () => {
  bed = await openTestBed('batches');
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterAll(() => bed.close());
beforeEach(() => {
  folder = path.join(bed.dataFolder, `scans-${(count += 1)}`);
  mkdirSync(folder);
});

const worker = newId();
const look = () => lookAtPlace(bed.services, { folder }, PIPELINE);
const begin = (first: number | null, refs: readonly string[] | null = null) => beginBatch(bed.services, TESTER, { from: { folder }, pipeline: PIPELINE, refs, first });
const isTaken = (name: string) => existsSync(path.join(folder, 'taken', name));

/** Bills in the folder; each batch has bills of its own, so that none is a repeat. */
async function bills(many: number): Promise<string[]> {
  const names: string[] = [];
  for (let index = 0; index < many; index += 1) {
    const name = `bill-${index + 1}.pdf`;
    writeFileSync(path.join(folder, name), await printBill(makeBill(2 + count * 100 + index * 4)));
    names.push(name);
  }
  return names;
}

/** Workers take what is released and work on it until nothing is left to do. */
async function work(): Promise<void> {
  for (let turn = 0; turn < 40; turn += 1) {
    const took = await workBatch(bed.services, worker, 20_000, new AbortController().signal);
    const claims = await claimRuns(bed.services.store.db, worker, 20, 60_000);
    for (const claim of claims) await advance(testEngine(bed.services), claim, new AbortController().signal);
    if (!took && claims.length === 0 && (await describeBatches(bed.services)).every(({ state }) => state !== 'under way')) return;
    await bed.services.store.pool.query('UPDATE batch SET lease_until = NULL');
  }
}

test('the first two of what waits are taken, then it waits for somebody to say go on', async () => {
  await bills(5);
  const id = await begin(2);
  await work();
  const first = await describeBatch(bed.services, id);
  expect([first.state, first.items, first.documents['finished']]).toEqual(['paused', { all: 5, waiting: 3, taken: 2, failed: 0 }, 2]);
  expect([isTaken('bill-1.pdf'), isTaken('bill-3.pdf'), existsSync(path.join(folder, 'bill-3.pdf'))]).toEqual([true, false, true]);
  expect(first.expected).toMatchObject({ from: 2 });
  await goOnWithBatch(bed.services, TESTER, id, 1);
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'paused', released: 3, items: { waiting: 2 } });
  await goOnWithBatch(bed.services, TESTER, id, null);
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'done', items: { waiting: 0, taken: 5 }, documents: { finished: 5 } });
}, 60_000);

test('before it begins it shows what waits, and what the pipeline took before', async () => {
  await bills(3);
  const { items, expected } = await look();
  expect([items.map(({ name }) => name).sort(), expected?.from]).toEqual([['bill-1.pdf', 'bill-2.pdf', 'bill-3.pdf'], 5]);
  expect(expected?.ms).toBeGreaterThan(0);
});

test('only what was chosen is taken; what has gone meanwhile is told', async () => {
  await bills(3);
  const id = await begin(null, ['bill-2.pdf', 'bill-3.pdf', 'never.pdf']);
  rmSync(path.join(folder, 'bill-3.pdf'));
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'done', items: { all: 2, taken: 1, failed: 1 } });
  const { rows } = await batchResults(bed.services, id, { offset: 0, limit: 10 });
  expect(rows.map(({ name, problem }) => [name, problem])).toEqual([['bill-2.pdf', null], ['bill-3.pdf', 'The file is not in the folder any more.']]);
  expect(isTaken('bill-1.pdf')).toBe(false);
});

test('a pause holds back what was not taken; an end leaves it for good', async () => {
  await bills(2);
  const id = await begin(null);
  await pauseBatch(bed.services, TESTER, id);
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'paused', items: { waiting: 2 } });
  await endBatch(bed.services, TESTER, id);
  await expect(goOnWithBatch(bed.services, TESTER, id, null)).rejects.toThrow('has gone on meanwhile');
  expect(isTaken('bill-1.pdf')).toBe(false);
});

test('the results are one table, which leads back to the pages', async () => {
  await bills(2);
  const id = await begin(null);
  await work();
  const { columns, rows, total } = await batchResults(bed.services, id, { offset: 0, limit: 10 });
  expect([total, columns.map(({ key }) => key)]).toEqual([2, expect.arrayContaining(['number', 'total'])]);
  const truth = makeBill(2 + count * 100);
  expect(rows[0]?.values).toMatchObject({ number: truth.number, total: truth.total.toFixed(2) });
  const lines = (await exportBatch(bed.services, id)).bytes.toString('utf8').trim().split('\r\n');
  expect([lines.length, lines[0]?.split(',').slice(0, 2), lines[1]?.endsWith(`/documents/${rows[0]?.document?.id}`)]).toEqual([3, ['Name', 'State'], true]);
});

test('the same file again is a repeat and not run', async () => {
  const [name = ''] = await bills(1);
  await begin(null);
  await work();
  writeFileSync(path.join(folder, name), await printBill(makeBill(2 + count * 100)));
  const id = await begin(null);
  await work();
  const detail = await describeBatch(bed.services, id);
  expect([detail.state, detail.documents]).toEqual(['done', { none: 1 }]);
});

test('a place that cannot be reached is told, and tried again', async () => {
  await bills(1);
  const id = await begin(null);
  renameSync(folder, `${folder}-away`);
  await workBatch(bed.services, worker, 20_000, new AbortController().signal);
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'under way', problem: expect.stringContaining('does not exist'), items: { waiting: 1, failed: 0 } });
  renameSync(`${folder}-away`, folder);
  await bed.services.store.pool.query('UPDATE batch SET lease_until = NULL');
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ state: 'done', problem: null, items: { taken: 1 } });
});

test('a source that is watched is not worked through, nor a place that is empty', async () => {
  const source = { key: `s-${count}`, name: 'Scans', connector: 'folder', settings: { path: folder }, secret: null, pipeline: PIPELINE, enabled: true };
  await saveSource(bed.services, TESTER, source);
  const from = { source: source.key };
  await expect(beginBatch(bed.services, TESTER, { from, pipeline: PIPELINE, refs: null, first: 1 })).rejects.toThrow('“Scans” is watched, and takes what arrives by itself. Switch it off');
  expect(await lookAtPlace(bed.services, from, PIPELINE)).toMatchObject({ watched: true, items: [] });
  await saveSource(bed.services, TESTER, { ...source, enabled: false });
  await expect(beginBatch(bed.services, TESTER, { from, pipeline: PIPELINE, refs: null, first: 1 })).rejects.toThrow('Nothing of what was chosen waits there any more.');
  await bills(1);
  const id = await beginBatch(bed.services, TESTER, { from, pipeline: PIPELINE, refs: null, first: 1 });
  await work();
  expect(await describeBatch(bed.services, id)).toMatchObject({ name: 'Scans', state: 'done' });
});
