import Decimal from 'decimal.js';
import pLimit from 'p-limit';
import type { SoundingDetail, SoundingView } from '@/contracts/workbench';
import { judge } from '@/core/measuring/compare';
import { soundingOf, type SoundedSample } from '@/core/measuring/sounding';
import { DEFAULT_TARGET, type Target } from '@/core/measuring/threshold';
import type { FieldDefinition, KindDefinition } from '@/core/reading/kind';
import { withoutSample } from '@/core/teaching/teach';
import type { Sample } from '@/core/teaching/sample';
import { chooseTier, tierScore, withTier, type TierChoice, type TierScore } from '@/core/measuring/tiers';
import type { Offers } from '@/contracts/reading-service';
import { pause, systemClock } from '@/settings/clock';
import { newId } from '@/settings/identifier';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { sampleById, samplesOf } from '@/store/queries/samples';
import { claimSounding, finishSounding, insertSounding, soundingById, soundingProgress, soundingsOf, type SoundingRow } from '@/store/queries/soundings';
import { Refusal, type Services } from './context';
import { openConnection } from './connections';
import { readAs } from './reading';
import { samplePaper, sampleSet } from './samples';
import { keepKindDraft, workingKind } from './workbench';

/** Ask for a sounding of the draft, or of the published version where there is none. A worker takes it up. */
export async function askSounding(services: Services, actor: Actor, key: string, target: Target = DEFAULT_TARGET): Promise<string> {
  const { definition, revision, version } = await workingKind(services, key);
  const confirmed = (await samplesOf(services.store.db, key)).filter((row) => row.state === 'confirmed' && row.problem === null);
  if (confirmed.length === 0) throw new Refusal('conflict', 'There is no confirmed sample to measure with. Confirm the values of one first.');
  const id = newId();
  await inTransaction(services.store.db, async (tx) => {
    await insertSounding(tx, { id, kindKey: key, definition, version: revision === 0 ? version : null, target, samplesAll: confirmed.length, askedBy: actor.name });
    await noteAct(tx, actor, { act: 'sounding asked for', on: ['kind', key], detail: { sounding: id } });
  });
  return id;
}

const view = (row: SoundingRow): SoundingView => ({ id: row.id, kind: row.kindKey, version: row.version, state: row.state, done: row.samplesDone, all: row.samplesAll, target: row.target, failure: row.failure, askedAt: isoMoment(row.askedAt), finishedAt: row.finishedAt === null ? null : isoMoment(row.finishedAt), result: row.result?.sounding ?? null });

export const listSoundings = async (services: Services, key: string): Promise<SoundingView[]> => (await soundingsOf(services.store.db, key, 20)).map(view);

export async function openSounding(services: Services, id: string): Promise<SoundingDetail> {
  const { db } = services.store;
  const row = await soundingById(db, id);
  if (!row) throw new Refusal('not-found', 'There is no such sounding.');
  const names = new Map((await samplesOf(db, row.kindKey)).map((sample) => [sample.id, sample.fileName]));
  const before = (await soundingsOf(db, row.kindKey, 50)).find((other) => other.id < row.id && other.version !== null && other.state === 'done');
  return { ...view(row), kindDefinition: row.definition, tiers: row.result?.tiers ?? null, perSample: (row.result?.perSample ?? []).map((sample) => ({ ...sample, fileName: names.get(sample.name) ?? 'a sample that was removed' })), before: before ? view(before) : null };
}

/** Take up one waiting sounding, if there is any, and measure it. Returns whether there was one. */
export async function workSounding(services: Services, workerId: string, leaseMs: number): Promise<boolean> {
  const { db } = services.store;
  const row = await claimSounding(db, workerId, leaseMs);
  if (!row) return false;
  try {
    const measured = await measure(services, row, workerId, leaseMs);
    if (measured) await finishSounding(db, row.id, workerId, { result: { sounding: soundingOf(row.definition, measured.samples, row.target), perSample: measured.samples, tiers: measured.tiers }, all: measured.samples.length });
  } catch (error) {
    await finishSounding(db, row.id, workerId, { failure: `It could not be finished: ${(error as Error).message}` });
  }
  return true;
}

/** Null when another worker has taken it over. A sample removed meanwhile is left out. */
async function measure(services: Services, row: SoundingRow, workerId: string, leaseMs: number): Promise<{ samples: SoundedSample[]; tiers: TierChoice | null } | null> {
  const { db } = services.store;
  const rows = (await samplesOf(db, row.kindKey)).filter((sample) => sample.state === 'confirmed' && sample.problem === null);
  const samples = await sampleSet(services, rows, row.definition);
  const hashes = new Map(rows.map((sample) => [sample.id, sample.sha256]));
  const sounded: SoundedSample[] = [];
  for (const sample of samples) {
    if (!(await sampleById(db, sample.name))) continue;
    sounded.push(await soundSample(services, row.definition, sample, samples, hashes.get(sample.name) ?? ''));
    if (!(await soundingProgress(db, row.id, workerId, sounded.length, leaseMs))) return null;
    await pause(0);
  }
  return { samples: sounded, tiers: row.target.tiers ? await compareTiers(services, row, { samples, hashes, keepAlive: () => soundingProgress(db, row.id, workerId, sounded.length, leaseMs) }) : null };
}

/** Reading counts from the pages' words; what a picture costs to recognise is the same for every kind. */
async function soundSample(services: Services, definition: KindDefinition, sample: Sample, all: readonly Sample[], sha256: string): Promise<SoundedSample> {
  const kind = withoutSample(definition, all, sample.name);
  const begun = systemClock.nowMs();
  const reading = await readAs(services, kind, { sha256, paper: await samplePaper(services, sha256, kind.cleanUp) }, 'ask');
  const cost = (reading.costs ?? []).reduce((sum, one) => sum.plus(one.amount), new Decimal(0));
  return { name: sample.name, layout: reading.layout, judged: judge(kind, reading, sample.truth), tookMs: systemClock.nowMs() - begun, cost: cost.toNumber() };
}

/** Samples that are read at once. */
const ASKED_AT_ONCE = 6;

interface Comparing {
  readonly samples: readonly Sample[];
  readonly hashes: ReadonlyMap<string, string>;
  readonly keepAlive: () => Promise<boolean>;
}

/** The same samples without a service and with each of the tiers that the kind's first service offers. */
async function compareTiers(services: Services, row: SoundingRow, { samples, hashes, keepAlive }: Comparing): Promise<TierChoice | null> {
  const [use] = row.definition.services ?? [];
  if (!use) return null;
  const connection = await openConnection(services, 'reading-service', use.service);
  const offered = ((connection?.offers as Offers | null)?.tiers ?? []).map((tier) => ({ name: tier.name, price: tier.pricePerPage }));
  const scores: TierScore[] = [];
  for (const tier of [null, ...offered]) {
    const kind = withTier(row.definition, tier);
    if (!(await keepAlive())) return null;
    // A service thinks while others are asked.
    const atOnce = pLimit(ASKED_AT_ONCE);
    const sounded = await Promise.all(samples.map((sample) => atOnce(() => soundSample(services, kind, sample, samples, hashes.get(sample.name) ?? ''))));
    scores.push(tierScore(kind, tier, sounded, row.target));
  }
  return chooseTier(scores, row.target);
}

/** Put the thresholds that a sounding guarantees into the draft; fields without a guarantee stay as they are. Returns how many were set. */
export async function takeThresholds(services: Services, actor: Actor, id: string): Promise<{ set: number; left: number }> {
  const row = await soundingById(services.store.db, id);
  const fields = row?.result?.sounding.fields;
  if (!row || !fields) throw new Refusal('conflict', 'This sounding has no result yet.');
  const { definition, revision } = await workingKind(services, row.kindKey);
  const found = new Map(fields.flatMap((field) => (field.guarantee.ok ? [[field.field, field.guarantee.point.threshold] as const] : [])));
  const withThreshold = (field: FieldDefinition, key: string): FieldDefinition => {
    const threshold = found.get(key);
    return threshold === undefined ? field : { ...field, threshold };
  };
  const next: KindDefinition = { ...definition, fields: definition.fields.map((field) => withThreshold(field, field.key)), tables: definition.tables.map((table) => ({ ...table, columns: table.columns.map((column) => withThreshold(column, `${table.key}.${column.key}`)) })) };
  await keepKindDraft(services, actor, row.kindKey, { revision, definition: next });
  return { set: found.size, left: fields.length - found.size };
}

/** Put a tier that was compared into the draft; null: do without the service. */
export async function takeTier(services: Services, actor: Actor, id: string, tier: string | null): Promise<void> {
  const row = await soundingById(services.store.db, id);
  const score = row?.result?.tiers?.scores.find((candidate) => candidate.tier === tier);
  if (!row || !score) throw new Refusal('conflict', 'This tier was not compared in this sounding.');
  const { definition, revision } = await workingKind(services, row.kindKey);
  await keepKindDraft(services, actor, row.kindKey, { revision, definition: withTier(definition, tier === null ? null : { name: tier, price: score.price }) });
}

/** Is the newest published version measured? The demo asks for it once. */
export async function soundOnce(services: Services, actor: Actor, key: string): Promise<void> {
  const published = await findDefinition(services.store.db, 'kind', key);
  const known = await soundingsOf(services.store.db, key, 20);
  if (published && !known.some((row) => row.version === published.version)) await askSounding(services, actor, key);
}
