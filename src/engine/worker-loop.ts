import { pause } from '@/settings/clock';
import { claimRuns, releaseExpired, renewLease, type Claim } from '@/store/queries/runs';
import { advance } from './advance';
import type { Engine } from './engine';
import { ClaimLost } from './journal';

export interface LoopOptions {
  readonly workerId: string;
  /** Runs that one worker has under way at once. */
  readonly concurrency: number;
  /** A worker that is silent for this long has lost its runs, ms. */
  readonly leaseMs: number;
  /** Longest pause between two looks for work, ms; a hint makes it shorter. */
  readonly idleMs: number;
  readonly say: (line: string) => void;
}

/** Claim and advance runs until the signal fires; then finish what is under way. Never rejects: the database may come and go. */
export async function workLoop(engine: Engine, options: LoopOptions, signal: AbortSignal): Promise<void> {
  const active = new Map<string, Promise<void>>();
  let lastSweep = -Infinity;
  while (!signal.aborted) {
    try {
      if (engine.clock.nowMs() - lastSweep > options.leaseMs / 4) {
        const released = await releaseExpired(engine.db);
        if (released > 0) options.say(`${released} run(s) of a silent worker are back in the queue`);
        lastSweep = engine.clock.nowMs();
      }
      const room = options.concurrency - active.size;
      const claims = room > 0 ? await claimRuns(engine.db, options.workerId, room, options.leaseMs) : [];
      for (const claim of claims) active.set(claim.runId, work(engine, claim, options).finally(() => active.delete(claim.runId)));
      if (active.size >= options.concurrency) await Promise.race(active.values());
      else if (claims.length === 0) await Promise.race([pause(options.idleMs, signal), ...active.values()]);
    } catch (error) {
      options.say(`The database cannot be asked now (${(error as Error).message.slice(0, 120)}); trying again.`);
      await pause(options.idleMs * 2, signal);
    }
  }
  await Promise.allSettled(active.values());
}

/** One claim from beginning to end, with its heartbeat. Whatever happens, the run is safe: its facts or its lease decide. */
async function work(engine: Engine, claim: Claim, options: LoopOptions): Promise<void> {
  const lost = new AbortController();
  const heartbeat = setInterval(() => {
    renewLease(engine.db, claim, options.leaseMs).then(
      (ours) => ours || lost.abort(),
      // The database is away; the lease runs out there by its own clock.
      () => undefined,
    );
  }, options.leaseMs / 3);
  try {
    await advance(engine, claim, lost.signal);
  } catch (error) {
    if (error instanceof ClaimLost) options.say(`${error.message}: left to its new worker`);
    else options.say(`Run ${claim.runId} could not be recorded (${(error as Error).message.slice(0, 200)}); it is taken up again when its lease ends.`);
  } finally {
    clearInterval(heartbeat);
  }
}
