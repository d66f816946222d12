import Joi from 'joi';
import type { SourceView } from '@/contracts/api';
import { SOURCES } from '@/connectors/registry';
import { scheduleProblem, type Schedule } from '@/core/schedule/schedule';
import type { SourceConnector } from '@/connectors/source';
import { systemClock } from '@/settings/clock';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { deleteSource, listSources, putSource, sourceByKey } from '@/store/queries/sources';
import { Refusal, type Services } from './context';

export async function describeSources(services: Services): Promise<SourceView[]> {
  return (await listSources(services.store.db)).map((row) => ({
    key: row.key,
    name: row.name,
    connector: row.connector,
    connectorName: SOURCES[row.connector]?.name ?? row.connector,
    settings: row.settings as Record<string, unknown>,
    pipeline: row.pipelineKey,
    enabled: row.enabled,
    checkedAt: row.checkedAt === null ? null : isoMoment(row.checkedAt),
    problem: row.problem,
    watched: row.enabled && row.leaseUntil !== null && Date.parse(isoMoment(row.leaseUntil)) > systemClock.nowMs(),
  }));
}

export interface SourceInput {
  readonly key: string;
  readonly name: string;
  readonly connector: string;
  readonly settings: unknown;
  /** Null keeps the one that is there. */
  readonly secret: string | null;
  readonly pipeline: string;
  readonly enabled: boolean;
}

/** Add or change a source. The settings are checked by their connector; a secret is sealed and never shown again. */
export async function saveSource(services: Services, actor: Actor, input: SourceInput): Promise<void> {
  const settings = checkedSettings(input);
  const secret = input.secret === null ? null : services.secrets().seal(input.secret);
  await inTransaction(services.store.db, async (tx) => {
    await putSource(tx, { key: input.key, name: input.name, connector: input.connector, settings, secret, pipelineKey: input.pipeline, enabled: input.enabled });
    await noteAct(tx, actor, { act: 'source saved', on: ['source', input.key], detail: { connector: input.connector, secret: secret === null ? 'kept' : 'set' } });
  });
}

/** Look whether settings work, without saving them. The answer is a sentence. */
export async function trySource(services: Services, input: SourceInput): Promise<string> {
  const settings = checkedSettings(input);
  const kept = input.secret === null ? await sourceByKey(services.store.db, input.key) : null;
  const secret = input.secret ?? (kept?.secret ? services.secrets().open(kept.secret) : null);
  try {
    return await connectorOf(input.connector).tryOut(settings as never, secret);
  } catch (error) {
    throw new Refusal('bad-request', (error as Error).message);
  }
}

export async function removeSource(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteSource(tx, key))) throw new Refusal('not-found', `There is no source “${key}”.`);
    await noteAct(tx, actor, { act: 'source removed', on: ['source', key] });
  });
}

function connectorOf(key: string): SourceConnector<never> {
  const connector = SOURCES[key];
  if (!connector) throw new Refusal('bad-request', `There is no connector “${key}”. Known: ${Object.keys(SOURCES).join(', ')}.`);
  return connector;
}

function checkedSettings(input: SourceInput): unknown {
  const checked = withSchedule(connectorOf(input.connector).schema).validate(input.settings, { abortEarly: false });
  if (checked.error) throw new Refusal('bad-request', `${checked.error.details.map((detail) => detail.message).join('; ')}.`);
  const problem = checked.value.schedule ? scheduleProblem(checked.value.schedule) : null;
  if (problem) throw new Refusal('bad-request', `${problem}.`);
  return checked.value;
}

/** Every source can be looked at by a schedule instead of all the time. */
const withSchedule = (schema: Joi.ObjectSchema): Joi.ObjectSchema<{ schedule?: Schedule }> => schema.keys({ schedule: Joi.object({ cron: Joi.string().trim().max(100).required(), zone: Joi.string().max(60).default('UTC'), missed: Joi.string().valid('catch up', 'skip').default('catch up') }).label('Schedule') });
