import type { PipelineView } from '@/contracts/api';
import { parsePipeline } from '@/core/definition/parse';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { allPipelineDrafts, pipelineSwitches, setPaused, setPriority } from '@/store/queries/pipelines';
import { countByPipeline } from '@/store/queries/runs';
import { Refusal, type Services } from './context';
import { namesOf, stepViews } from './runs';
import { describeSources } from './sources';
import { startsOf } from './surroundings';

/** Every pipeline, published or only begun, with what is under way in it. */
export async function describePipelines(services: Services): Promise<PipelineView[]> {
  const { db } = services.store;
  const [pipelines, drafts, sources, counts, switches, nameOf] = await Promise.all([listDefinitions(db, 'pipeline'), allPipelineDrafts(db), describeSources(services), countByPipeline(db), pipelineSwitches(db), namesOf(services)]);
  const shared = (key: string) => {
    const own = switches.find((row) => row.pipelineKey === key);
    return { key, hasDraft: drafts.some((draft) => draft.pipelineKey === key), sources: sources.filter((source) => source.pipeline === key), startedBy: pipelines.filter(({ definition }) => startsOf(definition).some((step) => step.pipeline === key)).map(({ name }) => name), counts: counts.get(key) ?? {}, paused: own?.pausedAt ? { at: isoMoment(own.pausedAt), by: own.pausedBy ?? '' } : null, priority: own?.priority ?? 0 };
  };
  const published = pipelines.map((pipeline): PipelineView => ({
    ...shared(pipeline.key), name: pipeline.name, description: pipeline.definition.description ?? '', version: pipeline.version, publishedAt: isoMoment(pipeline.publishedAt), note: pipeline.note, yaml: pipeline.yaml, steps: stepViews(pipeline.definition, nameOf),
  }));
  const begun = drafts.filter((draft) => !pipelines.some((pipeline) => pipeline.key === draft.pipelineKey)).map((draft): PipelineView => {
    const parsed = parsePipeline(draft.yaml, 'draft');
    return { ...shared(draft.pipelineKey), name: parsed.ok ? parsed.definition.name : draft.pipelineKey, description: parsed.ok ? (parsed.definition.description ?? '') : '', version: null, publishedAt: null, note: '', yaml: draft.yaml, steps: parsed.ok ? stepViews(parsed.definition, nameOf) : [] };
  });
  return [...published, ...begun].sort((a, b) => a.name.localeCompare(b.name));
}

export async function describePipeline(services: Services, key: string): Promise<PipelineView> {
  const pipeline = (await describePipelines(services)).find((candidate) => candidate.key === key);
  if (!pipeline) throw new Refusal('not-found', `There is no pipeline “${key}”.`);
  return pipeline;
}

/** Pause a pipeline, or let it go on. Paused, documents still arrive and wait; runs under way finish the step they are at. */
export async function pausePipeline(services: Services, actor: Actor, key: string, paused: boolean): Promise<void> {
  if (!(await findDefinition(services.store.db, 'pipeline', key))) throw new Refusal('not-found', `There is no published pipeline “${key}”.`);
  await inTransaction(services.store.db, async (tx) => {
    await setPaused(tx, key, paused, actor.name);
    await noteAct(tx, actor, { act: paused ? 'paused' : 'let go on', on: ['pipeline', key] });
  });
}

/** How large a share of the workers it gets where several want them; each step doubles it. */
export async function rankPipeline(services: Services, actor: Actor, key: string, priority: number): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    await setPriority(tx, key, priority);
    await noteAct(tx, actor, { act: 'priority set', on: ['pipeline', key], detail: { priority } });
  });
}
