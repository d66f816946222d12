import type { PipelineDraftView } from '@/contracts/api';
import { keyFrom } from '@/core/definition/keys';
import { parsePipeline } from '@/core/definition/parse';
import { pipelineText } from '@/core/definition/write';
import type { PipelineDefinition, Step } from '@/core/pipeline/definition';
import { inTransaction } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { deletePipelineDraft, pipelineDraftOf, savePipelineDraft } from '@/store/queries/pipelines';
import { Refusal, type Services } from './context';
import { publishPipeline } from './definitions';

/** A pipeline as it is being worked on: the draft, or the published version where there is none. */
export async function openPipelineDraft(services: Services, key: string): Promise<PipelineDraftView> {
  const { db } = services.store;
  const [draft, published] = await Promise.all([pipelineDraftOf(db, key), findDefinition(db, 'pipeline', key)]);
  const yaml = draft?.yaml ?? published?.yaml;
  if (yaml === undefined) throw new Refusal('not-found', `There is no pipeline “${key}”.`);
  return { key, yaml, revision: draft?.revision ?? 0, updatedBy: draft?.updatedBy ?? null, published: published ? { version: published.version, yaml: published.yaml } : null };
}

/** Keep what has been changed. Refused when somebody else has changed the draft in the meantime; then nothing is overwritten. */
export async function keepPipelineDraft(services: Services, actor: Actor, key: string, { yaml, revision }: { readonly yaml: string; readonly revision: number }): Promise<{ revision: number }> {
  await inTransaction(services.store.db, async (tx) => {
    if (await savePipelineDraft(tx, { key, yaml, revision, by: actor.name })) return noteAct(tx, actor, { act: 'draft kept', on: ['pipeline', key] });
    const other = await pipelineDraftOf(tx, key);
    throw new Refusal('conflict', other ? `${other.updatedBy} has changed this draft in the meantime. Your changes are still here: copy them as text, load the page again, and put them in.` : 'This draft was published or thrown away in the meantime. Load the page again.');
  });
  return { revision: revision + 1 };
}

export async function dropPipelineDraft(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    await deletePipelineDraft(tx, key);
    await noteAct(tx, actor, { act: 'draft thrown away', on: ['pipeline', key] });
  });
}

/** Publish the draft; it is gone then. */
export async function publishPipelineDraft(services: Services, actor: Actor, key: string, { yaml, note }: { readonly yaml: string; readonly note: string }): Promise<{ key: string; version: number }> {
  const made = await publishPipeline(services, actor, key, yaml, note);
  await deletePipelineDraft(services.store.db, key);
  return made;
}

/** What a pipeline can begin as. */
export type PipelineStart = { readonly from: 'empty' } | { readonly from: 'kind'; readonly kind: string } | { readonly from: 'sorting' } | { readonly from: 'copy'; readonly pipeline: string } | { readonly from: 'yaml'; readonly text: string };

/** Begin a pipeline as a draft. Returns its key, made of its name. */
export async function beginPipeline(services: Services, actor: Actor, name: string, start: PipelineStart): Promise<{ key: string }> {
  const key = await freeKey(services, keyFrom(name, 'pipeline'));
  const definition: PipelineDefinition = { ...(await startOf(services, start)), key, name };
  await keepPipelineDraft(services, actor, key, { yaml: pipelineText(definition), revision: 0 });
  return { key };
}

async function freeKey(services: Services, wanted: string): Promise<string> {
  const { db } = services.store;
  for (let number = 1; number < 100; number += 1) {
    const key = number === 1 ? wanted : `${wanted.slice(0, 58)}-${number}`;
    if (!(await findDefinition(db, 'pipeline', key)) && !(await pipelineDraftOf(db, key))) return key;
  }
  throw new Refusal('conflict', `There are a hundred pipelines called “${wanted}”. Choose another name.`);
}

const REVIEWED: readonly Step[] = [{ id: 'check', do: 'check' }, { id: 'review', do: 'desk', when: { trusted: false } }];

async function startOf(services: Services, start: PipelineStart): Promise<PipelineDefinition> {
  const begun = (steps: readonly Step[]): PipelineDefinition => ({ leadline: 'pipeline/1', key: '', name: '', steps });
  switch (start.from) {
    case 'empty':
      return begun([]);
    case 'sorting':
      return begun([{ id: 'sort', do: 'sort' }, { id: 'read', do: 'read' }, ...REVIEWED]);
    case 'kind':
      if (!(await services.kind(start.kind))) throw new Refusal('bad-request', `There is no published kind “${start.kind}”.`);
      return begun([{ id: 'read', do: 'read', kind: start.kind }, ...REVIEWED]);
    case 'copy': {
      const other = await findDefinition(services.store.db, 'pipeline', start.pipeline);
      if (!other) throw new Refusal('not-found', `There is no published pipeline “${start.pipeline}”.`);
      return other.definition;
    }
    case 'yaml': {
      const parsed = parsePipeline(start.text, 'draft');
      if (!parsed.ok) throw new Refusal('bad-request', parsed.mistakes.map((mistake) => `Line ${mistake.line}, column ${mistake.column}: ${mistake.text}`).join('\n'));
      return parsed.definition;
    }
  }
}
