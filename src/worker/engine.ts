import { DEFAULT_BUDGET } from '@/core/resilience/backoff';
import type { Engine } from '@/engine/engine';
import type { Services } from '@/services/context';
import { systemClock } from '@/settings/clock';
import { systemChance } from '@/settings/random';
import { withLock } from '@/store/lock';

/** How long a write waits for a workbook that another worker writes to, seconds. */
const LOCK_SECONDS = 30;

/** The engine of a worker, put together from its services. */
export function engineFrom(services: Services): Engine {
  const { db, pool } = services.store;
  return {
    db,
    kind: services.kind,
    pipeline: async (key, version) => (await services.pinned('pipeline', key, version))?.definition ?? null,
    exclusive: (name, work) => withLock(pool, name, LOCK_SECONDS, work),
    workbookFolder: services.workbookFolder,
    url: services.settings.url,
    budget: DEFAULT_BUDGET,
    chance: systemChance,
    clock: systemClock,
  };
}
