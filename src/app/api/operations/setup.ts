import Joi from 'joi';
import { describeKind, describeKinds, tallyKind } from '@/services/definitions';
import { describeConnections, pauseConnection, removeConnection, saveConnection, tryConnection, type ConnectionInput } from '@/services/connections';
import { describeSources, removeSource, saveSource, trySource, type SourceInput } from '@/services/sources';
import { CONNECTORS, SOURCES } from '@/connectors/registry';
import { json, operation, silently } from '../operation';
import { key, withKey } from './schemas';

const sourceBody = Joi.object<Omit<SourceInput, 'key'>>({
  name: Joi.string().trim().min(1).max(200).required(),
  connector: Joi.string().valid(...Object.keys(SOURCES)).required(),
  settings: Joi.object().unknown().required().description('As the connector wants them'),
  secret: Joi.string().max(1000).allow(null).default(null).description('Null keeps the one that is there'),
  pipeline: key.required(),
  enabled: Joi.boolean().default(true),
});

const connectionBody = Joi.object<Omit<ConnectionInput, 'key'>>({
  name: Joi.string().trim().min(1).max(200).required(),
  connector: Joi.string().valid(...Object.keys(CONNECTORS)).required(),
  settings: Joi.object().unknown().required().description('As the connector wants them'),
  secret: Joi.string().max(1000).allow(null, '').default(null).description('Null keeps the one that is there'),
});

const CONNECTION_OPERATIONS = [
  operation({ method: 'GET', path: '/connections', summary: 'Services and databases that can be asked', answers: { 200: 'The connections; secrets are never shown' }, handle: async ({ services }) => json(await describeConnections(services)) }),
  operation<{ key: string }, unknown, Omit<ConnectionInput, 'key'>>({ method: 'PUT', path: '/connections/{key}', summary: 'Add or change a connection; it is tried first', params: withKey, body: connectionBody, answers: { 200: 'Saved; what was found' }, handle: async ({ services, actor, params, body }) => json({ found: await saveConnection(services, actor, { ...body, key: params.key }) }) }),
  operation<{ key: string }, unknown, Omit<ConnectionInput, 'key'>>({ method: 'POST', path: '/connections/{key}/try', summary: 'Look whether a connection works, without saving it', params: withKey, body: connectionBody, answers: { 200: 'What was found' }, handle: async ({ services, params, body }) => json({ found: await tryConnection(services, { ...body, key: params.key }) }) }),
  operation<{ key: string }, unknown, { paused: boolean }>({ method: 'PUT', path: '/connections/{key}/paused', summary: 'Pause a connection, or let it go on', params: withKey, body: Joi.object({ paused: Joi.boolean().required() }), answers: { 204: 'Done; runs that need it wait' }, handle: silently(({ services, actor, params, body }) => pauseConnection(services, actor, params.key, body.paused)) }),
  operation<{ key: string }>({ method: 'DELETE', path: '/connections/{key}', summary: 'Forget a connection and its secret', params: withKey, answers: { 204: 'Forgotten' }, handle: silently(({ services, actor, params }) => removeConnection(services, actor, params.key)) }),
];

export const SETUP_OPERATIONS = [
  ...CONNECTION_OPERATIONS,
  operation({ method: 'GET', path: '/kinds', summary: 'Published document kinds', answers: { 200: 'The newest version of each' }, handle: async ({ services }) => json(await describeKinds(services)) }),
  operation<{ key: string }>({ method: 'GET', path: '/kinds/{key}', summary: 'One document kind', params: withKey, answers: { 200: 'Its newest version' }, handle: async ({ services, params }) => json(await describeKind(services, params.key)) }),
  operation<{ key: string }, { most: number }>({ method: 'GET', path: '/kinds/{key}/tally', summary: 'What was read of the newest documents of a kind', params: withKey, query: Joi.object({ most: Joi.number().integer().min(1).max(40).default(12) }), answers: { 200: 'The tally' }, handle: async ({ services, params, query }) => json(await tallyKind(services, params.key, query.most)) }),
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
