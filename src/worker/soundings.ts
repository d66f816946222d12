import type { Services } from '@/services/context';
import { workSounding } from '@/services/soundings';
import { pause } from '@/settings/clock';

/** Pause between two looks for a sounding that waits, ms. */
const IDLE_MS = 1_000;

/** Measure kinds as they are asked for, one at a time, until the signal fires. Never rejects: the database may come and go. */
export async function soundingLoop(services: Services, options: { readonly workerId: string; readonly leaseMs: number; readonly say: (line: string) => void }, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const worked = await workSounding(services, options.workerId, options.leaseMs).catch((error: unknown) => {
      options.say(`Soundings cannot be looked up now (${(error as Error).message.slice(0, 120)}); trying again.`);
      return false;
    });
    if (!worked) await pause(IDLE_MS, signal);
  }
}
