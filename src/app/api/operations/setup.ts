import Joi from 'joi';
import { describeKind, describeKinds, describePipeline, describePipelines, tallyKind } from '@/services/definitions';
import { describeSources, removeSource, saveSource, trySource, type SourceInput } from '@/services/sources';
import { json, operation, silently } from '../operation';
import { key, withKey } from './schemas';

const sourceBody = Joi.object<Omit<SourceInput, 'key'>>({
  name: Joi.string().trim().min(1).max(200).required(),
  connector: Joi.string().valid('mailbox', 'folder').required(),
  settings: Joi.object().unknown().required().description('As the connector wants them'),
  secret: Joi.string().max(1000).allow(null).default(null).description('Null keeps the one that is there'),
  pipeline: key.required(),
  enabled: Joi.boolean().default(true),
});

export const SETUP_OPERATIONS = [
  operation({ method: 'GET', path: '/kinds', summary: 'Published document kinds', answers: { 200: 'The newest version of each' }, handle: async ({ services }) => json(await describeKinds(services)) }),
  operation<{ key: string }>({ method: 'GET', path: '/kinds/{key}', summary: 'One document kind', params: withKey, answers: { 200: 'Its newest version' }, handle: async ({ services, params }) => json(await describeKind(services, params.key)) }),
  operation<{ key: string }, { most: number }>({ method: 'GET', path: '/kinds/{key}/tally', summary: 'What was read of the newest documents of a kind', params: withKey, query: Joi.object({ most: Joi.number().integer().min(1).max(40).default(12) }), answers: { 200: 'The tally' }, handle: async ({ services, params, query }) => json(await tallyKind(services, params.key, query.most)) }),
  operation({ method: 'GET', path: '/pipelines', summary: 'Published pipelines', answers: { 200: 'The newest version of each' }, handle: async ({ services }) => json(await describePipelines(services)) }),
  operation<{ key: string }>({ method: 'GET', path: '/pipelines/{key}', summary: 'One pipeline with its steps as sentences', params: withKey, answers: { 200: 'Its newest version' }, handle: async ({ services, params }) => json(await describePipeline(services, params.key)) }),
  operation({ method: 'GET', path: '/sources', summary: 'Mailboxes and folders that are watched', answers: { 200: 'The sources; secrets are never shown' }, handle: async ({ services }) => json(await describeSources(services)) }),
  operation<{ key: string }, unknown, Omit<SourceInput, 'key'>>({
    method: 'PUT',
    path: '/sources/{key}',
    summary: 'Add or change a source',
    params: withKey,
    body: sourceBody,
    answers: { 204: 'Saved; it is watched within seconds' },
    handle: silently(({ services, actor, params, body }) => saveSource(services, actor, { ...body, key: params.key })),
  }),
  operation<{ key: string }, unknown, Omit<SourceInput, 'key'>>({ method: 'POST', path: '/sources/{key}/try', summary: 'Look whether settings work, without saving them', params: withKey, body: sourceBody, answers: { 200: 'What was found' }, handle: async ({ services, params, body }) => json({ found: await trySource(services, { ...body, key: params.key }) }) }),
  operation<{ key: string }>({
    method: 'DELETE',
    path: '/sources/{key}',
    summary: 'Stop watching a source and forget its settings',
    params: withKey,
    answers: { 204: 'Removed; its documents stay' },
    handle: silently(({ services, actor, params }) => removeSource(services, actor, params.key)),
  }),
];
