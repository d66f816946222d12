import type { AidSource } from '@/core/reading/aids';
import { alwaysOf } from '@/store/queries/remembered';
import type { Services } from './context';
import type { Paper } from './papers';
import { listsFor } from './reference-lists';
import { secondWords } from './second';
import { askService, keptAnswer } from './service-jobs';

/**
 * Whether services may be asked, which costs something, or only answers count that were given before. `ask and come back`: a job that takes
 * longer is not waited for; the run rests until it is done.
 */
export type Paying = 'ask' | 'ask and come back' | 'kept answers';

/** What reading a file may draw on. */
export function aidsOf(services: Services, { sha256, paper }: { readonly sha256: string; readonly paper: Paper }, paying: Paying): AidSource {
  return {
    lists: (keys) => listsFor(services, keys),
    remembered: (kind) => alwaysOf(services.store.db, kind),
    second: async (number) => {
      const page = paper.pages.find((candidate) => candidate.number === number);
      return page ? secondWords(services, paper.hash, page) : [];
    },
    answer: async (service, tier) => (paying === 'kept answers' ? ((await keptAnswer(services, { connectionKey: service, tier, sha256 })) ?? null) : askService(services, { service, tier, sha256 }, paying === 'ask' ? 'waits' : 'comes back')),
  };
}
