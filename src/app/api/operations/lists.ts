import Joi from 'joi';
import { Refusal } from '@/services/context';
import { describeLists, exportList, listWorkbooks, readWorkbook, rowsOfList } from '@/services/lists';
import type { RowQuery } from '@/store/queries/lists';
import { importFile, importQuery, removeList, syncList, type ListInput, type QueryInput } from '@/services/reference-lists';
import { filesFrom } from '../upload';
import { asAttachment, file, json, operation, silently } from '../operation';
import { key, paging, withKey, type Paging } from './schemas';

type RowsQuery = Paging & { readonly sort?: string; readonly descending: boolean; readonly filter: string };

const rowQuery = { sort: Joi.string().max(200).description('Column to sort by'), descending: Joi.boolean().default(false), filter: Joi.string().max(4000).default('{}').description('JSON object: column → part of its value') };

function rowQueryFrom({ sort, descending, filter }: Pick<RowsQuery, 'sort' | 'descending' | 'filter'>): RowQuery {
  let parsed: unknown;
  try {
    parsed = JSON.parse(filter);
  } catch {
    throw new Refusal('bad-request', 'The filter is not a JSON object of column and part of its value.');
  }
  const { error, value } = Joi.object<Record<string, string>>().pattern(Joi.string().max(200), Joi.string().allow('').max(200)).max(50).validate(parsed);
  if (error) throw new Refusal('bad-request', `The filter does not fit: ${error.message}.`);
  return { filters: value, sort: sort ?? null, descending };
}

const about = { name: Joi.string().trim().min(1).max(200).required(), description: Joi.string().trim().allow('').max(1000).default(''), keyColumn: Joi.string().max(200) };
type AboutList = Omit<ListInput, 'key'>;

const REFERENCE_OPERATIONS = [
  operation<{ key: string }, AboutList>({
    method: 'PUT',
    path: '/lists/{key}/file',
    summary: 'Make a reference list of a CSV file or workbook, or replace its rows',
    params: withKey,
    query: Joi.object(about),
    bodyTypes: ['multipart/form-data'],
    answers: { 200: 'How many rows, and the key column' },
    handle: async ({ services, actor, params, query, request }) => {
      const [given] = await filesFrom(request, undefined);
      if (!given) throw new Refusal('bad-request', 'No file came with the request. Send a form with one CSV file or workbook.');
      return json(await importFile(services, actor, { ...query, key: params.key }, given));
    },
  }),
  operation<{ key: string }, unknown, Omit<QueryInput, 'key'>>({
    method: 'PUT',
    path: '/lists/{key}/query',
    summary: 'Make a reference list of an SQL query through a named connection',
    params: withKey,
    body: Joi.object({ ...about, connection: key.required(), query: Joi.string().trim().min(1).max(20_000).required(), every: Joi.number().integer().min(1).max(525_600).allow(null).default(null) }),
    answers: { 200: 'How many rows, and the key column' },
    handle: async ({ services, actor, params, body }) => json(await importQuery(services, actor, { ...body, key: params.key })),
  }),
  operation<{ key: string }>({ method: 'POST', path: '/lists/{key}/sync', summary: 'Ask the query of a list again', params: withKey, answers: { 200: 'How many rows' }, handle: async ({ services, actor, params }) => json(await syncList(services, actor, params.key)) }),
  operation<{ key: string }>({ method: 'DELETE', path: '/lists/{key}', summary: 'Remove a reference list', params: withKey, answers: { 204: 'Removed' }, handle: silently(({ services, actor, params }) => removeList(services, actor, params.key)) }),
];

export const LIST_OPERATIONS = [
  ...REFERENCE_OPERATIONS,
  operation({ method: 'GET', path: '/lists', summary: 'All lists', answers: { 200: 'The lists with their columns and counts' }, handle: async ({ services }) => json(await describeLists(services)) }),
  operation<{ key: string }, RowsQuery>({ method: 'GET', path: '/lists/{key}/rows', summary: 'Rows of a list, each with its way back to the page', params: withKey, query: Joi.object({ ...paging, ...rowQuery }), answers: { 200: 'A page of rows' }, handle: async ({ services, params, query }) => json(await rowsOfList(services, params.key, rowQueryFrom(query), query)) }),
  operation<{ key: string }, RowsQuery & { format: 'csv' | 'xlsx' }>({
    method: 'GET',
    path: '/lists/{key}/export',
    summary: 'The filtered rows as CSV (RFC 4180) or workbook',
    params: withKey,
    query: Joi.object({ ...rowQuery, format: Joi.string().valid('csv', 'xlsx').default('csv') }),
    answers: { 200: 'The file' },
    handle: async ({ services, params, query }) => {
      const made = await exportList(services, params.key, rowQueryFrom(query), query.format);
      return file(made.bytes, made.mediaType, { 'content-disposition': asAttachment(made.fileName), 'cache-control': 'no-store' });
    },
  }),
  operation({ method: 'GET', path: '/workbooks', summary: 'The workbooks that pipelines write to', answers: { 200: 'Names, sizes, times' }, handle: async ({ services }) => json(await listWorkbooks(services)) }),
  operation<{ name: string }>({
    method: 'GET',
    path: '/workbooks/{name}',
    summary: 'A copy of a workbook as it is now',
    params: Joi.object({ name: Joi.string().max(100).required() }),
    answers: { 200: 'The workbook' },
    handle: async ({ services, params }) => {
      const made = await readWorkbook(services, params.name);
      return file(made.bytes, made.mediaType, { 'content-disposition': asAttachment(made.fileName), 'cache-control': 'no-store' });
    },
  }),
];
