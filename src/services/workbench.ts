import { stringify } from 'yaml';
import type { KindListing, SampleView, Workbench, WorkbenchTally } from '@/contracts/workbench';
import { checkDocument } from '@/core/checking/check';
import { keyFrom } from '@/core/definition/keys';
import { parseKind } from '@/core/definition/parse';
import { inspectFile } from '@/digitise/inspect';
import { kindFromSample } from '@/core/definition/from-sample';
import { kindFromExample } from '@/core/definition/from-example';
import { starterKind } from '@/core/definition/starters';
import { judge } from '@/core/measuring/compare';
import type { KindDefinition } from '@/core/reading/kind';
import { teach, withoutSample, type Lesson } from '@/core/teaching/teach';
import { pause } from '@/settings/clock';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { allDrafts, countSamples, deleteKindDraft, draftOf, samplesOf, saveKindDraft, type SampleRow } from '@/store/queries/samples';
import { soundingsOf } from '@/store/queries/soundings';
import { Refusal, type Services } from './context';
import { publish } from './definitions';
import { elsewhereFor } from './elsewhere';
import { readAs } from './reading';
import { addSamples, samplePaper, sampleSet, type SampleFile } from './samples';

/** A kind as it is being worked on: the draft, or the published version where there is none. */
export interface Working {
  readonly definition: KindDefinition;
  /** 0 while there is no draft. */
  readonly revision: number;
  readonly version: number | null;
}

export async function workingKind(services: Services, key: string): Promise<Working> {
  const [draft, published] = await Promise.all([draftOf(services.store.db, key), findDefinition(services.store.db, 'kind', key)]);
  const definition = draft?.definition ?? published?.definition;
  if (!definition) throw new Refusal('not-found', `There is no document kind “${key}”.`);
  return { definition, revision: draft?.revision ?? 0, version: published?.version ?? null };
}

/** All kinds, published or not, with their samples and what their last sounding said. */
export async function listKinds(services: Services): Promise<KindListing[]> {
  const { db } = services.store;
  const [published, drafts, counts] = await Promise.all([listDefinitions(db, 'kind'), allDrafts(db), countSamples(db)]);
  const keys = [...new Set([...published.map((kind) => kind.key), ...drafts.map((draft) => draft.kindKey)])];
  const listings = await Promise.all(keys.map(async (key): Promise<KindListing> => {
    const [kind, draft] = [published.find((candidate) => candidate.key === key), drafts.find((candidate) => candidate.kindKey === key)];
    const definition = draft?.definition ?? (kind?.definition as KindDefinition);
    const [last] = (await soundingsOf(db, key, 5)).filter((row) => row.state === 'done');
    const sounding = last?.result?.sounding;
    return {
      key, name: definition.name, description: definition.description ?? '', version: kind?.version ?? null, publishedAt: kind ? isoMoment(kind.publishedAt) : null, hasDraft: draft !== undefined,
      fields: definition.fields.length, tables: definition.tables.map((table) => table.label), layouts: definition.layouts.map((layout) => layout.name), samples: counts.get(key) ?? { all: 0, confirmed: 0, proposed: 0 },
      sounding: sounding && last ? { id: last.id, right: sounding.header.right + sounding.cells.right, all: sounding.header.all + sounding.cells.all, straightThrough: sounding.straightThrough, samples: sounding.samples, at: isoMoment(last.finishedAt ?? last.askedAt) } : null,
    };
  }));
  return listings.sort((a, b) => a.name.localeCompare(b.name));
}

const sampleView = (row: SampleRow): SampleView => ({ id: row.id, fileName: row.fileName, state: row.state, heldBack: row.heldBack, pageCount: row.pageCount, problem: row.problem, truth: row.truth, revision: row.revision, documentId: row.documentId });

export async function openWorkbench(services: Services, key: string): Promise<Workbench> {
  const working = await workingKind(services, key);
  const rows = await samplesOf(services.store.db, key);
  return { kind: working.definition, revision: working.revision, version: working.version, yaml: yamlOf(working.definition), samples: rows.map(sampleView) };
}

/** The text of a kind; parts that are empty are left out. */
export const yamlOf = (kind: KindDefinition): string => stringify({ ...kind, ...(kind.layouts.length === 0 ? { layouts: undefined } : {}), ...(kind.checks.length === 0 ? { checks: undefined } : {}), ...(kind.tables.length === 0 ? { tables: undefined } : {}) }, { lineWidth: 0, aliasDuplicateObjects: false });

/**
 * The kind tally: every sample read with a definition that need not be kept yet. A sample from which the kind was learned is read as
 * if it had not been, so that the tally shows what a new paper would give.
 */
export async function tallyDraft(services: Services, key: string, definition?: KindDefinition): Promise<WorkbenchTally> {
  const kind = definition ?? (await workingKind(services, key)).definition;
  const rows = (await samplesOf(services.store.db, key)).filter((row) => row.problem === null);
  const learned = rows.some((row) => kind.layouts.some((layout) => layout.samples?.includes(row.id))) ? await sampleSet(services, rows, kind) : [];
  const samples: WorkbenchTally['samples'][number][] = [];
  for (const row of rows) {
    const paper = await samplePaper(services, row.sha256, kind.cleanUp);
    const { pages } = paper;
    const reading = await readAs(services, withoutSample(kind, learned, row.id), { sha256: row.sha256, paper }, 'kept answers');
    const elsewhere = await elsewhereFor(services, kind, reading, { pages, documentId: null });
    samples.push({ id: row.id, reading, findings: checkDocument({ kind, layout: reading.layout, readings: reading, pages, ...elsewhere }), judged: row.state === 'confirmed' ? judge(kind, reading, row.truth) : [] });
    // Other requests get their turn between two documents.
    await pause(0);
  }
  return { samples };
}

export type NewKind = { readonly from: 'empty' | 'starter' | 'example' | 'yaml'; readonly name: string; readonly starter?: string; readonly text?: string };

/** A new kind as a draft: empty, from a starter, from an example of what is wanted as JSON, or from a file. */
export async function createKind(services: Services, actor: Actor, { from, name, starter, text }: NewKind): Promise<string> {
  const base = from === 'starter' ? starterKind(starter ?? '') : from === 'example' ? exampleKind(text ?? '') : from === 'yaml' ? validKind(text ?? '') : { leadline: 'kind/1' as const, key: '', name, fields: [], tables: [], layouts: [], checks: [] };
  if (!base) throw new Refusal('bad-request', `There is no starter “${starter ?? ''}”.`);
  const key = await freeKey(services, from === 'yaml' ? base.key : keyFrom(name || base.name, 'kind'));
  const definition: KindDefinition = { ...base, key, name: name || base.name };
  await inTransaction(services.store.db, async (tx) => {
    if (!(await saveKindDraft(tx, { kindKey: key, definition, revision: 0, by: actor.name }))) throw new Refusal('conflict', `There is a kind “${key}” already. Choose another name.`);
    await noteAct(tx, actor, { act: 'kind begun', on: ['kind', key], detail: { from } });
  });
  return key;
}

/** A new kind as a draft, made of what stands on one paper, which becomes its first sample. */
export async function createFromSample(services: Services, actor: Actor, name: string, file: SampleFile): Promise<string> {
  const { problem, pages } = await inspectFile(file.bytes);
  if (problem) throw new Refusal('bad-request', problem.text);
  const made = kindFromSample(pages);
  const definition: KindDefinition = { ...made, name: name || made.name, key: await freeKey(services, keyFrom(name || made.name, 'kind')) };
  await inTransaction(services.store.db, async (tx) => {
    if (!(await saveKindDraft(tx, { kindKey: definition.key, definition, revision: 0, by: actor.name }))) throw new Refusal('conflict', `There is a kind “${definition.key}” already. Choose another name.`);
    await noteAct(tx, actor, { act: 'kind begun', on: ['kind', definition.key], detail: { from: 'sample' } });
  });
  await addSamples(services, actor, definition.key, [file]);
  return definition.key;
}

function exampleKind(text: string): KindDefinition {
  const made = kindFromExample(text);
  if (typeof made === 'string') throw new Refusal('bad-request', made);
  return made;
}

function validKind(text: string): KindDefinition {
  const parsed = parseKind(text);
  if (!parsed.ok) throw new Refusal('bad-request', parsed.mistakes.map((mistake) => `Line ${mistake.line}, column ${mistake.column}: ${mistake.text}`).join('\n'));
  return parsed.definition;
}

async function freeKey(services: Services, wanted: string): Promise<string> {
  for (let number = 1; ; number += 1) {
    const key = number === 1 ? wanted : `${wanted}-${number}`;
    const [draft, published] = await Promise.all([draftOf(services.store.db, key), findDefinition(services.store.db, 'kind', key)]);
    if (!draft && !published) return key;
  }
}

/** Keep the draft. It must be a kind that could be read with; the sentence says what is wrong. */
export async function keepKindDraft(services: Services, actor: Actor, key: string, work: { readonly revision: number; readonly definition: unknown }): Promise<number> {
  const definition = validKind(stringify(work.definition, { aliasDuplicateObjects: false }));
  if (definition.key !== key) throw new Refusal('bad-request', `This is the draft of “${key}”; the file says “${definition.key}”.`);
  await inTransaction(services.store.db, async (tx) => {
    if (!(await saveKindDraft(tx, { kindKey: key, definition, revision: work.revision, by: actor.name }))) throw new Refusal('conflict', 'Somebody else has changed this kind in the meantime. Load it again; your last change is not kept.');
    await noteAct(tx, actor, { act: 'draft kept', on: ['kind', key] });
  });
  return work.revision + 1;
}

/** Learn from the confirmed samples that are not held back. What was learned before is learned anew. */
export async function teachKind(services: Services, actor: Actor, key: string): Promise<{ revision: number; lessons: readonly Lesson[] }> {
  const { definition, revision } = await workingKind(services, key);
  const rows = (await samplesOf(services.store.db, key)).filter((row) => row.state === 'confirmed' && !row.heldBack && row.problem === null);
  if (rows.length === 0) throw new Refusal('conflict', 'There is no confirmed sample to learn from. Confirm the values of one first.');
  const taught = teach({ ...definition, layouts: definition.layouts.filter((layout) => layout.samples === undefined) }, await sampleSet(services, rows, definition));
  const named = taught.lessons.map((lesson) => ({ ...lesson, sample: rows.find((row) => row.id === lesson.sample)?.fileName ?? lesson.sample }));
  return { revision: await keepKindDraft(services, actor, key, { revision, definition: taught.kind }), lessons: named };
}

/** The draft becomes a version; pipelines read with it from their next document on. */
export async function publishDraft(services: Services, actor: Actor, key: string, note: string): Promise<{ version: number }> {
  const { definition, revision } = await workingKind(services, key);
  if (definition.fields.length === 0 && definition.tables.length === 0) throw new Refusal('conflict', 'This kind has no fields yet, so nothing would be read with it. Add one first.');
  const { version } = await publish(services, actor, 'kind', yamlOf(definition), note);
  if (revision > 0) await deleteKindDraft(services.store.db, key);
  return { version };
}

/** Throw the draft away; the published version stays as it is. */
export async function dropDraft(services: Services, actor: Actor, key: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteKindDraft(tx, key))) throw new Refusal('not-found', 'There is no draft to throw away.');
    await noteAct(tx, actor, { act: 'draft thrown away', on: ['kind', key] });
  });
}
