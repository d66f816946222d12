import type { SoundingDetail, SoundingView } from '@/contracts/workbench';
import { judge } from '@/core/measuring/compare';
import { soundingOf, type SoundedSample } from '@/core/measuring/sounding';
import { DEFAULT_TARGET, type Target } from '@/core/measuring/threshold';
import { readDocument } from '@/core/reading/chain';
import type { FieldDefinition, KindDefinition } from '@/core/reading/kind';
import { withoutSample } from '@/core/teaching/teach';
import { pause, systemClock } from '@/settings/clock';
import { newId } from '@/settings/identifier';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { sampleById, samplesOf } from '@/store/queries/samples';
import { claimSounding, finishSounding, insertSounding, soundingById, soundingProgress, soundingsOf, type SoundingRow } from '@/store/queries/soundings';
import { Refusal, type Services } from './context';
import { sampleSet } from './samples';
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
  return { ...view(row), kindDefinition: row.definition, perSample: (row.result?.perSample ?? []).map((sample) => ({ ...sample, fileName: names.get(sample.name) ?? 'a sample that was removed' })), before: before ? view(before) : null };
}

/** Take up one waiting sounding, if there is any, and measure it. Returns whether there was one. */
export async function workSounding(services: Services, workerId: string, leaseMs: number): Promise<boolean> {
  const { db } = services.store;
  const row = await claimSounding(db, workerId, leaseMs);
  if (!row) return false;
  try {
    const samples = await measure(services, row, workerId, leaseMs);
    if (samples) await finishSounding(db, row.id, workerId, { result: { sounding: soundingOf(row.definition, samples, row.target), perSample: samples }, all: samples.length });
  } catch (error) {
    await finishSounding(db, row.id, workerId, { failure: `It could not be finished: ${(error as Error).message}` });
  }
  return true;
}

/** Null when another worker has taken it over. A sample removed meanwhile is left out. */
async function measure(services: Services, row: SoundingRow, workerId: string, leaseMs: number): Promise<SoundedSample[] | null> {
  const { db } = services.store;
  const rows = (await samplesOf(db, row.kindKey)).filter((sample) => sample.state === 'confirmed' && sample.problem === null);
  const samples = await sampleSet(services, rows);
  const sounded: SoundedSample[] = [];
  for (const sample of samples) {
    if (!(await sampleById(db, sample.name))) continue;
    const kind = withoutSample(row.definition, samples, sample.name);
    const begun = systemClock.nowMs();
    const reading = readDocument(sample.pages, kind);
    sounded.push({ name: sample.name, layout: reading.layout, judged: judge(kind, reading, sample.truth), tookMs: systemClock.nowMs() - begun, cost: 0 });
    if (!(await soundingProgress(db, row.id, workerId, sounded.length, leaseMs))) return null;
    await pause(0);
  }
  return sounded;
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

/** Is the newest published version measured? The demo asks for it once. */
export async function soundOnce(services: Services, actor: Actor, key: string): Promise<void> {
  const published = await findDefinition(services.store.db, 'kind', key);
  const known = await soundingsOf(services.store.db, key, 20);
  if (published && !known.some((row) => row.version === published.version)) await askSounding(services, actor, key);
}
