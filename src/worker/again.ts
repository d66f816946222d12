import { pause } from '@/settings/clock';

/**
 * Do something again and again until the signal fires: at once while it finds something to do (true), else after a pause of `idleMs`.
 * Never rejects: the database may come and go. `trouble` begins the sentence that is said then.
 */
export async function again(trouble: string, idleMs: number, work: () => Promise<unknown>, say: (line: string) => void, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const found = await work().catch((error: unknown) => {
      say(`${trouble} now (${(error as Error).message.slice(0, 120)}); trying again.`);
      return false;
    });
    if (found !== true) await pause(idleMs, signal);
  }
}
