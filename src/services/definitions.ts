import { desc, eq, isNotNull, and } from 'drizzle-orm';
import type { KindTally, KindView } from '@/contracts/api';
import { parseKind, parsePipeline, type Parsed } from '@/core/definition/parse';
import { inTransaction, isoMoment, type Queries } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition, listDefinitions, publishDefinition, type DefinitionOf, type Published } from '@/store/queries/definitions';
import { runById } from '@/store/queries/runs';
import { document } from '@/store/schema';
import type { KindDefinition } from '@/core/reading/kind';
import { Refusal, type Services } from './context';
import { knownOf } from './documents';

/** Publish a kind or a pipeline from its file. Returns key and version; the version stays when nothing changed. */
export async function publish(services: Services, actor: Actor, type: 'kind' | 'pipeline', yaml: string, note: string): Promise<{ key: string; version: number }> {
  return inTransaction(services.store.db, async (tx) => {
    const { key, version } = await (type === 'kind' ? publishAs(tx, 'kind', parseKind(yaml), { yaml, note, by: actor.name }) : publishAs(tx, 'pipeline', parsePipeline(yaml), { yaml, note, by: actor.name }));
    await noteAct(tx, actor, { act: 'published', on: [type, key], detail: { version, note } });
    return { key, version };
  });
}

/** Publish the text of a pipeline under its own key; a new key makes a new pipeline. */
export async function publishPipeline(services: Services, actor: Actor, key: string, yaml: string, note: string): Promise<{ key: string; version: number }> {
  const parsed = parsePipeline(yaml);
  if (parsed.ok && parsed.definition.key !== key) throw new Refusal('bad-request', `This is the pipeline “${key}”; the text says “${parsed.definition.key}”. Change its key back, or begin a new pipeline.`);
  return publish(services, actor, 'pipeline', yaml, note || 'Changed on screen');
}

async function publishAs<T extends 'kind' | 'pipeline'>(tx: Queries, type: T, parsed: Parsed<DefinitionOf[T]>, about: { yaml: string; note: string; by: string }): Promise<{ key: string; version: number }> {
  const definition = valid(parsed);
  return { key: definition.key, version: await publishDefinition(tx, type, { ...about, definition }) };
}

function valid<T>(parsed: Parsed<T>): T {
  if (parsed.ok) return parsed.definition;
  throw new Refusal('bad-request', parsed.mistakes.map((mistake) => `Line ${mistake.line}, column ${mistake.column}: ${mistake.text}`).join('\n'));
}

const kindView = (kind: Published<KindDefinition>): KindView => ({ key: kind.key, name: kind.name, version: kind.version, publishedAt: isoMoment(kind.publishedAt), note: kind.note, definition: kind.definition, yaml: kind.yaml });

export const describeKinds = async (services: Services): Promise<KindView[]> => (await listDefinitions(services.store.db, 'kind')).map(kindView);

export async function describeKind(services: Services, key: string): Promise<KindView> {
  const kind = await findDefinition(services.store.db, 'kind', key);
  if (!kind) throw new Refusal('not-found', `There is no document kind “${key}”.`);
  return kindView(kind);
}

/** What was read of the newest documents of a kind. */
export async function tallyKind(services: Services, key: string, most: number): Promise<KindTally> {
  const { db } = services.store;
  await describeKind(services, key);
  const rows = await db.select().from(document).where(and(eq(document.kindKey, key), isNotNull(document.runId))).orderBy(desc(document.id)).limit(most);
  const documents = rows.map(async (row) => {
    const run = row.runId === null ? null : await runById(db, row.runId);
    const known = run ? await knownOf(services, run) : null;
    return known?.reading ? [{ id: row.id, fileName: row.fileName, layout: known.reading.layout, readings: known.readings, reading: known.reading }] : [];
  });
  return { documents: (await Promise.all(documents)).flat() };
}
