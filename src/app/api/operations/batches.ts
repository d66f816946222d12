import Joi from 'joi';
import type { BatchFrom } from '@/contracts/batches';
import { MOST_IN_BATCH } from '@/connectors/batch';
import { beginBatch, describeBatch, describeBatches, endBatch, goOnWithBatch, lookAtPlace, pauseBatch, type BatchInput } from '@/services/batches';
import { batchResults, exportBatch } from '@/services/batch-results';
import { asAttachment, file, json, operation, silently } from '../operation';
import { key, paging, withId, type Paging } from './schemas';

const from = Joi.object<BatchFrom>({
  source: key,
  folder: Joi.string().trim().min(1).max(1000),
  addresses: Joi.array().items(Joi.string().trim().uri({ scheme: ['http', 'https'] }).max(1000)).min(1).max(MOST_IN_BATCH).unique(),
}).xor('source', 'folder', 'addresses').required();
const count = Joi.number().integer().min(1).max(MOST_IN_BATCH).allow(null);

export const BATCH_OPERATIONS = [
  operation<unknown, unknown, { from: BatchFrom; pipeline: string }>({ method: 'POST', path: '/batches/look', summary: 'What waits at a place, and what working through it is expected to take', body: Joi.object({ from, pipeline: key.required() }), answers: { 200: 'What waits; nothing is taken' }, handle: async ({ services, body }) => json(await lookAtPlace(services, body.from, body.pipeline)) }),
  operation<unknown, unknown, BatchInput>({ method: 'POST', path: '/batches', summary: 'Work through what waits at a place', body: Joi.object({ from, pipeline: key.required(), refs: Joi.array().items(Joi.string().max(1000)).min(1).max(MOST_IN_BATCH).allow(null).default(null).description('Which of those that wait; null: all'), first: count.default(null).description('How many before somebody says go on; null: all') }), answers: { 200: 'Its id' }, handle: async ({ services, actor, body }) => json({ id: await beginBatch(services, actor, body) }) }),
  operation({ method: 'GET', path: '/batches', summary: 'The newest batches', answers: { 200: 'Up to a hundred' }, handle: async ({ services }) => json(await describeBatches(services)) }),
  operation<{ id: string }>({ method: 'GET', path: '/batches/{id}', summary: 'One batch, how far it is, and what the rest is expected to take', params: withId, answers: { 200: 'The batch' }, handle: async ({ services, params }) => json(await describeBatch(services, params.id)) }),
  operation<{ id: string }, Paging>({ method: 'GET', path: '/batches/{id}/results', summary: 'What came of a batch as one table', params: withId, query: Joi.object(paging), answers: { 200: 'A row a document' }, handle: async ({ services, params, query }) => json(await batchResults(services, params.id, query)) }),
  operation<{ id: string }>({
    method: 'GET', path: '/batches/{id}/results.csv', summary: 'What came of a batch, as CSV', params: withId, answers: { 200: 'The table' },
    handle: async ({ services, params }) => {
      const { fileName, mediaType, bytes } = await exportBatch(services, params.id);
      return file(bytes, mediaType, { 'content-disposition': asAttachment(fileName) });
    },
  }),
  operation<{ id: string }, unknown, { more: number | null }>({ method: 'POST', path: '/batches/{id}/go-on', summary: 'Go on with a batch: so many more, or all the rest', params: withId, body: Joi.object({ more: count.default(null) }), answers: { 204: 'It goes on' }, handle: silently(({ services, actor, params, body }) => goOnWithBatch(services, actor, params.id, body.more)) }),
  operation<{ id: string }>({ method: 'POST', path: '/batches/{id}/pause', summary: 'Take nothing more until somebody says go on', params: withId, answers: { 204: 'Paused; what was taken is worked on' }, handle: silently(({ services, actor, params }) => pauseBatch(services, actor, params.id)) }),
  operation<{ id: string }>({ method: 'POST', path: '/batches/{id}/end', summary: 'Leave the rest of a batch where it is', params: withId, answers: { 204: 'Ended' }, handle: silently(({ services, actor, params }) => endBatch(services, actor, params.id)) }),
];
