import type { Engine } from '@/engine/engine';
import type { Services } from '@/services/context';
import { seededChance } from '@/settings/random';
import { systemClock } from '@/settings/clock';
import { withLock } from '@/store/lock';

/** An engine on a test bed; quick retries, and whatever else a test wants to be otherwise. */
export function testEngine(services: Services, changes: Partial<Engine> = {}): Engine {
  const { db, pool } = services.store;
  return {
    db,
    kind: services.kind,
    pipeline: async (key, version) => (await services.pinned('pipeline', key, version))?.definition ?? null,
    exclusive: (name, work) => withLock(pool, name, 10, work),
    workbookFolder: services.workbookFolder,
    url: 'http://127.0.0.1:1',
    budget: { baseMs: 1, capMs: 5, attempts: 3, totalMs: 60_000 },
    chance: seededChance(1),
    clock: systemClock,
    ...changes,
  };
}
