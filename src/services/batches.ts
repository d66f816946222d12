import type { BatchDetail, BatchFrom, BatchLook, BatchView } from '@/contracts/batches';
import { MOST_IN_BATCH, type BatchPlace, type Waiting } from '@/connectors/batch';
import { PLACES } from '@/connectors/registry';
import { forecast } from '@/core/measuring/forecast';
import { newId } from '@/settings/identifier';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { batchById, countDocuments, countItems, countWorkers, insertBatch, moveBatch, newestBatches, pastOf, type BatchRow } from '@/store/queries/batches';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { sourceByKey } from '@/store/queries/sources';
import type { BatchState } from '@/store/states';
import { Refusal, type Services } from './context';

/** A place with what is needed to reach it. */
export interface OpenPlace {
  readonly place: BatchPlace<never>;
  readonly settings: never;
  readonly secret: string | null;
}

interface Named {
  readonly key: string;
  readonly sourceKey: string | null;
  readonly name: string;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly watched: boolean;
}

async function namedFrom(services: Services, from: BatchFrom): Promise<Named> {
  if ('folder' in from) return { key: 'folder', sourceKey: null, name: `Folder ${from.folder}`, settings: { path: from.folder }, watched: false };
  if ('addresses' in from) return { key: 'addresses', sourceKey: null, name: `${from.addresses.length} ${from.addresses.length === 1 ? 'address' : 'addresses'}`, settings: { addresses: from.addresses }, watched: false };
  const source = await sourceByKey(services.store.db, from.source);
  if (!source) throw new Refusal('not-found', `There is no source “${from.source}”.`);
  return { key: source.connector, sourceKey: source.key, name: source.name, settings: {}, watched: source.enabled };
}

/** The place of a batch, opened. The settings of a source are those it has now. */
export async function openPlace(services: Services, { key, sourceKey, settings }: Pick<Named, 'key' | 'sourceKey' | 'settings'>): Promise<OpenPlace> {
  const source = sourceKey === null ? null : await sourceByKey(services.store.db, sourceKey);
  if (sourceKey !== null && !source) throw new Refusal('not-found', `The source “${sourceKey}” is not there any more.`);
  const place = PLACES[key];
  if (!place) throw new Refusal('bad-request', `“${key}” cannot be worked through as a batch.`);
  const checked = place.schema.validate(source?.settings ?? settings);
  if (checked.error) throw new Refusal('bad-request', `${checked.error.message}.`);
  return { place, settings: checked.value as never, secret: source?.secret ? services.secrets().open(source.secret) : null };
}

async function waitingAt(services: Services, named: Named): Promise<readonly Waiting[]> {
  const { place, settings, secret } = await openPlace(services, named);
  return place.waiting(settings, secret).catch((error: unknown) => Promise.reject(new Refusal('bad-request', (error as Error).message)));
}

/** Documents of the past on which a forecast rests. */
const PAST = 200;

/** What waits at a place now, and what working through it is expected to take. Nothing is taken. */
export async function lookAtPlace(services: Services, from: BatchFrom, pipeline: string): Promise<BatchLook> {
  const { db } = services.store;
  const named = await namedFrom(services, from);
  const [items, past, workers] = await Promise.all([waitingAt(services, named), pastOf(db, { pipeline }, PAST), countWorkers(db)]);
  return { items, expected: forecast(past, items.length, workers), watched: named.watched };
}

export interface BatchInput {
  readonly from: BatchFrom;
  readonly pipeline: string;
  /** Which of those that wait, as they were shown; null: all. */
  readonly refs: readonly string[] | null;
  /** How many are taken before somebody says go on; null: all. */
  readonly first: number | null;
}

/** Begin a batch. What was chosen is listed anew, so that nothing is promised that has gone meanwhile. */
export async function beginBatch(services: Services, actor: Actor, input: BatchInput): Promise<string> {
  const named = await namedFrom(services, input.from);
  if (named.watched) throw new Refusal('conflict', `“${named.name}” is watched, and takes what arrives by itself. Switch it off under Connections first.`);
  if (!(await findDefinition(services.store.db, 'pipeline', input.pipeline))) throw new Refusal('not-found', `No pipeline “${input.pipeline}” is published.`);
  const chosen = input.refs === null ? null : new Set(input.refs);
  const items = (await waitingAt(services, named)).filter(({ ref }) => chosen === null || chosen.has(ref)).slice(0, MOST_IN_BATCH);
  if (items.length === 0) throw new Refusal('conflict', 'Nothing of what was chosen waits there any more.');
  const id = newId();
  await inTransaction(services.store.db, async (tx) => {
    await insertBatch(tx, { id, name: named.name, pipelineKey: input.pipeline, place: named.key, sourceKey: named.sourceKey, settings: named.settings, released: Math.min(input.first ?? items.length, items.length), begunBy: actor.name }, items);
    await noteAct(tx, actor, { act: 'batch begun', on: ['batch', id], detail: { items: items.length, first: input.first } });
  });
  return id;
}

/** Go on: with so many more, or with all the rest (null). */
export async function goOnWithBatch(services: Services, actor: Actor, id: string, more: number | null): Promise<void> {
  const row = await requireBatch(services, id);
  const all = (await countItems(services.store.db, [id])).reduce((sum, { n }) => sum + n, 0);
  await shift(services, actor, id, { from: ['under way', 'paused'], to: { state: 'under way', released: more === null ? all : Math.min(all, row.released + more), problem: null }, act: 'batch goes on' });
}

/** Take nothing more until somebody says go on; what was taken is worked on to its end. */
export const pauseBatch = (services: Services, actor: Actor, id: string) => shift(services, actor, id, { from: ['under way'], to: { state: 'paused' }, act: 'batch paused' });

/** Leave the rest where it is, for good. */
export const endBatch = (services: Services, actor: Actor, id: string) => shift(services, actor, id, { from: ['under way', 'paused'], to: { state: 'ended', problem: null }, act: 'batch ended' });

async function shift(services: Services, actor: Actor, id: string, { from, to, act }: { from: readonly BatchState[]; to: Parameters<typeof moveBatch>[3]; act: string }): Promise<void> {
  await requireBatch(services, id);
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveBatch(tx, id, from, to))) throw new Refusal('conflict', 'The batch has gone on meanwhile. Look again.');
    await noteAct(tx, actor, { act, on: ['batch', id] });
  });
}

export async function requireBatch(services: Services, id: string): Promise<BatchRow> {
  const row = await batchById(services.store.db, id);
  if (!row) throw new Refusal('not-found', `There is no batch ${id}.`);
  return row;
}

export async function describeBatches(services: Services): Promise<BatchView[]> {
  const rows = await newestBatches(services.store.db, 100);
  const view = await viewer(services, rows);
  return rows.map(view);
}

/** Puts batches into the words of the screens, with what is counted for all of them at once. */
async function viewer(services: Services, rows: readonly BatchRow[]): Promise<(row: BatchRow) => BatchView> {
  const { db } = services.store;
  const [counts, pipelines] = await Promise.all([countItems(db, rows.map(({ id }) => id)), listDefinitions(db, 'pipeline')]);
  return ({ id, name, pipelineKey, place, state, released, problem, begunAt, begunBy }) => {
    const count = (item: string): number => counts.find((one) => one.id === id && one.state === item)?.n ?? 0;
    const [waiting, taken, failed] = [count('waiting'), count('taken'), count('failed')];
    return { id, name, pipeline: { key: pipelineKey, name: pipelines.find(({ key }) => key === pipelineKey)?.name ?? pipelineKey }, place, state, released, items: { all: waiting + taken + failed, waiting, taken, failed }, problem, begunAt: isoMoment(begunAt), begunBy };
  };
}

/** A batch with how far its documents are. What is still to come is expected from its own documents, as soon as it has some. */
export async function describeBatch(services: Services, id: string): Promise<BatchDetail> {
  const { db } = services.store;
  const row = await requireBatch(services, id);
  const [view, documents, own, workers] = await Promise.all([viewer(services, [row]), countDocuments(db, id), pastOf(db, { batch: id }, PAST), countWorkers(db)]);
  const past = own.length > 0 ? own : await pastOf(db, { pipeline: row.pipelineKey }, PAST);
  const batch = view(row);
  return { ...batch, documents: Object.fromEntries(documents.map(({ state, n }) => [state ?? 'none', n])), expected: forecast(past, batch.items.waiting, workers) };
}
