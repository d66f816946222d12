import Joi from 'joi';
import { NOTICE_TYPES, type NoticeType } from '@/core/telling/notice';
import { describeListeners, describeTellings, eventLog, removeListener, replay, saveListener, tryListener, type ListenerInput } from '@/services/listeners';
import { jobIsDone } from '@/services/service-jobs';
import { json, operation, silently } from '../operation';
import { id, key, withKey } from './schemas';

const noticeType = Joi.string().valid(...Object.keys(NOTICE_TYPES));
const listenerBody = Joi.object<Omit<ListenerInput, 'key'>>({
  name: Joi.string().trim().min(1).max(200).required(),
  url: Joi.string().uri({ scheme: ['http', 'https'] }).max(1000).required().label('Address'),
  types: Joi.array().items(noticeType).unique().default([]).description('Of what it is told; empty: of everything'),
  secret: Joi.string().max(200).allow(null).default(null).description('Null keeps the one that is there, or makes one'),
  enabled: Joi.boolean().default(true),
});
/** The newest log entry that was read; the next page begins after it. */
const after = Joi.alternatives(id, Joi.string().valid('')).default('').description('Id of the last event that is known');

interface JobDone {
  readonly connection: string;
  readonly tier: string;
  readonly document: string;
  readonly proof: string;
}

export const LISTENER_OPERATIONS = [
  operation<unknown, JobDone>({ method: 'POST', path: '/callbacks/jobs', summary: 'A service says that a job is done; the address was given to it with the job', query: Joi.object({ connection: key.required(), tier: Joi.string().max(60).required(), document: Joi.string().hex().length(64).required(), proof: Joi.string().max(100).required() }), bodyTypes: ['application/octet-stream'], answers: { 204: 'The runs that wait for it look now' }, handle: silently(({ services, query }) => jobIsDone(services, { connectionKey: query.connection, tier: query.tier, sha256: query.document }, query.proof)) }),
  operation({ method: 'GET', path: '/listeners', summary: 'Who is told what happens', answers: { 200: 'The listeners; secrets are never shown' }, handle: async ({ services }) => json(await describeListeners(services)) }),
  operation<{ key: string }, unknown, Omit<ListenerInput, 'key'>>({ method: 'PUT', path: '/listeners/{key}', summary: 'Add or change a listener', params: Joi.object({ key: key.required() }), body: listenerBody, answers: { 200: 'Saved; a secret that was made for it, shown this once' }, handle: async ({ services, actor, params, body }) => json(await saveListener(services, actor, { ...body, key: params.key })) }),
  operation<{ key: string }>({ method: 'DELETE', path: '/listeners/{key}', summary: 'Tell a listener nothing more and forget it', params: withKey, answers: { 204: 'Forgotten; the log stays' }, handle: silently(({ services, actor, params }) => removeListener(services, actor, params.key)) }),
  operation<{ key: string }>({ method: 'POST', path: '/listeners/{key}/try', summary: 'Tell a listener a test event', params: withKey, answers: { 200: 'It took it' }, handle: async ({ services, params }) => json({ found: await tryListener(services, params.key) }) }),
  operation<{ key: string }>({ method: 'GET', path: '/listeners/{key}/tellings', summary: 'What a listener was told last, and what is still to be told', params: withKey, answers: { 200: 'The newest fifty' }, handle: async ({ services, params }) => json(await describeTellings(services, params.key)) }),
  operation<{ key: string }, unknown, { since: string }>({ method: 'POST', path: '/listeners/{key}/replay', summary: 'Tell a listener again what happened since a moment', params: withKey, body: Joi.object({ since: Joi.string().isoDate().required() }), answers: { 200: 'How much is told again, with the ids of the first time' }, handle: async ({ services, actor, params, body }) => json({ count: await replay(services, actor, params.key, new Date(body.since).toISOString()) }) }),
  operation<unknown, { after: string; type?: NoticeType; limit: number }>({ method: 'GET', path: '/events', summary: 'The log of what happened, oldest first, as CloudEvents', query: Joi.object({ after, type: noticeType, limit: Joi.number().integer().min(1).max(1000).default(100) }), answers: { 200: 'A batch (application/cloudevents-batch+json)' }, handle: async ({ services, query }) => json(await eventLog(services, { after: query.after, types: query.type ? [query.type] : [], most: query.limit }), 200, { 'content-type': 'application/cloudevents-batch+json' }) }),
];
