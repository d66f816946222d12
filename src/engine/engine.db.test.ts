import { eq, sql } from 'drizzle-orm';
import ExcelJS from 'exceljs';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { StepFailure } from '@/core/resilience/failure';
import { describeRun, refloat, giveUp } from '@/services/runs';
import { accept, openReview, refuse, setAside, takeBack } from '@/services/desk';
import { receive } from '@/services/receive';
import { rowsOfList } from '@/services/lists';
import { seededChance } from '@/settings/random';
import { claimRuns, releaseExpired, renewLease, runById } from '@/store/queries/runs';
import { putList } from '@/store/queries/lists';
import { delivery, list, run } from '@/store/schema';
import { LEDGER } from '../../demo/ledger';
import { makeBill, type Oddity } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { advance } from './advance';
import type { Engine } from './engine';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('engine');
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterEach(() => bed.close());

const never = new AbortController().signal;

async function arrive(seed: number, oddity: Oddity = 'none'): Promise<string> {
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: `seed-${seed}`, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${seed}.pdf`, mediaType: 'application/pdf', bytes: await printBill(makeBill(seed, oddity)) }] });
  return documents[0]!.runId!;
}

const claim = (most = 1, lease = 60_000) => claimRuns(bed.services.store.db, 'W', most, lease);

/** Claim and advance until nothing is due. */
async function drain(engine: Engine): Promise<void> {
  for (let turn = 0; turn < 500; turn += 1) {
    const [next] = await claim();
    if (next) await advance(engine, next, never).catch(() => undefined);
    else if ((await bed.services.store.db.select().from(run).where(eq(run.state, 'queued'))).length === 0) return;
  }
}

const stateOf = async (id: string) => (await runById(bed.services.store.db, id))?.state;
const ledger = async () => (await rowsOfList(bed.services, 'haulage-ledger', { filters: {}, sort: 'Bill', descending: false }, { offset: 0, limit: 200 })).rows;

async function workbookRows(tab: string): Promise<number> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(readFileSync(path.join(bed.services.workbookFolder, 'Haulage ledger.xlsx')) as never);
  return (workbook.getWorksheet(tab)?.rowCount ?? 1) - 1;
}

describe('a run', () => {
  test('goes straight through from a file to its rows, each with its place on the page', async () => {
    const id = await arrive(2);
    await drain(testEngine(bed.services));
    expect(await stateOf(id)).toBe('finished');
    const [row] = await ledger();
    expect(row?.cells).toMatchObject({ Haulier: 'Merrow Haulage', Bill: 'MH-104002', Total: makeBill(2).total.toFixed(2) });
    expect(row?.places['Total']?.page).toBe(1);
    expect([await workbookRows('Bills'), await workbookRows('Lines'), await workbookRows('Hauliers')]).toEqual([1, makeBill(2).rows.length, 1]);
    const { steps } = await describeRun(bed.services, id);
    expect(steps.map((step) => step.state)).toEqual(['done', 'done', 'passed', 'done', expect.stringMatching(/done|not taken/), expect.stringMatching(/done|not taken/), 'done', 'done']);
    expect(steps.at(-1)?.delivery).toMatchObject({ state: 'confirmed', key: `${id}/workbook` });
  });

  test('takes the way that its amount chooses', async () => {
    for (const seed of [1, 2, 3, 5, 6, 8, 9]) await arrive(seed);
    await drain(testEngine(bed.services));
    for (const row of await ledger()) expect(row.cells['Pay']).toBe(Number(row.cells['Total']) > 2500 ? 'after the chair has signed' : 'with the next round');
  });

  test('waits for a person, holding no worker, and goes on by itself when answered', async () => {
    const id = await arrive(4, 'discount elsewhere');
    const engine = testEngine(bed.services);
    await drain(engine);
    expect([await stateOf(id), (await ledger()).length]).toEqual(['waiting', 0]);
    const taskId = (await describeRun(bed.services, id)).steps.find((step) => step.state === 'waiting')!.taskId!;
    const review = await openReview(bed.services, taskId);
    await expect(accept(bed.services, TESTER, taskId, { revision: 0, readings: review.readings, note: null })).rejects.toThrow('A check still fails');
    const mend = review.findings[0]!.gap!.explanations[0]!.mend!;
    const readings = { ...review.readings, fields: { ...review.readings.fields, discount: { ...review.readings.fields['discount']!, value: mend.value, text: mend.printed, reader: 'person' as const, confidence: 1, place: mend.place } } };
    await expect(accept(bed.services, TESTER, taskId, { revision: 7, readings, note: null })).rejects.toThrow('Somebody else has changed');
    await accept(bed.services, TESTER, taskId, { revision: 0, readings, note: null });
    await expect(accept(bed.services, TESTER, taskId, { revision: 1, readings, note: null })).rejects.toThrow('accepted by Tester already');
    await drain(engine);
    expect([await stateOf(id), (await ledger())[0]?.cells['Discount']]).toEqual(['finished', mend.value]);
    expect((await describeRun(bed.services, id)).steps.find((step) => step.id === 'review')?.result).toMatchObject({ made: 'answer', changed: ['discount'], by: 'Tester' });
  });

  test('ends without writing when it is refused, and keeps the reason', async () => {
    const id = await arrive(7, 'does not add up');
    const engine = testEngine(bed.services);
    await drain(engine);
    const taskId = (await describeRun(bed.services, id)).steps.find((step) => step.taskId)!.taskId!;
    await setAside(bed.services, TESTER, taskId, 'ask them');
    await takeBack(bed.services, TESTER, taskId);
    await refuse(bed.services, TESTER, taskId, 'wrong total');
    await drain(engine);
    expect(await runById(bed.services.store.db, id)).toMatchObject({ state: 'finished', stopped: 'Refused by Tester: wrong total' });
    expect(await ledger()).toEqual([]);
  });
});

describe('claims', () => {
  test('two workers never get the same run', async () => {
    for (const seed of [2, 6, 8, 10, 12, 14]) await arrive(seed);
    const both = (await Promise.all([claim(4), claim(4), claim(4)])).flat();
    expect(new Set(both.map((one) => one.runId)).size).toBe(both.length);
    expect(both.length + (await claim(10)).length).toBe(6);
  });

  test('a late worker records nothing, neither facts nor rows', async () => {
    await arrive(2);
    const [late] = await claim(1, 0);
    expect(await releaseExpired(bed.services.store.db)).toBe(1);
    const [current] = await claim();
    expect(current?.claimNo).toBe(late!.claimNo + 1);
    expect([await renewLease(bed.services.store.db, late!, 1000), await renewLease(bed.services.store.db, current!, 1000)]).toEqual([false, true]);
    await expect(advance(testEngine(bed.services), late!, never)).rejects.toThrow(`claim ${late!.claimNo}`);
    expect(await ledger()).toEqual([]);
    await advance(testEngine(bed.services), current!, never);
    expect(await ledger()).toHaveLength(1);
  });
});

describe('failures', () => {
  const mark = () => path.join(bed.services.workbookFolder, '.~lock.Haulage ledger.xlsx#');
  const openWorkbook = () => {
    writeFileSync(path.join(bed.services.workbookFolder, 'Haulage ledger.xlsx'), readFileSync('tests/support/empty.xlsx'));
    writeFileSync(mark(), '');
  };

  test('a workbook that is open is tried again, then strands; refloated, it goes on and writes once', async () => {
    openWorkbook();
    const id = await arrive(2);
    await drain(testEngine(bed.services));
    const stranded = await describeRun(bed.services, id);
    expect([stranded.state, stranded.failure]).toEqual(['stranded', expect.stringContaining('open in another program')]);
    expect(stranded.steps.at(-1)?.failed.map((attempt) => [attempt.number, attempt.nextAt !== null])).toEqual([[1, true], [2, true], [3, false]]);
    rmSync(mark());
    await refloat(bed.services, TESTER, id);
    await expect(refloat(bed.services, TESTER, id)).rejects.toThrow('Only a stranded run');
    await drain(testEngine(bed.services));
    expect([await stateOf(id), (await ledger()).length, await workbookRows('Bills')]).toEqual(['finished', 1, 1]);
  });

  test('a stranded run can be given up, and then stays so', async () => {
    openWorkbook();
    const id = await arrive(2);
    await drain(testEngine(bed.services));
    await giveUp(bed.services, TESTER, id, 'paid by hand');
    expect(await stateOf(id)).toBe('given up');
    await expect(refloat(bed.services, TESTER, id)).rejects.toThrow('Only a stranded run');
  });

  test('a list that is not there strands at once, with what to do', async () => {
    await bed.services.store.db.delete(list);
    const id = await arrive(2);
    await drain(testEngine(bed.services));
    const { state, failure, steps } = await describeRun(bed.services, id);
    expect([state, failure, steps.find((step) => step.id === 'ledger')?.failed.length]).toEqual(['stranded', 'The list does not exist: “haulage-ledger”. Make it, then refloat', 1]);
    await putList(bed.services.store.db, LEDGER);
    await refloat(bed.services, TESTER, id);
    await drain(testEngine(bed.services));
    expect(await stateOf(id)).toBe('finished');
  });

  test('our own mistake is not tried again', async () => {
    const id = await arrive(2);
    await drain(testEngine(bed.services, { kind: async () => { throw new TypeError('oops'); } }));
    expect(await describeRun(bed.services, id)).toMatchObject({ state: 'stranded', failure: 'The program made a mistake here: oops' });
  });
});

/** A crash, as the engine meets it: the claim ends without a record. */
const crash = () => Object.assign(new Error('crash'), { code: 'PROTOCOL_CONNECTION_LOST' });

describe('deliveries', () => {
  test('after a crash between writing and recording, the workbook is asked and not written again', async () => {
    const id = await arrive(2);
    const plain = testEngine(bed.services);
    const crashing = testEngine(bed.services, { exclusive: async (name, work) => { await plain.exclusive(name, work); throw crash(); } });
    const [first] = await claim(1, 0);
    await expect(advance(crashing, first!, never)).rejects.toThrow('crash');
    expect(await bed.services.store.db.select().from(delivery).where(eq(delivery.stepId, 'workbook'))).toMatchObject([{ state: 'planned' }]);
    await releaseExpired(bed.services.store.db);
    await drain(plain);
    expect([await stateOf(id), await workbookRows('Bills')]).toEqual(['finished', 1]);
  });

  test.each([1, 2, 3])('random crashes, before and after writing, leave exactly one set of rows per document (seed %i)', async (seed) => {
    const chance = seededChance(seed);
    const seeds = [2, 6, 8, 10, 12, 14, 16, 18];
    for (const bill of seeds) await arrive(bill);
    const plain = testEngine(bed.services);
    let crashes = 0;
    const unlucky = testEngine(bed.services, {
      exclusive: async (name, work) => {
        if (chance() < 0.3) { crashes += 1; throw crash(); }
        const result = await plain.exclusive(name, work);
        if (chance() < 0.3) { crashes += 1; throw crash(); }
        if (chance() < 0.1) throw new StepFailure('no-space', 'for a moment');
        return result;
      },
    });
    for (let turn = 0; turn < 200; turn += 1) {
      const [next] = await claim(1, chance() < 0.5 ? 0 : 60_000);
      if (next) await advance(unlucky, next, never).catch(() => undefined);
      await bed.services.store.db.execute(sql`UPDATE run SET lease_until = NOW(6) - INTERVAL 1 SECOND WHERE state = 'working'`);
      await releaseExpired(bed.services.store.db);
      for (const row of await bed.services.store.db.select().from(run).where(eq(run.state, 'stranded'))) await refloat(bed.services, TESTER, row.id);
      if ((await bed.services.store.db.select().from(run).where(sql`state <> 'finished'`)).length === 0) break;
    }
    expect(crashes).toBeGreaterThan(3);
    expect((await ledger()).map((row) => row.cells['Bill'])).toEqual(seeds.map((bill) => makeBill(bill).number).sort());
    expect([await workbookRows('Bills'), await workbookRows('Lines')]).toEqual([seeds.length, seeds.reduce((sum, bill) => sum + makeBill(bill).rows.length, 0)]);
  }, 60_000);
});
