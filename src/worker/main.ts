import os from 'node:os';
import { sql } from 'drizzle-orm';
import { watchSources } from '@/engine/watch-sources';
import { workLoop } from '@/engine/worker-loop';
import { openServices, PROGRAM, type Services } from '@/services/context';
import { workBatch } from '@/services/batch-work';
import { clearAway } from '@/services/keeping';
import { tellDue } from '@/services/listeners';
import { originOf, receive } from '@/services/receive';
import { syncDueLists } from '@/services/reference-lists';
import { workSounding } from '@/services/soundings';
import { systemClock } from '@/settings/clock';
import { newId } from '@/settings/identifier';
import { resolveSettings } from '@/settings/settings';
import { worker } from '@/store/schema';
import { now } from '@/store/database';
import { engineFrom } from './engine';
import { again } from './again';

/** How long a killed worker's runs stay untouched, ms. Shorter in tests. */
const leaseMs = Number(process.argv[2] ?? 20_000);
/** Runs under way at once; most of a run is waiting for the database. */
const CONCURRENCY = 8;

async function main(): Promise<void> {
  const services = openServices(resolveSettings(), 16);
  const workerId = newId();
  const stopping = new AbortController();
  const say = (line: string) => console.log(`${new Date(systemClock.nowMs()).toISOString()} worker ${process.pid}: ${line}`);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => stopping.abort());
  // A demo that was killed leaves no orphan behind: its pipe to us closes.
  if (process.send) process.on('disconnect', () => stopping.abort());
  const engine = engineFrom(services);
  const beat = setInterval(() => void seen(services, workerId).catch(() => undefined), 5_000);
  await seen(services, workerId).catch(() => undefined);
  say('ready');
  await Promise.all([
    workLoop(engine, { workerId, concurrency: CONCURRENCY, leaseMs, idleMs: 250, say }, stopping.signal),
    again('Lists cannot be synced', 20_000, () => syncDueLists(services), say, stopping.signal),
    again('Soundings cannot be looked up', 1_000, () => workSounding(services, workerId, leaseMs), say, stopping.signal),
    again('Listeners cannot be told', 1_000, async () => (await tellDue(services)) > 0, say, stopping.signal),
    again('Batches cannot be looked up', 700, () => workBatch(services, workerId, leaseMs, stopping.signal), say, stopping.signal),
    again('Old things cannot be cleared away', 3_600_000, () => clearAway(services), say, stopping.signal),
    watchSources({ db: services.store.db, workerId, leaseMs, secrets: services.secrets(), clock: systemClock, receive: async (source, arrival) => void (await receive(services, PROGRAM, originOf(source), arrival)), say }, stopping.signal),
  ]);
  clearInterval(beat);
  await services.store.close();
  say('stopped');
}

const seen = (services: Services, id: string) => services.store.db.insert(worker).values({ id, host: os.hostname(), pid: process.pid, startedAt: now, seenAt: now }).onDuplicateKeyUpdate({ set: { seenAt: sql`NOW(6)` } });

await main();
