import Joi from 'joi';
import { StepFailure } from '@/core/resilience/failure';
import type { JobState, Offers, ServiceResult } from '@/contracts/reading-service';
import { pause, systemClock } from '@/settings/clock';
import type { Connector } from '../connection';
import { expectOk, jsonOf, request } from '../http/exchange';

export interface ReadingServiceSettings {
  readonly url: string;
}

const [LEAST_PAUSE_MS, MOST_PAUSE_MS] = [100, 5_000];

const value = Joi.object({ value: Joi.string().allow('').max(4000).required(), confidence: Joi.number().min(0).max(1), page: Joi.number().integer().min(1), box: Joi.array().items(Joi.number()).length(4) }).unknown();
const resultSchema = Joi.object<ServiceResult>({ pages: Joi.number().integer().min(0).required(), cost: Joi.string().pattern(/^\d{1,9}(\.\d{1,6})?$/).required(), fields: Joi.object().pattern(Joi.string().max(100), value).default({}), tables: Joi.object().pattern(Joi.string().max(100), Joi.array().items(Joi.object().pattern(Joi.string().max(100), value)).max(5000)).default({}) }).unknown();
const jobSchema = Joi.object({ job: Joi.string().max(200).required(), state: Joi.string().valid('working', 'done', 'failed').required(), pollAfterMs: Joi.number().min(0), result: resultSchema, reason: Joi.string().allow('').max(2000) }).unknown();
const decimal = Joi.string().pattern(/^\d{1,9}(\.\d{1,6})?$/);
const offersSchema = Joi.object<Offers>({
  name: Joi.string().max(200).required(), currency: Joi.string().length(3).required(),
  tiers: Joi.array().items(Joi.object({ name: Joi.string().max(60).required(), about: Joi.string().allow('').max(400).default(''), pricePerPage: decimal.required() }).unknown()).min(1).max(20).required(),
  fields: Joi.array().items(Joi.string().max(100)).max(500).default([]), tables: Joi.array().items(Joi.object({ name: Joi.string().max(100).required(), columns: Joi.array().items(Joi.string().max(100)).max(100).default([]) }).unknown()).max(50).default([]),
}).unknown();

export interface Asking {
  readonly bytes: Buffer;
  readonly tier: string;
  /** The same for the same document at the same tier, however often it is asked: it is paid once. */
  readonly key: string;
  readonly sha256: string;
  /** The job of an earlier attempt; it is asked for instead of submitting again. */
  readonly job: string | null;
  /** Called as soon as the service has taken the job. */
  readonly onJob: (job: string) => Promise<void>;
  /** How long it is waited for here, ms; then it fails as `service-slow`, and the job goes on over there. */
  readonly patienceMs: number;
  /** Where the service may say that the job is done. */
  readonly callback: string | null;
}

/** The client of one service. Every failure is a {@link StepFailure} with a code that says whether to come again. */
export function readingService({ url }: ReadingServiceSettings, secret: string | null) {
  const base = url.replace(/\/+$/, '');
  const call = (path: string, init: RequestInit = {}): Promise<Response> => request(`${base}/v1${path}`, { ...init, headers: { ...(init.headers as Record<string, string>), ...(secret ? { authorization: `Bearer ${secret}` } : {}) } }, base);

  return {
    async offers(): Promise<Offers> {
      return checked(offersSchema, await jsonOf(await expectOk(await call('/offers'), base), base), base);
    },
    /** Null: the service cannot read this document. */
    async read({ bytes, tier, key, sha256, job, onJob, patienceMs, callback }: Asking): Promise<ServiceResult | null> {
      const kept = job === null ? await call(`/readings/${sha256}?tier=${encodeURIComponent(tier)}`) : null;
      if (kept && kept.status !== 404) return checked(resultSchema, await jsonOf(await expectOk(kept, base), base), base);
      const submit = async () => stateFrom(await expectOk(await call(`/jobs?${new URLSearchParams({ tier, ...(callback === null ? {} : { callback }) }).toString()}`, { method: 'POST', body: new Uint8Array(bytes), headers: { 'content-type': 'application/octet-stream', 'idempotency-key': key } }), base));
      const look = async (id: string) => {
        const response = await call(`/jobs/${encodeURIComponent(id)}`);
        // A service that forgot the job is given it again, under the same key.
        return response.status === 404 ? submit() : stateFrom(await expectOk(response, base));
      };
      const stateFrom = async (response: Response): Promise<JobState> => checked(jobSchema, await jsonOf(response, base), base) as JobState;
      let state = job === null ? await submit() : await look(job);
      const begun = systemClock.nowMs();
      let wait = 0;
      for (;;) {
        if (state.job !== job) await onJob(state.job);
        if (state.state === 'done') return state.result;
        if (state.state === 'failed') return null;
        if (systemClock.nowMs() - begun >= patienceMs) throw new StepFailure('service-slow', `${base} is still reading, and is asked again later`, { retryAfterMs: state.pollAfterMs });
        // Growing pauses, never shorter than what the service asked for.
        wait = Math.min(MOST_PAUSE_MS, Math.max(LEAST_PAUSE_MS, state.pollAfterMs ?? 0, wait * 1.5));
        await pause(wait);
        state = await look(state.job);
      }
    },
  };
}

/** Tell a service that nobody waits for a job any more. It may not know how to stop; that does no harm. */
export async function cancelJob({ url }: ReadingServiceSettings, secret: string | null, job: string): Promise<void> {
  const base = url.replace(/\/+$/, '');
  await request(`${base}/v1/jobs/${encodeURIComponent(job)}`, { method: 'DELETE', headers: secret ? { authorization: `Bearer ${secret}` } : {} }, base).catch(() => undefined);
}

/** A well-formed answer with nonsense in it is a fault of the service, and may be another one next time. */
function checked<T>(schema: Joi.ObjectSchema<T>, body: unknown, base: string): T {
  const { error, value: fit } = schema.validate(body);
  if (error) throw new StepFailure('service-down', `${base} (the answer does not keep the contract: ${error.message.slice(0, 200)})`);
  return fit;
}

export const readingServiceConnector: Connector<ReadingServiceSettings> = {
  key: 'reading-service',
  name: 'Reading service',
  secretName: 'Key',
  schema: Joi.object({ url: Joi.string().uri({ scheme: ['http', 'https'] }).max(500).required().label('Address') }),
  async tryOut(settings, secret) {
    const offers = await readingService(settings, secret).offers();
    return { found: `${offers.name} answers: ${offers.tiers.map((tier) => `${tier.name} at ${tier.pricePerPage} ${offers.currency} a page`).join(', ')}.`, offers };
  },
};
