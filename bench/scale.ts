/**
 * How Runs and the claim behave with 50,000 finished runs in the database. Times are of this machine; the ratio of each to the same
 * question over an empty database tells whether anything grows with the number of runs.
 */
import { publish } from '@/services/definitions';
import { tallyRuns } from '@/services/runs';
import { newId } from '@/settings/identifier';
import { claimRuns, insertRun, moveClaimed, type RunFilter } from '@/store/queries/runs';
import { openTestBed, type TestBed } from '../tests/support/database';
import { TESTER } from '../tests/support/scenario';

const RUNS = Number(process.argv[2] ?? 50_000);
const CHUNK = 1_000;
const TIMES = 60;
const PIPELINES = ['one', 'two', 'three'];
const PAGE = { offset: 0, limit: 50 };
const FILTERS: readonly [string, RunFilter][] = [['first page', {}], ['one pipeline', { pipeline: 'two' }], ['one state', { state: 'finished' }], ['stranded', { state: 'stranded' }], ['pipeline and state', { pipeline: 'three', state: 'finished' }]];

const at = (list: number[], share: number): number => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0;

async function timed(work: () => Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  for (let turn = 0; turn < TIMES; turn += 1) {
    const begun = performance.now();
    await work();
    times.push(performance.now() - begun);
  }
  return times;
}

async function measure(bed: TestBed): Promise<Map<string, number>> {
  const figures = new Map<string, number>();
  for (const [name, filter] of FILTERS) figures.set(`Runs, ${name}`, at(await timed(() => tallyRuns(bed.services, filter, PAGE)), 0.95));
  figures.set('claim', at(await timed(() => claimOne(bed)), 0.95));
  return figures;
}

/** A run comes, is claimed alone, and is done. */
async function claimOne(bed: TestBed): Promise<void> {
  const { db } = bed.services.store;
  for (const claim of await claimRuns(db, 'bench', 1, 60_000)) await moveClaimed(db, claim, { to: 'finished' });
}

async function fill(bed: TestBed): Promise<void> {
  const { pool } = bed.services.store;
  for (let from = 0; from < RUNS; from += CHUNK) {
    const rows = Array.from({ length: CHUNK }, (_, index) => ({ run: newId(), document: newId(), pipeline: PIPELINES[(from + index) % PIPELINES.length] ?? '', age: RUNS - from - index }));
    const moment = (age: number): string => new Date(Date.now() - age * 60_000).toISOString().replace('T', ' ').replace('Z', '');
    await pool.query('INSERT INTO document (id, event_id, part, sha256, file_name, media_type, size, source_key, pipeline_key, received_at, run_id) VALUES ?', [rows.map((row) => [row.document, row.document, 0, row.run.padEnd(64, '0'), `paper-${row.age}.pdf`, 'application/pdf', 1, 'bench', row.pipeline, moment(row.age), row.run])]);
    await pool.query('INSERT INTO run (id, document_id, pipeline_key, pipeline_version, state, due_at, claim_no, created_at, updated_at, finished_at) VALUES ?', [rows.map((row) => [row.run, row.document, row.pipeline, 1, 'finished', moment(row.age), 1, moment(row.age), moment(row.age), moment(row.age)])]);
    await pool.query('INSERT INTO fact (run_id, step_id, state, result, attempts, spent_ms, took_ms, recorded_at) VALUES ?', [rows.flatMap((row) => ['a', 'b', 'c', 'd', 'e'].map((step) => [row.run, step, 'done', JSON.stringify({ made: 'notes', values: { a: 'b' } }), 1, 0, 1, moment(row.age)]))]);
  }
  await pool.query('ANALYZE TABLE run, fact, document');
}

async function queue(bed: TestBed): Promise<void> {
  for (let number = 0; number < TIMES; number += 1) {
    const document = newId();
    await bed.services.store.pool.query('INSERT INTO document (id, event_id, part, sha256, file_name, media_type, size, source_key, pipeline_key, received_at) VALUES (?, ?, 0, ?, "due.pdf", "application/pdf", 1, "bench", "one", NOW(6))', [document, document, document.padEnd(64, '1')]);
    await insertRun(bed.services.store.db, { id: newId(), documentId: document, pipelineKey: PIPELINES[number % 3] ?? '', pipelineVersion: 1 });
  }
}

const bed = await openTestBed('scale');
try {
  const steps = ['a', 'b', 'c', 'd', 'e'].map((id) => `  - { id: ${id}, do: set, values: { a: b } }`).join('\n');
  for (const key of PIPELINES) await publish(bed.services, TESTER, 'pipeline', `leadline: pipeline/1\nkey: ${key}\nname: ${key}\nsteps:\n${steps}\n`, 'bench');
  await queue(bed);
  const empty = await measure(bed);
  await fill(bed);
  await queue(bed);
  const full = await measure(bed);
  console.log(`\nWith ${RUNS} finished runs of five steps, 95 of 100 answers come within (aims: Runs 150 ms, claim 50 ms):`);
  for (const [name, ms] of full) console.log(`  ${name.padEnd(28)} ${ms.toFixed(1).padStart(7)} ms   ${(ms / Math.max(0.1, empty.get(name) ?? ms)).toFixed(1)} × as with next to none`);
} finally {
  await bed.close();
}
