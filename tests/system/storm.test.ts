/**
 * Documents arrive by mail, by a watched folder and as a batch, while workers are killed, mail connections cut, the database stopped and
 * started, the disk of the workbooks filled, and the business application is in storm weather. At the end each document has exactly its
 * effects, and everybody's books agree: ours, the workbook, the application's. The forces follow from the seed; where in the work one
 * falls is left to the machine.
 */
import ExcelJS from 'exceljs';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { startDatabase } from '../../bin/lib/database.mjs';
import { newWebhookSecret } from '@/connectors/webhook/webhook';
import { beginBatch } from '@/services/batches';
import { saveConnection } from '@/services/connections';
import { publish } from '@/services/definitions';
import { searchDocuments } from '@/services/documents';
import { describeListeners, saveListener } from '@/services/listeners';
import { rowsOfList } from '@/services/lists';
import { refloatGroup } from '@/services/runs';
import { saveSource } from '@/services/sources';
import { pause } from '@/settings/clock';
import { seededChance } from '@/settings/random';
import { countByState, strandedGroups } from '@/store/queries/runs';
import { delivery } from '@/store/schema';
import { makeBill, type Bill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { billLetter, postman } from '../../demo/mail';
import { openTestBed, type TestBed } from '../support/database';
import { freePort, startEntry, type Started } from '../support/processes';
import { loadScenario, TESTER } from '../support/scenario';
import { blow, mountSmallDisk, unmountDisk, type Log, type Sea } from '../support/storm';

const SEED = Number(process.env['STORM_SEED'] ?? 20261124);
const DOCUMENTS = Number(process.env['STORM_DOCUMENTS'] ?? 300);
const WORKERS = 4;
const LEASE_MS = 3_000;
const USER = { name: 'office', password: 'herring' };
const KEY = 'key-of-the-storm';
const HOOK = newWebhookSecret();
/** What is enough of a storm to prove anything; documents are held back until there was so much of it. */
const ENOUGH: Log = { kills: 8, cuts: 3, restarts: 2, full: 3 };
const HELD_BACK = 24;

let bed: TestBed;
let sea: Sea;
let [ledger, mail]: Started[] = [];
let room = '';
const ports = { imap: 0, smtp: 0, control: 0, ledger: 0 };
const place = (name: string): string => path.join(bed.dataFolder, name);
const ledgerUrl = (): string => `http://127.0.0.1:${ports.ledger}`;

beforeAll(async () => {
  room = mkdtempSync(path.join(os.tmpdir(), 'leadline-storm-'));
  const server = await startDatabase(path.join(room, 'mariadb'));
  bed = await openTestBed('storm', server.url('leadline'));
  for (const name of ['bills', 'scans', 'workbooks']) mkdirSync(place(name), { recursive: true });
  const disk = mountSmallDisk(place('workbooks'), 8) ? place('workbooks') : null;
  for (const name of ['imap', 'smtp', 'control', 'ledger'] as const) ports[name] = await freePort();
  mail = await startEntry('src/standins/mail/main.ts', [ports.imap, ports.smtp, ports.control, USER.name, USER.password], {});
  ledger = await startEntry('src/standins/ledger/main.ts', [ports.ledger, KEY, place('ledger'), HOOK], {});
  await connect();
  const workers = await Promise.all(Array.from({ length: WORKERS }, () => startWorker()));
  sea = { chance: seededChance(SEED), workers, startWorker, mailControl: ports.control, database: { folder: path.join(room, 'mariadb'), server }, disk, log: { kills: 0, cuts: 0, restarts: 0, full: 0 } };
}, 120_000);

afterAll(async () => {
  await Promise.all([...sea.workers, mail, ledger].map((process) => process?.kill()));
  if (sea.disk) unmountDisk(sea.disk);
  await bed.close();
  await sea.database.server.stop();
  rmSync(room, { recursive: true, force: true });
}, 60_000);

async function connect(): Promise<void> {
  const { services } = bed;
  await loadScenario(services);
  await publish(services, TESTER, 'pipeline', readFileSync('tests/support/pipelines/storm.yaml', 'utf8'), 'test');
  await fetch(`${ledgerUrl()}/vendors`, { method: 'PUT', body: JSON.stringify([{ id: 'H-101', name: 'Hauliers', account: '1' }]) });
  await saveConnection(services, TESTER, { key: 'harbour-ledger', name: 'Harbour Ledger', connector: 'http', settings: { url: ledgerUrl(), checkPath: '/openapi.json' }, secret: KEY });
  await saveListener(services, TESTER, { key: 'books', name: 'The books', url: `${ledgerUrl()}/hooks/leadline`, types: ['leadline.run.finished'], secret: HOOK, enabled: true });
  const source = { pipeline: 'storm', enabled: true };
  await saveSource(services, TESTER, { ...source, key: 'mail', name: 'Mail', connector: 'mailbox', settings: { host: '127.0.0.1', port: ports.imap, secure: false, user: USER.name, pollSeconds: 2, after: 'move' }, secret: USER.password });
  await saveSource(services, TESTER, { ...source, key: 'folder', name: 'Folder', connector: 'folder', settings: { path: place('bills'), settleMs: 200, pollSeconds: 1 }, secret: null });
}

/** A worker can only get ready while the database is there. */
const startWorker = (): Promise<Started> => startEntry('src/worker/main.ts', [LEASE_MS], { LEADLINE_DATABASE_URL: bed.databaseUrl, LEADLINE_DATA: bed.dataFolder, LEADLINE_URL: 'http://127.0.0.1:1' });

const weather = (state: 'storm' | 'calm') => fetch(`${ledgerUrl()}/weather`, { method: 'PUT', body: JSON.stringify({ state }) });
const isEnough = ({ kills, cuts, restarts, full }: Log): boolean => kills >= ENOUGH.kills && cuts >= ENOUGH.cuts && restarts >= ENOUGH.restarts && (sea.disk === null || full >= ENOUGH.full);

/** Every second one lies in the folder of the batch; of the others every third is filed, and the rest comes by mail. */
const ways = (seed: number): 'batch' | 'folder' | 'mail' => (seed % 2 === 0 ? 'batch' : seed % 3 === 0 ? 'folder' : 'mail');

async function sendAll(bills: readonly Bill[], pdfs: readonly Buffer[]): Promise<void> {
  const post = postman(ports.smtp);
  for (const [index, bill] of bills.entries()) {
    const letter = billLetter(bill, pdfs[index] as Buffer);
    // Some arrive in the storm however quick the machine is.
    for (let turn = 0; turn < 240 && index >= bills.length - HELD_BACK && !isEnough(sea.log); turn += 1) await pause(500);
    const [file] = letter.attachments;
    if (ways(index + 1) === 'folder') writeFileSync(path.join(place('bills'), file?.filename ?? ''), file?.content ?? '');
    else if (ways(index + 1) === 'mail') await post(letter);
    await pause(60);
  }
}

/** Asked again while the database is away. */
async function patiently<T>(ask: () => Promise<T>): Promise<T> {
  for (let turn = 0; ; turn += 1) {
    try {
      return await ask();
    } catch (error) {
      if (turn > 60) throw error;
      await pause(500);
    }
  }
}

/** A person refloats what is stranded: retries may be used up in such weather. True when everything is through. */
async function settled(): Promise<boolean> {
  const { db } = bed.services.store;
  for (const group of await strandedGroups(db)) await refloatGroup(bed.services, TESTER, group);
  const counts = await countByState(db);
  return (counts.finished ?? 0) >= DOCUMENTS && Object.entries(counts).every(([state, count]) => state === 'finished' || count === 0);
}

async function workbookCells(tab: string): Promise<string[]> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(readFileSync(path.join(place('workbooks'), 'Haulage ledger.xlsx')) as never);
  const cells: string[] = [];
  workbook.getWorksheet(tab)?.getColumn(1).eachCell((cell, row) => row > 1 && cells.push(cell.text));
  return cells.sort();
}

interface Books {
  readonly bills: readonly { readonly id: string; readonly number: string; readonly total: string; readonly key: string; readonly attachments: readonly { name: string }[] }[];
  readonly heard: readonly { readonly subject: string; readonly type: string; readonly times: number }[];
}

test(`${DOCUMENTS} documents come through the storm, each exactly once`, async () => {
  const bills = Array.from({ length: DOCUMENTS }, (_, index) => makeBill(index + 1));
  const pdfs: Buffer[] = [];
  for (const bill of bills) pdfs.push(await printBill(bill));
  for (const [index, pdf] of pdfs.entries()) if (ways(index + 1) === 'batch') writeFileSync(path.join(place('scans'), `scan-${index + 1}.pdf`), pdf);
  await beginBatch(bed.services, TESTER, { from: { folder: place('scans') }, pipeline: 'storm', refs: null, first: null });

  await weather('storm');
  const calm = new AbortController();
  const blowing = blow(sea, calm.signal);
  await sendAll(bills, pdfs);
  // It goes on until half a minute is over or everything has come through in spite of it.
  for (let turn = 0; turn < 60 && !(await patiently(settled)); turn += 1) await pause(500);
  calm.abort();
  await blowing;
  await weather('calm');
  for (let turn = 0; turn < 400 && !(await settled()); turn += 1) await pause(500);
  for (let turn = 0; turn < 120 && ((await describeListeners(bed.services))[0]?.told ?? 0) < DOCUMENTS; turn += 1) {
    // Nobody waits hours for what was put off in the storm.
    await bed.services.store.pool.query("UPDATE telling SET due_at = LEAST(due_at, NOW(6) + INTERVAL 1 SECOND) WHERE state = 'due'");
    await pause(500);
  }
  const { kills, cuts, restarts, full } = sea.log;
  console.log(`Storm of seed ${SEED}: ${kills} workers killed, ${cuts} mail connections cut, the database stopped ${restarts} times, ${sea.disk ? `the disk full for ${Math.round(full)} s` : 'no disk could be filled here'}.`);
  await reckon(bills);
  expect(isEnough(sea.log)).toBe(true);
}, 600_000);

/** Our books, the workbook and the application's books, held against what was sent. */
async function reckon(bills: readonly Bill[]): Promise<void> {
  const { services } = bed;
  const numbers = bills.map(({ number }) => number).sort();
  expect((await strandedGroups(services.store.db)).map(({ atStep, message }) => `${atStep}: ${message}`)).toEqual([]);
  expect(await countByState(services.store.db)).toEqual({ finished: bills.length });
  expect((await searchDocuments(services, {}, { offset: 0, limit: 1 })).total).toBe(bills.length);

  const { rows } = await rowsOfList(services, 'haulage-ledger', { filters: {}, sort: null, descending: false }, { offset: 0, limit: 1_000 });
  expect(rows.map((row) => row.cells['Bill']).sort()).toEqual(numbers);
  const totals = new Map(bills.map(({ number, total }) => [number, total.toFixed(2)]));
  expect(new Map(rows.map((row) => [row.cells['Bill'] ?? '', row.cells['Total']]))).toEqual(totals);

  expect(await workbookCells('Bills')).toEqual(numbers);
  expect(await workbookCells('Lines')).toEqual(bills.flatMap((bill) => bill.rows.map(() => bill.number)).sort());

  const books = (await (await fetch(`${ledgerUrl()}/records`)).json()) as Books;
  expect(books.bills.map(({ number }) => number).sort()).toEqual(numbers);
  expect(new Map(books.bills.map(({ number, total }) => [number, Number(total).toFixed(2)]))).toEqual(totals);
  expect(books.bills.filter(({ attachments }) => attachments.length !== 1)).toEqual([]);
  expect(new Set(books.bills.map(({ key }) => key)).size).toBe(bills.length);
  expect(new Set(books.heard.map(({ subject }) => subject)).size).toBe(bills.length);
  expect(books.heard).toHaveLength(bills.length);

  const deliveries = await services.store.db.select({ state: delivery.state }).from(delivery);
  expect([deliveries.length, deliveries.filter(({ state }) => state !== 'confirmed').length]).toEqual([bills.length * 4, 0]);
}
