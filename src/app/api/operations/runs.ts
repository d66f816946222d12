import Joi from 'joi';
import { describeRun, giveUp, refloat, tallyRuns } from '@/services/runs';
import type { RunFilter } from '@/store/queries/runs';
import { json, operation, silently } from '../operation';
import { key, paging, reason, runState, withId, type Paging } from './schemas';

export const RUN_OPERATIONS = [
  operation<unknown, RunFilter & Paging>({
    method: 'GET',
    path: '/runs',
    summary: 'Runs as a tally, newest first',
    query: Joi.object({ ...paging, state: runState, pipeline: key }),
    answers: { 200: 'A page of runs with a cell per step' },
    handle: async ({ services, query: { offset, limit, ...filter } }) => json(await tallyRuns(services, filter, { offset, limit })),
  }),
  operation<{ id: string }>({ method: 'GET', path: '/runs/{id}', summary: 'One run with every step, attempt and delivery', params: withId, answers: { 200: 'The run' }, handle: async ({ services, params }) => json(await describeRun(services, params.id)) }),
  operation<{ id: string }>({
    method: 'POST',
    path: '/runs/{id}/refloat',
    summary: 'Set a stranded run going again from where it stands',
    params: withId,
    answers: { 204: 'It is queued' },
    handle: silently(({ services, actor, params }) => refloat(services, actor, params.id)),
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
