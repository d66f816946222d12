import Joi from 'joi';
import type { ConnectionView } from '@/contracts/api';
import type { Breaker } from '@/core/resilience/breaker';
import type { FlowLimits } from '@/core/resilience/flow';
import type { Connector } from '@/connectors/connection';
import { CONNECTORS } from '@/connectors/registry';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { connectionByKey, deleteConnection, listConnections, putConnection, setConnectionPaused, type ConnectionRow } from '@/store/queries/connections';
import { Refusal, type Services } from './context';
import { supplied } from './supplied';

export async function describeConnections(services: Services): Promise<ConnectionView[]> {
  return (await listConnections(services.store.db)).map((row) => ({ key: row.key, name: row.name, connector: row.connector, connectorName: CONNECTORS[row.connector]?.name ?? row.connector, settings: row.settings as Record<string, unknown>, offers: row.offers, checkedAt: row.checkedAt === null ? null : isoMoment(row.checkedAt), problem: row.problem ?? restingText(row), paused: row.pausedAt === null ? null : { at: isoMoment(row.pausedAt), by: row.pausedBy ?? '' } }));
}

/** Why a connection is not asked just now. */
function restingText({ breaker }: ConnectionRow): string | null {
  const known = breaker as Breaker | null;
  if (!known || known.state === 'closed') return null;
  return known.state === 'probing' ? 'It failed again and again; one call is trying whether it is back.' : `It failed again and again and is left alone for ${Math.round(known.restMs / 1000)} s; then one call tries whether it is back.`;
}

export interface ConnectionInput {
  readonly key: string;
  readonly name: string;
  readonly connector: string;
  readonly settings: unknown;
  /** Null keeps the one that is there. */
  readonly secret: string | null;
}

/** Add or change a connection. It is tried first, so that what it offers can be chosen from; one that does not work is not kept. */
export async function saveConnection(services: Services, actor: Actor, input: ConnectionInput): Promise<string> {
  const { found, offers, settings } = await attempt(services, input);
  const secret = input.secret === null ? null : services.secrets().seal(input.secret);
  await inTransaction(services.store.db, async (tx) => {
    await supplied(tx, `connection:${input.key}`, actor.name);
    await putConnection(tx, { key: input.key, name: input.name, connector: input.connector, settings, secret, offers });
    await noteAct(tx, actor, { act: 'connection saved', on: ['connection', input.key], detail: { connector: input.connector, secret: secret === null ? 'kept' : 'set' } });
  });
  return found;
}

/** Give a connection another secret; it is tried first, and what waits for it goes on. */
export async function saveSecret(services: Services, actor: Actor, key: string, secret: string): Promise<void> {
  const row = await connectionByKey(services.store.db, key);
  if (!row) throw new Refusal('not-found', `There is no connection “${key}”. Add it under Connections.`);
  await saveConnection(services, actor, { key, name: row.name, connector: row.connector, settings: row.settings, secret });
}

/** Look whether settings work, without saving them. */
export const tryConnection = async (services: Services, input: ConnectionInput): Promise<string> => (await attempt(services, input)).found;

async function attempt(services: Services, input: ConnectionInput): Promise<{ found: string; offers: unknown; settings: unknown }> {
  const connector = connectorOf(input.connector);
  const checked = withLimits(connector.schema).validate(input.settings, { abortEarly: false });
  if (checked.error) throw new Refusal('bad-request', `${checked.error.details.map((detail) => detail.message).join('; ')}.`);
  const kept = input.secret === null ? await connectionByKey(services.store.db, input.key) : null;
  const secret = input.secret ?? secretOf(services, kept);
  try {
    return { ...(await connector.tryOut(checked.value as never, secret)), settings: checked.value };
  } catch (error) {
    throw new Refusal('bad-request', (error as Error).message);
  }
}

export async function removeConnection(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteConnection(tx, key))) throw new Refusal('not-found', `There is no connection “${key}”.`);
    await noteAct(tx, actor, { act: 'connection removed', on: ['connection', key] });
  });
}

/** Pause a connection, or let it go on. Paused, nothing asks it; runs that need it wait and use up no attempts. */
export async function pauseConnection(services: Services, actor: Actor, key: string, paused: boolean): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await setConnectionPaused(tx, key, paused ? actor.name : null))) throw new Refusal('not-found', `There is no connection “${key}”.`);
    await noteAct(tx, actor, { act: paused ? 'paused' : 'let go on', on: ['connection', key] });
  });
}

/** Every connection can be limited in how often and how much at once it is asked. */
const withLimits = (schema: Joi.ObjectSchema) => schema.keys({ perMinute: Joi.number().integer().min(1).max(100_000).label('Calls a minute'), atOnce: Joi.number().integer().min(1).max(1_000).label('Calls at once') });

function connectorOf(key: string): Connector<never> {
  const connector = CONNECTORS[key];
  if (!connector) throw new Refusal('bad-request', `There is no connector “${key}”. Known: ${Object.keys(CONNECTORS).join(', ')}.`);
  return connector;
}

const secretOf = (services: Services, row: ConnectionRow | null): string | null => (row?.secret ? services.secrets().open(row.secret) : null);

/** A connection that can be used: settings, opened secret, limits. */
export interface OpenConnection<Settings> {
  readonly settings: Settings;
  readonly secret: string | null;
  readonly offers: unknown;
  readonly limits: FlowLimits;
}

/** The settings and the opened secret of a connection of a certain sort; null when there is none. */
export async function openConnection<Settings>(services: Services, connector: string, key: string): Promise<OpenConnection<Settings> | null> {
  const row = await connectionByKey(services.store.db, key);
  if (row?.connector !== connector) return null;
  const { perMinute, atOnce } = row.settings as FlowLimits;
  return { settings: row.settings as Settings, secret: secretOf(services, row), offers: row.offers, limits: { perMinute, atOnce } };
}
