/**
 * Documents arrive by mail and by folder while workers are killed and the mail server drops connections. At the end each document
 * has exactly its rows, in the list and in the workbook, and no run is lost. The order of events follows from the seed; where in the
 * work a kill falls is left to the machine.
 */
import ExcelJS from 'exceljs';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pause } from '@/settings/clock';
import { seededChance } from '@/settings/random';
import { rowsOfList } from '@/services/lists';
import { saveSource } from '@/services/sources';
import { searchDocuments } from '@/services/documents';
import { countByState } from '@/store/queries/runs';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { billLetter, postman } from '../../demo/mail';
import { openTestBed, type TestBed } from '../support/database';
import { freePort, startEntry, type Started } from '../support/processes';
import { loadScenario, TESTER } from '../support/scenario';

const SEED = Number(process.env['STORM_SEED'] ?? 20261124);
const DOCUMENTS = 64;
const EVERY_FIFTH = 5;
const LEASE_MS = 2_000;
const USER = { name: 'office', password: 'herring' };

let bed: TestBed;
let mail: Started;
const ports = { imap: 0, smtp: 0, control: 0 };
const workers: Started[] = [];
let folder = '';

beforeAll(async () => {
  bed = await openTestBed('storm');
  await loadScenario(bed.services);
  folder = path.join(bed.dataFolder, 'bills');
  for (const place of [folder, bed.services.workbookFolder]) mkdirSync(place, { recursive: true });
  for (const name of ['imap', 'smtp', 'control'] as const) ports[name] = await freePort();
  mail = await startEntry('src/standins/mail/main.ts', [ports.imap, ports.smtp, ports.control, USER.name, USER.password], {});
  await saveSource(bed.services, TESTER, { key: 'mail', name: 'Mail', connector: 'mailbox', settings: { host: '127.0.0.1', port: ports.imap, secure: false, user: USER.name, pollSeconds: 2, after: 'move' }, secret: USER.password, pipeline: 'haulage-to-ledger', enabled: true });
  await saveSource(bed.services, TESTER, { key: 'folder', name: 'Folder', connector: 'folder', settings: { path: folder, settleMs: 200, pollSeconds: 1 }, secret: null, pipeline: 'haulage-to-ledger', enabled: true });
  for (let worker = 0; worker < 2; worker += 1) workers.push(await startWorker());
}, 60_000);

afterAll(async () => {
  await Promise.all([...workers, mail].map((process) => process.kill()));
  await bed.close();
});

const startWorker = () => startEntry('src/worker/main.ts', [LEASE_MS], { LEADLINE_DATABASE_URL: bed.databaseUrl, LEADLINE_DATA: bed.dataFolder, LEADLINE_URL: 'http://127.0.0.1:1' });

/** What is enough of a storm to prove anything. */
const ENOUGH = { kills: 5, cuts: 3 } as const;
/** Documents that are held back until there was enough of a storm, so that some arrive in it however quick the machine is. */
const HELD_BACK = 8;
/** Turns of half a second that are waited for it. */
const MOST_TURNS = 180;

async function sendAll(counts: StormCounts): Promise<void> {
  const post = postman(ports.smtp);
  for (let seed = 1; seed <= DOCUMENTS; seed += 1) {
    for (let turn = 0; turn < MOST_TURNS && seed > DOCUMENTS - HELD_BACK && !isEnough(counts); turn += 1) await pause(500);
    const bill = makeBill(seed);
    const letter = billLetter(bill, await printBill(bill));
    if (seed % EVERY_FIFTH === 0) writeFileSync(path.join(folder, letter.attachments[0]!.filename), letter.attachments[0]!.content);
    else await post(letter);
    await pause(250);
  }
}

/** Cut what is connected; where nobody is just then (its worker was killed), wait for somebody to be. */
async function cutMail(): Promise<number> {
  for (let turn = 0; turn < 40; turn += 1) {
    const { cut } = (await (await fetch(`http://127.0.0.1:${ports.control}/drop`, { method: 'POST' })).json()) as { cut: number };
    if (cut > 0) return cut;
    await pause(100);
  }
  return 0;
}

interface StormCounts {
  kills: number;
  cuts: number;
}

const isEnough = ({ kills, cuts }: StormCounts): boolean => kills >= ENOUGH.kills && cuts >= ENOUGH.cuts;

/** Kill a worker, or cut every mail connection, at moments drawn from the seed, until told to stop. */
async function storm(counts: StormCounts, calm: AbortSignal): Promise<void> {
  const chance = seededChance(SEED);
  while (!calm.aborted) {
    await pause(200 + chance() * 1_200, calm);
    if (calm.aborted) break;
    if (chance() < 0.4) {
      counts.cuts += await cutMail();
    } else {
      const unlucky = chance() < 0.5 ? 0 : 1;
      await workers[unlucky]!.kill();
      workers[unlucky] = await startWorker();
      counts.kills += 1;
    }
  }
}

async function settled(): Promise<boolean> {
  const counts = await countByState(bed.services.store.db);
  return (counts.finished ?? 0) >= DOCUMENTS && Object.entries(counts).every(([state, count]) => state === 'finished' || count === 0);
}

async function workbookKeys(tab: string): Promise<string[]> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(readFileSync(path.join(bed.services.workbookFolder, 'Haulage ledger.xlsx')) as never);
  const cells: string[] = [];
  workbook.getWorksheet(tab)?.getColumn(1).eachCell((cell, row) => row > 1 && cells.push(cell.text));
  return cells;
}

test(`${DOCUMENTS} documents come through the storm, each exactly once`, async () => {
  const calm = new AbortController();
  const counts: StormCounts = { kills: 0, cuts: 0 };
  const weather = storm(counts, calm.signal);
  await sendAll(counts);
  // The storm goes on until half a minute is over or everything has come through in spite of it.
  for (let turn = 0; turn < 60 && !(await settled()); turn += 1) await pause(500);
  calm.abort();
  await weather;
  const { kills, cuts } = counts;
  for (let turn = 0; turn < 240 && !(await settled()); turn += 1) await pause(500);
  console.log(`Storm of seed ${SEED}: ${kills} workers killed, ${cuts} mail connections cut.`);

  const bills = Array.from({ length: DOCUMENTS }, (_, index) => makeBill(index + 1));
  expect(await countByState(bed.services.store.db)).toEqual({ finished: DOCUMENTS });
  expect((await searchDocuments(bed.services, {}, { offset: 0, limit: 1 })).total).toBe(DOCUMENTS);
  const { rows } = await rowsOfList(bed.services, 'haulage-ledger', { filters: {}, sort: null, descending: false }, { offset: 0, limit: 500 });
  expect(rows.map((row) => row.cells['Bill']).sort()).toEqual(bills.map((bill) => bill.number).sort());
  expect(new Map(rows.map((row) => [row.cells['Bill'], row.cells['Total']]))).toEqual(new Map(rows.map((row) => [row.cells['Bill'], bills.find((bill) => bill.number === row.cells['Bill'])!.total.toFixed(2)])));
  expect((await workbookKeys('Lines')).sort()).toEqual(bills.flatMap((bill) => bill.rows.map(() => bill.number)).sort());
  expect((await workbookKeys('Bills')).sort()).toEqual(bills.map((bill) => (bill.haulier === 'merrow' ? 'Merrow Haulage' : 'Tollan & Daughters Reefer Lines')).sort());
  expect((await workbookKeys('Hauliers')).sort()).toEqual(['Merrow Haulage', 'Tollan & Daughters Reefer Lines']);
  expect(isEnough(counts)).toBe(true);
}, 300_000);
