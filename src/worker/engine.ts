import { DEFAULT_BUDGET } from '@/core/resilience/backoff';
import type { Engine } from '@/engine/engine';
import type { Services } from '@/services/context';
import { withContent } from '@/services/content';
import { elsewhereFor, marksOf } from '@/services/elsewhere';
import { outsideOf } from '@/services/outside';
import { paperOf } from '@/services/papers';
import { sortFile } from '@/services/sorting';
import { readAs } from '@/services/reading';
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
    content: (row) => withContent(services, row),
    read: async (kind, sha256) => readAs(services, kind, { sha256, paper: await paperOf(services, sha256, kind.cleanUp) }, 'ask and come back'),
    pages: async (sha256, kind) => (await paperOf(services, sha256, kind.cleanUp)).pages,
    sort: (request) => sortFile(services, request),
    elsewhere: (kind, readings, about) => elsewhereFor(services, kind, readings, about),
    marks: marksOf,
    pipeline: async (key, version) => (await services.pinned('pipeline', key, version))?.definition ?? null,
    outside: outsideOf(services),
    exclusive: (name, work) => withLock(pool, name, LOCK_SECONDS, work),
    workbookFolder: services.workbookFolder,
    url: services.settings.url,
    budget: DEFAULT_BUDGET,
    chance: systemChance,
    clock: systemClock,
  };
}
