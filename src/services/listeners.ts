import type { ListenerView, TellingView } from '@/contracts/listeners';
import { newWebhookSecret, secretProblem, tellOne } from '@/connectors/webhook/webhook';
import { isExhausted, pauseBefore, type Budget } from '@/core/resilience/backoff';
import { cloudEventOf, type CloudEvent, type NoticeType } from '@/core/telling/notice';
import { systemClock } from '@/settings/clock';
import { newId } from '@/settings/identifier';
import { systemChance } from '@/settings/random';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { allListeners, countTellings, deleteListener, listenerByKey, noticesAfter, noteTold, noteUntold, putListener, spreadNotices, switchListener, takeDueTellings, tellAgain, tellingsOf, type DueTelling, type ListenerRow } from '@/store/queries/notices';
import { Refusal, type Services } from './context';

export async function describeListeners(services: Services): Promise<ListenerView[]> {
  const { db } = services.store;
  const [rows, counts] = await Promise.all([allListeners(db), countTellings(db)]);
  const count = (key: string, state: string) => counts.find((one) => one.key === key && one.state === state)?.n ?? 0;
  return rows.map((row) => ({ key: row.key, name: row.name, url: row.url, types: row.types as NoticeType[], enabled: row.enabled, problem: row.problem, toldAt: row.toldAt === null ? null : isoMoment(row.toldAt), told: count(row.key, 'told'), due: count(row.key, 'due'), givenUp: count(row.key, 'given up') }));
}

export interface ListenerInput {
  readonly key: string;
  readonly name: string;
  readonly url: string;
  readonly types: readonly NoticeType[];
  /** Null: the one that is there, or a new one. */
  readonly secret: string | null;
  readonly enabled: boolean;
}

/** Add or change a listener. Returns a secret that was made here, to be given to the other side; it is not shown again. */
export async function saveListener(services: Services, actor: Actor, input: ListenerInput): Promise<{ secret: string | null }> {
  const problem = input.secret === null ? null : secretProblem(input.secret);
  if (problem) throw new Refusal('bad-request', problem);
  return inTransaction(services.store.db, async (tx) => {
    const kept = input.secret === null ? await listenerByKey(tx, input.key) : null;
    const made = input.secret === null && kept === null ? newWebhookSecret() : null;
    const given = made ?? input.secret;
    const secret = given === null ? (kept as ListenerRow).secret : services.secrets().seal(given);
    await putListener(tx, { key: input.key, name: input.name, url: input.url, types: input.types, secret, enabled: input.enabled });
    await noteAct(tx, actor, { act: 'listener saved', on: ['listener', input.key], detail: { url: input.url, types: input.types, enabled: input.enabled } });
    return { secret: made };
  });
}

export async function removeListener(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteListener(tx, key))) throw new Refusal('not-found', `There is no listener “${key}”.`);
    await noteAct(tx, actor, { act: 'listener removed', on: ['listener', key] });
  });
}

async function requireListener(services: Services, key: string): Promise<ListenerRow> {
  const row = await listenerByKey(services.store.db, key);
  if (!row) throw new Refusal('not-found', `There is no listener “${key}”.`);
  return row;
}

/** Tell a listener something that did not happen, to see whether it listens. Nothing is noted in the log. */
export async function tryListener(services: Services, key: string): Promise<string> {
  const row = await requireListener(services, key);
  const begun = systemClock.nowMs();
  const event: CloudEvent = { specversion: '1.0', id: newId(), source: services.settings.url, type: 'leadline.test', subject: 'test', time: new Date(begun).toISOString(), datacontenttype: 'application/json', data: { text: 'A test. Nothing has happened.' } };
  const hearing = await tellOne({ url: row.url, secret: services.secrets().open(row.secret), id: event.id, payload: JSON.stringify(event), at: new Date(begun) });
  if (!hearing.heard) throw new Refusal('bad-request', hearing.failure.message);
  return `${row.name} took a test event, in ${systemClock.nowMs() - begun} ms.`;
}

/** Tell a listener again what happened since a moment. What it was told before has the same id, so that it can be passed over. */
export async function replay(services: Services, actor: Actor, key: string, since: string): Promise<number> {
  const row = await requireListener(services, key);
  return inTransaction(services.store.db, async (tx) => {
    const count = await tellAgain(tx, key, row.types as NoticeType[], since.replace('T', ' ').replace('Z', ''));
    await noteAct(tx, actor, { act: 'told again', on: ['listener', key], detail: { since, count } });
    return count;
  });
}

export async function describeTellings(services: Services, key: string): Promise<TellingView[]> {
  const row = await requireListener(services, key);
  return (await tellingsOf(services.store.db, row.key, 50)).map(({ telling, notice, fileName }) => ({ id: notice.id, type: notice.type, run: notice.runId, fileName: fileName ?? 'a document that is gone', at: isoMoment(notice.at), state: telling.state, attempts: telling.attempts, toldAt: telling.toldAt === null ? null : isoMoment(telling.toldAt), nextAt: telling.state === 'due' ? isoMoment(telling.dueAt) : null, failure: telling.failure }));
}

/** The log for those who would rather ask than be told: CloudEvents, JSON batch format. */
export async function eventLog(services: Services, { after, types, most }: { after: string; types: readonly NoticeType[]; most: number }): Promise<CloudEvent[]> {
  return (await noticesAfter(services.store.db, { after, types, most })).map((notice) => cloudEventOf(notice, baseOf(services)));
}

const baseOf = ({ settings }: Services): string => settings.url.replace(/\/+$/, '');

/** A receiver may be away for a weekend: sixteen attempts, on average over a day and a half. What is given up stays in the log. */
const BUDGET: Budget = { baseMs: 10_000, capMs: 12 * 3_600_000, attempts: 16, totalMs: Infinity };
/** A telling that a worker has taken is left to it for so long, ms; longer than a call may take. */
const HOLD_MS = 60_000;
const AT_ONCE = 20;

/** Tell what is due. Returns how many tellings were tried. */
export async function tellDue(services: Services): Promise<number> {
  const { db } = services.store;
  await spreadNotices(db, 500);
  const due = await takeDueTellings(db, AT_ONCE, HOLD_MS);
  await Promise.all(due.map((one) => tell(services, one)));
  return due.length;
}

async function tell(services: Services, { notice, listener, attempt }: DueTelling): Promise<void> {
  const { db } = services.store;
  const at = new Date(systemClock.nowMs());
  const hearing = await tellOne({ url: listener.url, secret: services.secrets().open(listener.secret), id: notice.id, payload: JSON.stringify(cloudEventOf(notice, baseOf(services))), at });
  if (hearing.heard) return noteTold(db, listener.key, notice.id);
  if (hearing.gone) await switchListener(db, listener.key, false);
  await noteUntold(db, listener.key, notice.id, { failure: hearing.failure.message, againInMs: hearing.gone ? null : pauseOf(attempt, hearing.failure.retryAfterMs) });
}

const pauseOf = (attempt: number, retryAfterMs: number | undefined): number | null => (isExhausted(BUDGET, { attempts: attempt, spentMs: 0 }) ? null : pauseBefore(attempt + 1, BUDGET, systemChance(), retryAfterMs ?? 0));
