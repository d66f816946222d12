import { createHash } from 'node:crypto';
import Joi from 'joi';
import { LIMITS } from '@/digitise/limits';
import { SEVERAL, type Several } from '@/connectors/source';
import { fetchNow } from '@/services/content';
import { Refusal, type Services } from '@/services/context';
import { describeDocument, documentHocr, documentSearchable, documentText, pagePicture, requirePapers, runDocument, searchDocuments } from '@/services/documents';
import { deletePapers } from '@/services/keeping';
import { originalByPass } from '@/services/passes';
import { receive, type Received } from '@/services/receive';
import { receiveEvent, type EventInput } from '@/services/receive-event';
import { newId } from '@/settings/identifier';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { paperOfDocument } from '@/services/papers';
import type { DocumentFilter } from '@/store/queries/documents';
import { filesFrom } from '../upload';
import { asAttachment, file, json, operation, picture, silently, type Asked } from '../operation';
import { id, key, paging, reason, search, stage, withId, withKey, type Paging } from './schemas';
import type { Stage } from '@/services/pictures';

type SendQuery = { readonly name?: string; readonly from: 'endpoint' | 'dropped'; readonly several: Several };

const several = Joi.string().valid(...SEVERAL).default('each').description('Each file is a document, only the first is, or all together are one');

const passed = operation<{ id: string }, { until: number; proof: string }>({
  method: 'GET', path: '/originals/{id}', summary: 'The original of a document, by an address that holds for a while', params: withId, query: Joi.object({ until: Joi.number().integer().required().description('Seconds since 1970'), proof: Joi.string().max(100).required() }), answers: { 200: 'The bytes as they came' },
  handle: async ({ services, params, query }) => {
    const { bytes, mediaType, fileName } = await originalByPass(services, params.id, query);
    return file(bytes, mediaType, { 'content-disposition': asAttachment(fileName), 'cache-control': 'no-store' });
  },
});

const send = operation<{ key: string }, SendQuery>({
  method: 'POST',
  path: '/pipelines/{key}/documents',
  summary: 'Send documents to a pipeline, as form files or as one raw body',
  params: withKey,
  query: Joi.object({ name: Joi.string().max(200).description('File name of a raw body'), from: Joi.string().valid('endpoint', 'dropped').default('endpoint').description('“dropped” when a person dropped the files on a page'), several }),
  bodyTypes: ['multipart/form-data', 'application/pdf', 'application/octet-stream'],
  headers: { 'Idempotency-Key': 'The same key with the same files changes nothing the second time' },
  answers: { 202: 'Recorded; each document with its run or its problem', 200: 'The same key and files had been recorded before', 422: 'The key was used before with other files' },
  handle: takeFiles,
});

async function takeFiles({ services, actor, params, query, request }: Asked<{ key: string }, SendQuery, unknown>): Promise<Response> {
  await requirePipeline(services, params.key);
  const files = await filesFrom(request, query.name);
  if (files.length === 0) throw new Refusal('bad-request', 'No file came with the request. Send a form with files, or the bytes of one file as the body.');
  const idempotencyKey = idempotencyKeyOf(request);
  const origin = { sourceKey: query.from, pipelineKey: params.key, several: query.several };
  const received = await receive(services, actor, origin, { dedupeKey: idempotencyKey === null ? `once:${newId()}` : `key:${params.key}:${idempotencyKey}`.slice(0, 200), type: 'leadline.document.sent', sender: null, subject: null, occurredAt: null, files, problem: null, data: {} });
  // Files that became one document stand there as its parts too.
  const same = files.every(({ bytes }) => received.documents.some(({ sha256 }) => sha256 === createHash('sha256').update(bytes).digest('hex'))) && received.documents.length - files.length <= (query.several === 'all' ? 1 : 0);
  if (!received.fresh && !same) return Response.json({ type: 'urn:leadline:key-reused', title: 'The key was used before', status: 422, detail: `The Idempotency-Key “${idempotencyKey ?? ''}” was used before with other files. Use a new key for new files.` }, { status: 422, headers: { 'content-type': 'application/problem+json' } });
  return answerReceived(services, received);
}

async function requirePipeline(services: Services, key: string): Promise<void> {
  if (await findDefinition(services.store.db, 'pipeline', key)) return;
  const known = (await listDefinitions(services.store.db, 'pipeline')).map((pipeline) => pipeline.key).join(', ');
  throw new Refusal('not-found', `There is no pipeline “${key}”. Published are: ${known || 'none yet'}.`);
}

function idempotencyKeyOf(request: Request): string | null {
  const given = request.headers.get('idempotency-key');
  if (given !== null && (given.length === 0 || given.length > 190)) throw new Refusal('bad-request', 'The Idempotency-Key has from 1 to 190 characters.');
  return given;
}

async function answerReceived(services: Services, received: Received): Promise<Response> {
  const documents = await Promise.all(received.documents.map((document) => describeDocument(services, document.id)));
  const answer = documents.map(({ id: documentId, fileName, problem, repeatOf, run, pageCount }) => ({ id: documentId, fileName, pageCount, problem, repeatOf, run }));
  return json({ event: received.eventId, documents: answer }, received.fresh ? 202 : 200, { location: `/api/v1/documents/${documents[0]?.id ?? ''}` });
}


const sendEvent = operation<{ key: string }, unknown, EventInput>({
  method: 'POST',
  path: '/pipelines/{key}/events',
  summary: 'Tell a pipeline that something happened: properties, and where its files can be fetched when a step needs them',
  params: withKey,
  headers: { 'Idempotency-Key': 'The same key changes nothing the second time' },
  body: Joi.object({
    sender: Joi.string().max(320).allow(null).default(null), subject: Joi.string().max(300).allow(null).default(null), occurredAt: Joi.string().isoDate().allow(null).default(null),
    properties: Joi.object().pattern(Joi.string().pattern(/^[\p{L}\p{N}][\p{L}\p{N} _-]{0,62}$/u), Joi.alternatives(Joi.string().allow('').max(10_000), Joi.number(), Joi.boolean()).allow(null)).max(100).default({}).description('Steps find them as came.NAME'),
    files: Joi.array().max(20).default([]).items(Joi.object({ at: Joi.string().max(1000).required().description('A path below the connection, or a whole address'), connection: key.allow(null).default(null).description('An application under Connections, whose key goes along'), name: Joi.string().max(200).allow(null).default(null) })),
    several,
  }),
  answers: { 202: 'Recorded; each document with its run', 200: 'The same key had been recorded before' },
  handle: takeEvent,
});

async function takeEvent({ services, actor, params, body, request }: Asked<{ key: string }, unknown, EventInput>): Promise<Response> {
  await requirePipeline(services, params.key);
  const idempotencyKey = idempotencyKeyOf(request);
  const wrong = body.files.find(({ at, connection }) => (connection === null ? !/^https?:\/\/[^/]/.test(at) || !URL.canParse(at) : !at.startsWith('/')));
  if (wrong) throw new Refusal('bad-request', wrong.connection === null ? `“${wrong.at.slice(0, 100)}” is no address that can be fetched; it begins with http:// or https://. Or name the connection it belongs to.` : `“${wrong.at.slice(0, 100)}” is no path below “${wrong.connection}”; it begins with a slash.`);
  const properties = Object.fromEntries(Object.entries(body.properties).map(([name, value]) => [name, value === null || value === '' ? null : String(value)]));
  const received = await receiveEvent(services, actor, params.key, { ...body, properties }, idempotencyKey);
  return answerReceived(services, received);
}

type PageParams = { readonly id: string; readonly page: number };
const withPage = Joi.object<PageParams>({ id: id.required(), page: Joi.number().integer().min(1).max(LIMITS.pages).required() });

const deletePages = operation<{ id: string }, unknown, { reason: string }>({ method: 'POST', path: '/documents/{id}/delete-pages', summary: 'Delete the pages and the original of a document; what was written stays, with its proof', params: withId, body: Joi.object({ reason: reason.required() }), answers: { 204: 'Deleted for good' }, handle: silently(({ services, actor, params, body }) => deletePapers(services, actor, params.id, body.reason)) });

export const DOCUMENT_OPERATIONS = [
  send,
  sendEvent,
  operation<{ id: string }>({ method: 'POST', path: '/documents/{id}/fetch', summary: 'Fetch the content of a document now that has not come yet', params: withId, answers: { 204: 'It is there' }, handle: silently(async ({ services, params }) => fetchNow(services, params.id)) }),
  passed,
  deletePages,
  operation<unknown, DocumentFilter & Paging>({
    method: 'GET',
    path: '/documents',
    summary: 'Documents, newest first',
    query: Joi.object({ ...paging, search, source: key, state: Joi.string().valid('problem', 'repeat', 'waiting', 'stranded', 'finished', 'under way') }),
    answers: { 200: 'A page of documents' },
    handle: async ({ services, query: { offset, limit, ...filter } }) => json(await searchDocuments(services, filter, { offset, limit })),
  }),
  operation<{ id: string }>({ method: 'GET', path: '/documents/{id}', summary: 'One document with what was read', params: withId, answers: { 200: 'The document' }, handle: async ({ services, params }) => json(await describeDocument(services, params.id)) }),
  operation<{ id: string }>({
    method: 'GET',
    path: '/documents/{id}/original',
    summary: 'The bytes as they came',
    params: withId,
    answers: { 200: 'The original' },
    handle: async ({ services, params }) => {
      const row = await requirePapers(services, params.id);
      const pdf = row.mediaType === 'application/pdf';
      // Anything but a PDF is handed out as a download: an original may be a hostile web page.
      return file(await services.blobs.get(row.sha256), pdf ? 'application/pdf' : 'application/octet-stream', { 'content-disposition': asAttachment(row.fileName, pdf ? 'inline' : 'attachment'), 'content-security-policy': 'sandbox' });
    },
  }),
  operation<PageParams>({
    method: 'GET',
    path: '/documents/{id}/pages/{page}',
    summary: 'The words of a page with their boxes, in points from the top left',
    params: withPage,
    answers: { 200: 'The page' },
    handle: async ({ services, params }) => {
      const row = await requirePapers(services, params.id);
      const page = (await paperOfDocument(services, row)).pages.find((candidate) => candidate.number === params.page);
      if (!page) throw new Refusal('not-found', `${row.fileName} has no page ${params.page} with text.`);
      return json(page);
    },
  }),
  operation<{ id: string }>({ method: 'GET', path: '/documents/{id}/text', summary: 'The text of its pages, columns kept', params: withId, answers: { 200: 'Plain text; pages are parted by form feeds' }, handle: async ({ services, params }) => file(Buffer.from(await documentText(services, params.id)), 'text/plain; charset=utf-8') }),
  operation<{ id: string }>({ method: 'GET', path: '/documents/{id}/hocr', summary: 'Its words with places, as hOCR 1.2', params: withId, answers: { 200: 'hOCR' }, handle: async ({ services, params }) => file(Buffer.from(await documentHocr(services, params.id)), 'application/xhtml+xml; charset=utf-8', { 'content-disposition': asAttachment(`${params.id}.hocr`) }) }),
  operation<{ id: string }>({ method: 'GET', path: '/documents/{id}/searchable', summary: 'A PDF of its pages in which words can be found', params: withId, answers: { 200: 'The PDF' }, handle: async ({ services, params }) => { const { name, bytes } = await documentSearchable(services, params.id); return file(bytes, 'application/pdf', { 'content-disposition': asAttachment(name) }); } }),
  operation<PageParams, { stage: Stage }>({
    method: 'GET',
    path: '/documents/{id}/pages/{page}/picture',
    summary: 'A picture of a page (PNG, or SVG of a page that is typed)',
    params: withPage,
    query: Joi.object({ stage }),
    answers: { 200: 'The picture' },
    handle: async ({ services, params, query }) => picture(await pagePicture(services, params.id, params.page, query.stage)),
  }),
  operation<{ id: string }>({ method: 'POST', path: '/documents/{id}/runs', summary: 'Run a document once more, or a repeat for the first time', params: withId, answers: { 201: 'The run' }, handle: async ({ services, actor, params }) => json({ run: await runDocument(services, actor, params.id) }, 201) }),
];
