import type { Offers } from '@/contracts/reading-service';
import { readingService, type ReadingServiceSettings } from '@/connectors/reading-service/client';
import type { ServiceAnswer } from '@/core/reading/service';
import { StepFailure } from '@/core/resilience/failure';
import { jobOf, noteAnswer, noteAsked, noteJob, type JobKey } from '@/store/queries/connections';
import type { Services } from './context';
import { openConnection } from './connections';
import { guarded } from './guarded';

/**
 * What a service makes of a document. Asked once: the answer is kept, and the number of a job under way too, so that a worker that was
 * killed between submitting and reading the answer does not submit again.
 */
export async function askService(services: Services, { service, tier, sha256 }: { readonly service: string; readonly tier: string; readonly sha256: string }): Promise<ServiceAnswer | null> {
  const { db } = services.store;
  const key: JobKey = { connectionKey: service, tier, sha256 };
  const before = await jobOf(db, key);
  if (before && before.state !== 'asked') return before.answer;
  const connection = await openConnection<ReadingServiceSettings>(services, 'reading-service', service);
  if (!connection) throw new StepFailure('no-such-connection', `“${service}”. Add it under Connections, and the run goes on`, { about: `connection:${service}` });
  await noteAsked(db, key);
  const bytes = await services.blobs.get(sha256);
  const result = await guarded(services, service, connection.limits, () => readingService(connection.settings, connection.secret).read({ bytes, tier, sha256, key: `${service}/${tier}/${sha256}`, job: before?.job ?? null, onJob: async (job) => void (await noteJob(db, key, job)) }));
  const answer: ServiceAnswer | null = result && { fields: result.fields, tables: result.tables, cost: result.cost, currency: (connection.offers as Offers | null)?.currency ?? 'EUR' };
  await noteAnswer(db, key, answer);
  return answer;
}

/** The answer that was given before, without asking: undefined when it never was. */
export async function keptAnswer(services: Services, key: JobKey): Promise<ServiceAnswer | null | undefined> {
  const job = await jobOf(services.store.db, key);
  return job && job.state !== 'asked' ? job.answer : undefined;
}
