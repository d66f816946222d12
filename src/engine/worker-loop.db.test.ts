import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { receive } from '@/services/receive';
import { saveSource } from '@/services/sources';
import { describeSources, removeSource } from '@/services/sources';
import { searchDocuments } from '@/services/documents';
import { pause } from '@/settings/clock';
import { systemClock } from '@/settings/clock';
import { newId } from '@/settings/identifier';
import { claimRuns, countByState } from '@/store/queries/runs';
import { holdSource, keepSource, listSources } from '@/store/queries/sources';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { watchSources } from './watch-sources';
import { workLoop } from './worker-loop';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('loop');
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterEach(() => bed.close());

async function arrive(seed: number): Promise<void> {
  await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: `seed-${seed}`, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${seed}.pdf`, mediaType: 'application/pdf', bytes: await printBill(makeBill(seed)) }] });
}

async function until(condition: () => Promise<boolean>): Promise<void> {
  for (let turn = 0; turn < 400 && !(await condition()); turn += 1) await pause(25);
  expect(await condition()).toBe(true);
}

const finished = (count: number) => async () => ((await countByState(bed.services.store.db)).finished ?? 0) === count;
const loop = (signal: AbortSignal, changes: Partial<Parameters<typeof workLoop>[1]> = {}, engine = testEngine(bed.services)) => workLoop(engine, { workerId: newId(), concurrency: 3, leaseMs: 400, idleMs: 20, say: () => undefined, ...changes }, signal);

describe(workLoop, () => {
  test('takes what is there and what comes, and ends when told', async () => {
    const stop = new AbortController();
    await arrive(2);
    const done = loop(stop.signal);
    await until(finished(1));
    await arrive(6);
    await until(finished(2));
    stop.abort();
    await done;
    await arrive(8);
    expect((await countByState(bed.services.store.db)).queued).toBe(1);
  });

  test('takes over from a worker that is silent', async () => {
    await arrive(2);
    await claimRuns(bed.services.store.db, 'gone', 1, 100);
    const said: string[] = [];
    const stop = new AbortController();
    const done = loop(stop.signal, { say: (line) => said.push(line) });
    await until(finished(1));
    stop.abort();
    await done;
    expect(said).toEqual(['1 run(s) of a silent worker are back in the queue']);
  });

  test('keeps a long step by its heartbeat: no other worker takes it', async () => {
    await arrive(2);
    const engine = testEngine(bed.services);
    let reads = 0;
    const slow = { ...engine, kind: async (key: string) => { reads += 1; await pause(1_500); return engine.kind(key); } };
    const stop = new AbortController();
    const both = [loop(stop.signal, {}, slow), loop(stop.signal, {}, slow)];
    await until(finished(1));
    stop.abort();
    await Promise.all(both);
    expect(reads).toBe(1);
  });

  test('finishes what is under way before it ends', async () => {
    for (const seed of [2, 6, 8]) await arrive(seed);
    const stop = new AbortController();
    const done = loop(stop.signal);
    await until(async () => ((await countByState(bed.services.store.db)).working ?? 0) > 0 || (await finished(3)()));
    stop.abort();
    await done;
    expect((await countByState(bed.services.store.db)).working ?? 0).toBe(0);
  });
});

describe(watchSources, () => {
  const folder = () => path.join(bed.dataFolder, 'bills');
  const save = (changes: object = {}) => saveSource(bed.services, TESTER, { key: 'folder', name: 'Folder', connector: 'folder', settings: { path: folder(), settleMs: 50, pollSeconds: 0.2 }, secret: null, pipeline: 'haulage-to-ledger', enabled: true, ...changes });
  const watch = (signal: AbortSignal, said: string[] = [], clock = systemClock) => watchSources({ clock, db: bed.services.store.db, workerId: newId(), leaseMs: 300, secrets: bed.services.secrets(), say: (line) => said.push(line), receive: async (source, arrival) => void (await receive(bed.services, TESTER, { sourceKey: source.key, pipelineKey: source.pipelineKey }, arrival)) }, signal);
  const arrived = (count: number) => async () => (await searchDocuments(bed.services, {}, { offset: 0, limit: 1 })).total === count;
  const put = async (seed: number) => writeFileSync(path.join(folder(), `${seed}.pdf`), await printBill(makeBill(seed)));

  beforeEach(() => mkdirSync(folder()));

  test('by a schedule it is looked at when its time has come, and not in between', async () => {
    await save({ settings: { path: folder(), settleMs: 50, pollSeconds: 0.2, schedule: { cron: '0 3 1 1 *', zone: 'UTC' } } });
    await put(2);
    const first = new AbortController();
    const watching = watch(first.signal);
    await until(arrived(1));
    await put(3);
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    expect(await arrived(1)()).toBe(true);
    first.abort();
    await watching;
    const later = new AbortController();
    const again = watch(later.signal, [], { nowMs: () => systemClock.nowMs() + 366 * 86_400_000 });
    await until(arrived(2));
    later.abort();
    await again;
    await expect(save({ settings: { path: folder(), schedule: { cron: 'now', zone: 'UTC' } } })).rejects.toThrow('five parts');
  });

  test('two workers watch a source once between them', async () => {
    await save();
    const stop = new AbortController();
    const both = [watch(stop.signal), watch(stop.signal)];
    await put(2);
    await until(arrived(1));
    await pause(700);
    expect((await searchDocuments(bed.services, {}, { offset: 0, limit: 5 })).total).toBe(1);
    stop.abort();
    await Promise.all(both);
    expect((await listSources(bed.services.store.db))[0]?.worker).toBeNull();
  });

  test('takes up changed settings, and stops when a source is switched off or removed', async () => {
    await save({ settings: { path: '/no/such/folder', pollSeconds: 0.2 } });
    const stop = new AbortController();
    const done = watch(stop.signal);
    await until(async () => (await describeSources(bed.services))[0]?.problem?.includes('does not exist') ?? false);
    await save();
    await put(2);
    await until(arrived(1));
    expect((await describeSources(bed.services))[0]?.problem).toBeNull();
    await save({ enabled: false });
    await pause(500);
    await put(6);
    await pause(600);
    expect(await arrived(1)()).toBe(true);
    await save();
    await until(arrived(2));
    await removeSource(bed.services, TESTER, 'folder');
    stop.abort();
    await done;
  });

  test('a lease belongs to one worker until it runs out or the settings change', async () => {
    await save();
    const { db } = bed.services.store;
    expect([await holdSource(db, 'folder', 'A', 60_000), await holdSource(db, 'folder', 'B', 60_000), await keepSource(db, 'folder', 'A', 1)]).toEqual([true, false, true]);
    await pause(20);
    expect(await holdSource(db, 'folder', 'B', 60_000)).toBe(true);
    await save();
    expect(await keepSource(db, 'folder', 'B', 60_000)).toBe(false);
  });
});
