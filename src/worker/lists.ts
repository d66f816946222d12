import type { Services } from '@/services/context';
import { syncDueLists } from '@/services/reference-lists';
import { pause } from '@/settings/clock';

/** Pause between two looks for lists whose time has come, ms; the shortest interval is a minute. */
const IDLE_MS = 20_000;

/** Sync lists of reference data when their time has come, until the signal fires. Never rejects: the database may come and go. */
export async function listLoop(services: Services, say: (line: string) => void, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    await syncDueLists(services).catch((error: unknown) => say(`Lists cannot be synced now (${(error as Error).message.slice(0, 120)}); trying again.`));
    await pause(IDLE_MS, signal);
  }
}
