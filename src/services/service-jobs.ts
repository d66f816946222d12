import type { Offers } from '@/contracts/reading-service';
import { cancelJob, readingService, type ReadingServiceSettings } from '@/connectors/reading-service/client';
import type { ServiceAnswer } from '@/core/reading/service';
import { StepFailure } from '@/core/resilience/failure';
import { systemClock } from '@/settings/clock';
import { isoMoment } from '@/store/database';
import { hurryRunsOn, jobOf, noteAnswer, noteAsked, noteJob, openJobs, type JobKey, type JobRow } from '@/store/queries/connections';
import { Refusal, type Services } from './context';
import { openConnection } from './connections';
import { guarded } from './guarded';

/** Who asks waits for the answer so long, ms: a run comes back instead, and holds no worker meanwhile. */
const PATIENCE = { waits: 60_000, 'comes back': 1_000 } as const;
/** Longest pause between two looks at a job, ms; the service's word that it is done makes it shorter. */
const LONGEST_PAUSE_MS = 60_000;
/** After so long nobody believes in it any more, ms. */
const LONGEST_JOB_MS = 24 * 3_600_000;

/**
 * What a service makes of a document. Asked once: the answer is kept, and the number of a job under way too, so that a worker that was
 * killed between submitting and reading the answer does not submit again.
 */
export async function askService(services: Services, { service, tier, sha256 }: { readonly service: string; readonly tier: string; readonly sha256: string }, asker: keyof typeof PATIENCE = 'waits'): Promise<ServiceAnswer | null> {
  const { db } = services.store;
  const key: JobKey = { connectionKey: service, tier, sha256 };
  const before = await jobOf(db, key);
  if (before && before.state !== 'asked') return before.answer;
  const connection = await openConnection<ReadingServiceSettings>(services, 'reading-service', service);
  if (!connection) throw new StepFailure('no-such-connection', `“${service}”. Add it under Connections, and the run goes on`, { about: `connection:${service}` });
  await noteAsked(db, key);
  const bytes = await services.blobs.get(sha256);
  const asking = { bytes, tier, sha256, key: `${service}/${tier}/${sha256}`, job: before?.job ?? null, onJob: async (job: string) => void (await noteJob(db, key, job)), patienceMs: PATIENCE[asker], callback: callbackFor(services, key) };
  const result = await guarded(services, service, connection.limits, () => readingService(connection.settings, connection.secret).read(asking)).catch((error: unknown) => Promise.reject(slower(error, before)));
  const answer: ServiceAnswer | null = result && { fields: result.fields, tables: result.tables, cost: result.cost, currency: (connection.offers as Offers | null)?.currency ?? 'EUR' };
  await noteAnswer(db, key, answer);
  return answer;
}

/** The longer a job takes, the longer is waited until the next look. */
function slower(error: unknown, before: JobRow | null): unknown {
  if (!(error instanceof StepFailure) || error.failure.code !== 'service-slow') return error;
  const sinceMs = before ? systemClock.nowMs() - Date.parse(isoMoment(before.askedAt)) : 0;
  if (sinceMs > LONGEST_JOB_MS) return new StepFailure('service-refused', `${error.message}. It has had the document for a day; ask its operator, then refloat`);
  return new StepFailure('service-slow', error.message, { retryAfterMs: Math.min(LONGEST_PAUSE_MS, Math.max(error.failure.retryAfterMs ?? 0, sinceMs / 3, 1_000)) });
}

const doneText = ({ connectionKey, tier, sha256 }: JobKey): string => `job ${connectionKey} ${tier} ${sha256} is done`;

/** An address of ours that only we can have made; whoever has it can do no more than make us look sooner. */
function callbackFor(services: Services, key: JobKey): string {
  const query = new URLSearchParams({ connection: key.connectionKey, tier: key.tier, document: key.sha256, proof: services.secrets().proof(doneText(key)) });
  return `${services.settings.url.replace(/\/+$/, '')}/api/v1/callbacks/jobs?${query.toString()}`;
}

/** A service says that a job is done: the runs that wait for it look now. Returns how many. */
export async function jobIsDone(services: Services, key: JobKey, proof: string): Promise<number> {
  if (!services.secrets().proves(proof, doneText(key))) throw new Refusal('not-found', 'This address was not made here.');
  return hurryRunsOn(services.store.db, key.sha256);
}

/** Nobody waits for the jobs of a document any more. Whether the service stops or not does not matter. */
export async function cancelJobsOf(services: Services, sha256: string): Promise<void> {
  for (const { connectionKey, job } of await openJobs(services.store.db, sha256)) {
    const connection = await openConnection<ReadingServiceSettings>(services, 'reading-service', connectionKey);
    if (connection && job !== null) await cancelJob(connection.settings, connection.secret, job);
  }
}

/** The answer that was given before, without asking: undefined when it never was. */
export async function keptAnswer(services: Services, key: JobKey): Promise<ServiceAnswer | null | undefined> {
  const job = await jobOf(services.store.db, key);
  return job && job.state !== 'asked' ? job.answer : undefined;
}
