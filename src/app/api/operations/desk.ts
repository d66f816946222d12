import Joi from 'joi';
import { READERS } from '@/core/reading/reading';
import { accept, deskQueue, keepDraft, openTask, refuse, setAside, takeBack, type Work } from '@/services/desk';
import { answerQuestion, type Answer } from '@/services/questions';
import { json, operation, silently } from '../operation';
import { reason, withId } from './schemas';

const box = Joi.array().items(Joi.number().min(-10_000).max(20_000)).length(4);
const place = Joi.object({ page: Joi.number().integer().min(1).max(10_000).required(), box: box.required() }).allow(null);
const reading = Joi.object({
  text: Joi.string().allow('').max(2000).required(),
  value: Joi.string().allow(null).max(2000).required(),
  place: place.required(),
  anchor: place.required(),
  reader: Joi.string().valid(...READERS).required(),
  confidence: Joi.number().min(0).max(1).required(),
  evidence: Joi.array().items(Joi.object({ what: Joi.string().max(2000).required(), factor: Joi.number().min(0).max(1).required() })).max(50).required(),
  problem: Joi.string().max(500),
});
const name = Joi.string().pattern(/^[a-z][a-z0-9_]{0,62}$/);
/** Of a field of a small form, or a row of a match, counted from 0. */
const answerName = Joi.string().pattern(/^(?:[a-z][a-z0-9_]{0,62}|\d{1,4})$/);
const row = Joi.object().pattern(name, reading);
const work = { revision: Joi.number().integer().min(0).required(), readings: Joi.object({ fields: Joi.object().pattern(name, reading).required(), tables: Joi.object().pattern(name, Joi.array().items(row).max(5000)).required() }).required() };

export const DESK_OPERATIONS = [
  operation({ method: 'GET', path: '/tasks', summary: 'What waits for somebody, oldest first', answers: { 200: 'Open tasks and those set aside' }, handle: async ({ services }) => json(await deskQueue(services)) }),
  operation<{ id: string }>({ method: 'GET', path: '/tasks/{id}', summary: 'One task with its page, values and findings', params: withId, answers: { 200: 'The task' }, handle: async ({ services, params }) => json(await openTask(services, params.id)) }),
  operation<{ id: string }, unknown, Work>({ method: 'PUT', path: '/tasks/{id}/draft', summary: 'Keep work in progress', params: withId, body: Joi.object(work), answers: { 200: 'The new revision' }, handle: async ({ services, actor, params, body }) => json({ revision: await keepDraft(services, actor, params.id, body) }) }),
  operation<{ id: string }, unknown, Work & { note: string | null }>({
    method: 'POST',
    path: '/tasks/{id}/accept',
    summary: 'Accept the values; the run goes on',
    params: withId,
    body: Joi.object({ ...work, note: reason.allow(null).default(null) }),
    answers: { 200: 'Accepted; corrections that may be worth remembering' },
    handle: async ({ services, actor, params, body }) => json({ worthAsking: await accept(services, actor, params.id, body) }),
  }),
  operation<{ id: string }, unknown, Answer>({
    method: 'POST',
    path: '/tasks/{id}/answer',
    summary: 'Answer a question; the run goes on',
    params: withId,
    body: Joi.object({ value: Joi.string().allow('', null).max(2000).default(null).description('The chosen answer'), values: Joi.object().pattern(answerName, Joi.string().allow('', null).max(4000)).default({}).description('Answers of a small form'), note: reason.allow(null).default(null) }),
    answers: { 204: 'Answered' },
    handle: silently(({ services, actor, params, body }) => answerQuestion(services, actor, params.id, body)),
  }),
  operation<{ id: string }, unknown, { reason: string }>({
    method: 'POST',
    path: '/tasks/{id}/refuse',
    summary: 'Refuse the document; its run ends',
    params: withId,
    body: Joi.object({ reason: reason.required() }),
    answers: { 204: 'Refused' },
    handle: silently(({ services, actor, params, body }) => refuse(services, actor, params.id, body.reason)),
  }),
  operation<{ id: string }, unknown, { note: string | null }>({
    method: 'POST',
    path: '/tasks/{id}/set-aside',
    summary: 'Keep it for later',
    params: withId,
    body: Joi.object({ note: reason.allow(null).default(null) }),
    answers: { 204: 'Set aside' },
    handle: silently(({ services, actor, params, body }) => setAside(services, actor, params.id, body.note)),
  }),
  operation<{ id: string }>({
    method: 'POST',
    path: '/tasks/{id}/take-back',
    summary: 'Back into the queue',
    params: withId,
    answers: { 204: 'Open again' },
    handle: silently(({ services, actor, params }) => takeBack(services, actor, params.id)),
  }),
];
