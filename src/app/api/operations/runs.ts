import Joi from 'joi';
import { describeRun, describeStranded, giveUp, giveUpGroup, refloat, refloatGroup, retryNow, tallyRuns } from '@/services/runs';
import type { RunFilter } from '@/store/queries/runs';
import { json, operation, silently } from '../operation';
import { key, paging, reason, runState, withId, type Paging } from './schemas';

const group = { pipeline: key.required(), step: key.required(), code: Joi.string().max(60).required() };
type Group = { readonly pipeline: string; readonly step: string; readonly code: string };
const groupKey = ({ pipeline, step, code }: Group) => ({ pipelineKey: pipeline, atStep: step, code });

const STRANDED_OPERATIONS = [
  operation({ method: 'GET', path: '/stranded', summary: 'What is stranded, grouped by where and why', answers: { 200: 'The groups, the largest first' }, handle: async ({ services }) => json(await describeStranded(services)) }),
  operation<unknown, unknown, Group>({ method: 'POST', path: '/stranded/refloat', summary: 'Set every stranded run of a group going again', body: Joi.object(group), answers: { 200: 'How many' }, handle: async ({ services, actor, body }) => json({ runs: await refloatGroup(services, actor, groupKey(body)) }) }),
  operation<unknown, unknown, Group & { reason: string }>({ method: 'POST', path: '/stranded/give-up', summary: 'Leave every stranded run of a group for good', body: Joi.object({ ...group, reason: reason.required() }), answers: { 200: 'How many' }, handle: async ({ services, actor, body }) => json({ runs: await giveUpGroup(services, actor, groupKey(body), body.reason) }) }),
  operation<{ id: string }>({ method: 'POST', path: '/runs/{id}/retry-now', summary: 'Make the next attempt now', params: withId, answers: { 204: 'It is due' }, handle: silently(({ services, actor, params }) => retryNow(services, actor, params.id)) }),
];

export const RUN_OPERATIONS = [
  ...STRANDED_OPERATIONS,
  operation<unknown, RunFilter & Paging>({
    method: 'GET',
    path: '/runs',
    summary: 'Runs as a tally, newest first',
    query: Joi.object({ ...paging, state: runState, pipeline: key }),
    answers: { 200: 'A page of runs with a cell per step' },
    handle: async ({ services, query: { offset, limit, ...filter } }) => json(await tallyRuns(services, filter, { offset, limit })),
  }),
  operation<{ id: string }>({ method: 'GET', path: '/runs/{id}', summary: 'One run with every step, attempt and delivery', params: withId, answers: { 200: 'The run' }, handle: async ({ services, params }) => json(await describeRun(services, params.id)) }),
  operation<{ id: string }, unknown, { from: string | null }>({
    method: 'POST',
    path: '/runs/{id}/refloat',
    summary: 'Set a stranded run going again from where it stands, or from an earlier step',
    params: withId,
    body: Joi.object({ from: key.allow(null).default(null).description('Step to begin with; nothing from it on may have written') }).default({ from: null }),
    answers: { 204: 'It is queued' },
    handle: silently(({ services, actor, params, body }) => refloat(services, actor, params.id, body.from)),
  }),
  operation<{ id: string }, unknown, { reason: string }>({
    method: 'POST',
    path: '/runs/{id}/give-up',
    summary: 'Leave a stranded run for good',
    params: withId,
    body: Joi.object({ reason: reason.required() }),
    answers: { 204: 'It is given up' },
    handle: silently(({ services, actor, params, body }) => giveUp(services, actor, params.id, body.reason)),
  }),
];
