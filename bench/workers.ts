/**
 * How the work scales with workers: the same runs of five steps by one, two and four worker processes, as ratios of one run. The machine
 * has few cores, and the database shares them: what counts is that more workers do no harm, and how far they help.
 */
import { pause } from '@/settings/clock';
import { countByState } from '@/store/queries/runs';
import { openTestBed } from '../tests/support/database';
import { startEntry, type Started } from '../tests/support/processes';
import { makeReady, queueRuns, secondsOf, type Paper } from './support';

const RUNS = 1_500;
/** Runs before it is measured: each worker loads and compiles. */
const WARM = 600;
const PIPELINES = ['five-steps', 'light'] as const;

/** Runs per second by so many workers; they are ready before the first run is there. */
async function rate(workers: number, pipeline: string): Promise<number> {
  const bed = await openTestBed(`workers${workers}`);
  const started: Started[] = [];
  try {
    const papers: readonly Paper[] = await makeReady(bed);
    for (let count = 0; count < workers; count += 1) started.push(await startEntry('src/worker/main.ts', [], { LEADLINE_DATABASE_URL: bed.databaseUrl, LEADLINE_DATA: bed.dataFolder, LEADLINE_URL: 'http://127.0.0.1:1' }));
    const work = async (count: number, upTo: number) => {
      for (const { process } of started) process.kill('SIGSTOP');
      await queueRuns(bed, pipeline, count, papers);
      return secondsOf(async () => {
        for (const { process } of started) process.kill('SIGCONT');
        while (((await countByState(bed.services.store.db)).finished ?? 0) < upTo) await pause(20);
      });
    };
    // The first ones load and compile.
    await work(WARM, WARM);
    return RUNS / (await work(RUNS, WARM + RUNS));
  } finally {
    for (const worker of started) await worker.kill();
    await bed.close();
  }
}

for (const pipeline of PIPELINES) {
  const one = await rate(1, pipeline);
  for (const workers of [2, 4]) {
    const many = await rate(workers, pipeline);
    console.log(`(d) ${pipeline}: ${workers} workers ÷ 1 worker`.padEnd(62), (many / one).toFixed(2).padStart(6), `  (${many.toFixed(0)} and ${one.toFixed(0)} runs/s)`);
  }
}
