import Joi from 'joi';
import type { SamplePages } from '@/contracts/workbench';
import { STARTERS } from '@/core/definition/starters';
import type { Truth } from '@/core/measuring/compare';
import type { Target } from '@/core/measuring/threshold';
import type { KindDefinition } from '@/core/reading/kind';
import { beforeAfter } from '@/services/before-after';
import type { Remembered } from '@/core/reading/remembered';
import { forget, listRemembered, remember } from '@/services/remembered';
import { describeSorting, sortStored } from '@/services/sorting';
import { Refusal, type Services } from '@/services/context';
import type { Paper } from '@/services/papers';
import { pictureOf, type Stage } from '@/services/pictures';
import { addSamples, keepSample, removeSample, requireSample, sampleFromDocument, samplePaper } from '@/services/samples';
import { askSounding, listSoundings, openSounding, takeThresholds, takeTier } from '@/services/soundings';
import { createFromSample, createKind, dropDraft, keepKindDraft, listKinds, openWorkbench, publishDraft, tallyDraft, teachKind, workingKind, type NewKind } from '@/services/workbench';
import { json, operation, picture, silently } from '../operation';
import { filesFrom } from '../upload';
import { id, key, stage, withId, withKey } from './schemas';

const value = Joi.string().allow(null, '').max(2000);
const valueKey = Joi.string().pattern(/^[a-z][a-z0-9_]{0,62}$/);
const values = Joi.object().pattern(valueKey, value);
const truth = Joi.object<Truth>({ fields: values.required(), tables: Joi.object().pattern(valueKey, Joi.array().items(values).max(5000)).default({}) });
const revision = Joi.number().integer().min(0).required();
const definition = Joi.object().unknown().description('A kind as in its file');
const target = Joi.object<Target>({ errorRate: Joi.number().min(0.0001).max(0.5).required(), level: Joi.number().min(0.5).max(0.999).required(), tiers: Joi.boolean() });
const withSamplePage = Joi.object<{ id: string; page: number }>({ id: id.required(), page: Joi.number().integer().min(1).max(10_000).required() });

const kindOperations = [
  operation({ method: 'GET', path: '/workbench', summary: 'All kinds with their drafts, samples and last soundings', answers: { 200: 'The kinds' }, handle: async ({ services }) => json(await listKinds(services)) }),
  operation({ method: 'GET', path: '/starters', summary: 'Kinds to begin with', answers: { 200: 'Key, name and fields of each' }, handle: async () => json(STARTERS.map(({ key: name, name: label, description, fields, tables }) => ({ key: name, name: label, description, fields: fields.map((field) => field.label), tables: tables.map((table) => table.label) }))) }),
  operation<unknown, unknown, NewKind>({
    method: 'POST',
    path: '/kinds',
    summary: 'Begin a kind as a draft',
    body: Joi.object({ from: Joi.string().valid('empty', 'starter', 'example', 'yaml').required(), name: Joi.string().trim().allow('').max(200).default(''), starter: key, text: Joi.string().max(1_000_000) }),
    answers: { 201: 'Its key' },
    handle: async ({ services, actor, body }) => json({ key: await createKind(services, actor, body) }, 201),
  }),
  operation<unknown, { name: string }>({
    method: 'POST',
    path: '/kinds/from-sample',
    summary: 'Begin a kind from one paper, which becomes its first sample',
    query: Joi.object({ name: Joi.string().trim().allow('').max(200).default('') }),
    bodyTypes: ['multipart/form-data'],
    answers: { 201: 'Its key' },
    handle: async ({ services, actor, query, request }) => {
      const [given] = await filesFrom(request, undefined);
      if (!given) throw new Refusal('bad-request', 'No file came with the request. Send a form with one paper.');
      return json({ key: await createFromSample(services, actor, query.name, given) }, 201);
    },
  }),
  operation<{ key: string }>({ method: 'GET', path: '/kinds/{key}/workbench', summary: 'A kind as it is being worked on, with its samples', params: withKey, answers: { 200: 'Draft or newest version' }, handle: async ({ services, params }) => json(await openWorkbench(services, params.key)) }),
  operation<{ key: string }, unknown, { revision: number; definition: unknown }>({ method: 'PUT', path: '/kinds/{key}/draft', summary: 'Keep the draft', params: withKey, body: Joi.object({ revision, definition: definition.required() }), answers: { 200: 'The new revision' }, handle: async ({ services, actor, params, body }) => json({ revision: await keepKindDraft(services, actor, params.key, body) }) }),
  operation<{ key: string }>({ method: 'DELETE', path: '/kinds/{key}/draft', summary: 'Throw the draft away', params: withKey, answers: { 204: 'The published version counts again' }, handle: silently(({ services, actor, params }) => dropDraft(services, actor, params.key)) }),
  operation<{ key: string }, unknown, { definition?: KindDefinition }>({ method: 'POST', path: '/kinds/{key}/readings', summary: 'Read every sample, with the draft or with a definition that is tried', params: withKey, body: Joi.object({ definition }), answers: { 200: 'The tally' }, handle: async ({ services, params, body }) => json(await tallyDraft(services, params.key, body.definition)) }),
  operation<{ key: string }>({ method: 'POST', path: '/kinds/{key}/teach', summary: 'Learn from the confirmed samples', params: withKey, answers: { 200: 'What was learned from each' }, handle: async ({ services, actor, params }) => json(await teachKind(services, actor, params.key)) }),
  operation<{ key: string }, { most: number }>({ method: 'GET', path: '/kinds/{key}/before-after', summary: 'What the draft would make of documents that were read before', params: withKey, query: Joi.object({ most: Joi.number().integer().min(1).max(200).default(60) }), answers: { 200: 'Every value that would be another' }, handle: async ({ services, params, query }) => json(await beforeAfter(services, params.key, query.most)) }),
  operation<{ key: string }, unknown, { note: string }>({ method: 'POST', path: '/kinds/{key}/publish', summary: 'Publish the draft as a new version', params: withKey, body: Joi.object({ note: Joi.string().trim().max(1000).allow('').default('') }), answers: { 200: 'The version' }, handle: async ({ services, actor, params, body }) => json(await publishDraft(services, actor, params.key, body.note)) }),
];

/** The pages of a sample as its kind, being worked on, wants them cleaned. */
const paperOfSample = async (services: Services, row: { readonly sha256: string; readonly kindKey: string }): Promise<Paper> => samplePaper(services, row.sha256, (await workingKind(services, row.kindKey)).definition.cleanUp);

const sampleOperations = [
  operation<{ key: string }>({
    method: 'POST',
    path: '/kinds/{key}/samples',
    summary: 'Add documents as samples',
    params: withKey,
    bodyTypes: ['multipart/form-data'],
    answers: { 200: 'How many were new' },
    handle: async ({ services, actor, params, request }) => {
      await workingKind(services, params.key);
      const files = await filesFrom(request, undefined);
      if (files.length === 0) throw new Refusal('bad-request', 'No file came with the request. Send a form with files.');
      return json(await addSamples(services, actor, params.key, files));
    },
  }),
  operation<{ key: string; document: string }>({ method: 'POST', path: '/kinds/{key}/samples/from/{document}', summary: 'Make a sample of a document that came in', params: Joi.object({ key: key.required(), document: id.required() }), answers: { 204: 'Added' }, handle: silently(({ services, actor, params }) => sampleFromDocument(services, actor, params.key, params.document)) }),
  operation<{ id: string }, unknown, { revision: number; truth?: Truth; state?: 'new' | 'confirmed'; heldBack?: boolean }>({
    method: 'PUT',
    path: '/samples/{id}',
    summary: 'Confirm or change a sample',
    params: withId,
    body: Joi.object({ revision, truth, state: Joi.string().valid('new', 'confirmed'), heldBack: Joi.boolean() }),
    answers: { 200: 'The new revision' },
    handle: async ({ services, actor, params, body: { revision: seen, ...change } }) => {
      const { kindKey } = await requireSample(services, params.id);
      return json({ revision: await keepSample(services, actor, (await workingKind(services, kindKey)).definition, params.id, seen, change) });
    },
  }),
  operation<{ id: string }>({ method: 'DELETE', path: '/samples/{id}', summary: 'Remove a sample', params: withId, answers: { 204: 'Removed; a live document it was taken from stays' }, handle: silently(({ services, actor, params }) => removeSample(services, actor, params.id)) }),
  operation<{ id: string }>({
    method: 'GET',
    path: '/samples/{id}/pages',
    summary: 'The pages of a sample with their words',
    params: withId,
    answers: { 200: 'The pages' },
    handle: async ({ services, params }) => {
      const row = await requireSample(services, params.id);
      const { pages } = await paperOfSample(services, row);
      return json({ id: row.id, fileName: row.fileName, pages: pages.map((page) => ({ ...page, origin: page.origin ?? 'text layer' })) } satisfies SamplePages);
    },
  }),
  operation<{ id: string; page: number }, { stage: Stage }>({ method: 'GET', path: '/samples/{id}/pages/{page}/picture', summary: 'A picture of a page of a sample', params: withSamplePage, query: Joi.object({ stage }), answers: { 200: 'The picture' }, handle: async ({ services, params, query }) => {
      const row = await requireSample(services, params.id);
      return picture(await pictureOf(services, query.stage === 'came' ? row.sha256 : (await paperOfSample(services, row)).hash, params.page, query.stage));
    } }),
];

const soundingOperations = [
  operation<{ key: string }>({ method: 'GET', path: '/kinds/{key}/soundings', summary: 'Soundings of a kind, newest first', params: withKey, answers: { 200: 'The soundings' }, handle: async ({ services, params }) => json(await listSoundings(services, params.key)) }),
  operation<{ key: string }, unknown, { target?: Target }>({ method: 'POST', path: '/kinds/{key}/soundings', summary: 'Ask for a sounding', params: withKey, body: Joi.object({ target }), answers: { 202: 'It waits for a worker' }, handle: async ({ services, actor, params, body }) => json({ id: await askSounding(services, actor, params.key, body.target) }, 202) }),
  operation<{ id: string }>({ method: 'GET', path: '/soundings/{id}', summary: 'One sounding, sample by sample', params: withId, answers: { 200: 'The sounding' }, handle: async ({ services, params }) => json(await openSounding(services, params.id)) }),
  operation<{ id: string }, unknown, { tier: string | null }>({ method: 'POST', path: '/soundings/{id}/tier', summary: 'Put a compared tier into the draft', params: withId, body: Joi.object({ tier: Joi.string().max(60).allow(null).required() }), answers: { 204: 'The draft asks for it' }, handle: silently(({ services, actor, params, body }) => takeTier(services, actor, params.id, body.tier)) }),
  operation<{ id: string }>({ method: 'POST', path: '/soundings/{id}/take', summary: 'Put the thresholds it guarantees into the draft', params: withId, answers: { 200: 'How many were set' }, handle: async ({ services, actor, params }) => json(await takeThresholds(services, actor, params.id)) }),
];

const remembering = Joi.object({ field: valueKey.required(), value: Joi.string().max(2000).required(), whenField: valueKey.required(), whenValue: Joi.string().max(200).required(), always: Joi.boolean().required() });

const sortingOperations = [
  operation({ method: 'GET', path: '/sorting', summary: 'How well kinds are told apart', answers: { 200: 'Measured on the samples, each as if not seen' }, handle: async ({ services }) => json(await describeSorting(services)) }),
  operation<{ id: string }>({ method: 'GET', path: '/documents/{id}/sorted', summary: 'Which kind a document looks like, with the reasons', params: withId, answers: { 200: 'All kinds, the likeliest first' }, handle: async ({ services, params }) => json(await sortStored(services, params.id)) }),
  operation<{ key: string }>({ method: 'GET', path: '/kinds/{key}/remembered', summary: 'Answers that are remembered', params: withKey, answers: { 200: 'The answers, newest first' }, handle: async ({ services, params }) => json(await listRemembered(services, params.key)) }),
  operation<{ key: string }, unknown, Remembered & { always: boolean }>({ method: 'POST', path: '/kinds/{key}/remembered', summary: 'Remember an answer, or that it is not to be asked again', params: withKey, body: remembering, answers: { 204: 'Kept' }, handle: silently(({ services, actor, params, body }) => remember(services, actor, params.key, body)) }),
  operation<{ id: string }>({ method: 'DELETE', path: '/remembered/{id}', summary: 'Forget an answer', params: withId, answers: { 204: 'Forgotten; asked again when it comes up' }, handle: silently(({ services, actor, params }) => forget(services, actor, params.id)) }),
];

export const WORKBENCH_OPERATIONS = [...sortingOperations, ...kindOperations, ...sampleOperations, ...soundingOperations];
