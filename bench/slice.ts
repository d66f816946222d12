/**
 * Ratios measured side by side in one run: reading against pdftotext, runs against plain durable commits, memory after many runs
 * against after few. Absolute figures are printed for interest only; they belong to the machine.
 */
import { execFile, execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { sql } from 'drizzle-orm';
import { inspectFile } from '@/digitise/inspect';
import { pause } from '@/settings/clock';
import { countByState } from '@/store/queries/runs';
import { makeBill } from '../demo/bills/bill';
import { printBill } from '../demo/bills/print';
import { openTestBed, type TestBed } from '../tests/support/database';
import { startEntry } from '../tests/support/processes';
import { FILES, makeReady, queueRuns, secondsOf } from './support';

const ROUNDS = 3;
const FEW = 200;
const MANY = 2_000;

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

function print(what: string, ratio: number, aim: string, detail: string): void {
  console.log(`${what.padEnd(62)} ${ratio.toFixed(2).padStart(6)}   (aim ${aim}; ${detail})`);
}

async function readingAgainstPdftotext(): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-bench-'));
  const files = await Promise.all(Array.from({ length: FILES }, async (_, index) => {
    const file = path.join(folder, `${index}.pdf`);
    const bytes = await printBill(makeBill(index + 1));
    writeFileSync(file, bytes);
    return { file, bytes };
  }));
  let pages = 0;
  const ours = async () => {
    pages = 0;
    for (const { bytes } of files) pages += (await inspectFile(bytes)).pages.length;
  };
  const run = promisify(execFile);
  const theirs = async () => {
    for (const { file } of files) await run('pdftotext', ['-bbox-layout', file, '-'], { maxBuffer: 50_000_000 });
  };
  const [own, other]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    own.push(await secondsOf(ours));
    other.push(await secondsOf(theirs));
  }
  rmSync(folder, { recursive: true });
  print('(a) text pages read per second ÷ pdftotext -bbox-layout', median(other) / median(own), '≥ 0.3', `${(pages / median(own)).toFixed(0)} and ${(pages / median(other)).toFixed(0)} pages/s`);
}

async function finished(bed: TestBed, count: number): Promise<void> {
  while (((await countByState(bed.services.store.db)).finished ?? 0) < count) await pause(20);
}

const residentMb = (pid: number): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

async function enginesAgainstCommits(bed: TestBed): Promise<void> {
  const { db, pool } = bed.services.store;
  const papers = await makeReady(bed);
  const worker = await startEntry('src/worker/main.ts', [], { LEADLINE_DATABASE_URL: bed.databaseUrl, LEADLINE_DATA: bed.dataFolder, LEADLINE_URL: 'http://127.0.0.1:1' });
  try {
    await queueRuns(bed, 'five-steps', FEW, papers);
    await finished(bed, FEW);
    await pause(2_000);
    const few = residentMb(worker.process.pid!);

    await db.execute(sql`CREATE TABLE plain_commit (id INT PRIMARY KEY, text VARCHAR(200)) ENGINE=InnoDB`);
    const commitsFrom = async (first: number, count: number) => {
      const connection = await pool.getConnection();
      const seconds = await secondsOf(async () => {
        for (let id = first; id < first + count; id += 1) await connection.query('INSERT INTO plain_commit VALUES (?, ?)', [id, 'x'.repeat(100)]);
      });
      connection.release();
      return count / seconds;
    };
    /** The worker is held while the runs are queued, then let go. */
    const runsOf = async (pipeline: string, count: number, upTo: number) => {
      worker.process.kill('SIGSTOP');
      await queueRuns(bed, pipeline, count, papers);
      const seconds = await secondsOf(async () => {
        worker.process.kill('SIGCONT');
        await finished(bed, upTo);
      });
      return count / seconds;
    };
    const commits = await commitsFrom(0, MANY - FEW);
    const read = await runsOf('five-steps', MANY - FEW, MANY);
    await pause(2_000);
    const many = residentMb(worker.process.pid!);
    const commitsAgain = await commitsFrom(MANY, MANY - FEW);
    const light = await runsOf('light', MANY - FEW, 2 * MANY - FEW);
    print('(b) five-step runs that read a bill, one worker ÷ durable commits', read / commits, '≥ 0.1', `${read.toFixed(0)} runs/s and ${commits.toFixed(0)} commits/s`);
    print('    five light steps, one worker ÷ durable commits', light / commitsAgain, '≥ 0.1', `${light.toFixed(0)} runs/s and ${commitsAgain.toFixed(0)} commits/s`);
    print(`(c) worker memory after ${MANY} runs ÷ after ${FEW}`, many / few, '< 1.2', `${many.toFixed(0)} and ${few.toFixed(0)} MB`);
  } finally {
    await worker.kill();
  }
}

console.log(`Node ${process.version}, ${os.cpus().length} cores, ${execFileSync('pdftotext', ['-v'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }) || 'poppler'}\n`);
await readingAgainstPdftotext();
const bed = await openTestBed('bench');
mkdirSync(bed.services.workbookFolder, { recursive: true });
try {
  await enginesAgainstCommits(bed);
} finally {
  await bed.close();
}
