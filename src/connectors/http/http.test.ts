import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { StepFailure } from '@/core/resilience/failure';
import { NOTHING_KNOWN } from '@/core/pipeline/facts';
import { exchange, type HttpSettings } from './http';
import { operationsIn } from './operations';
import { nested, prepare, takeFrom } from './prepare';

const scope = { known: { ...NOTHING_KNOWN, notes: { number: 'A 1/2', list: '[{"a":"b"}]' } }, document: { id: 'D', fileName: 'bill.pdf', receivedAt: '', sender: null } };
const original = { name: 'bill.pdf', bytes: async () => Buffer.from('paper'), address: () => 'https://here.example/originals/D' };

describe(prepare, () => {
  test('values go into path, query and body, each written as its place wants', async () => {
    const made = await prepare({ connection: 'x', method: 'POST', path: '/bills/{note.number}', query: { q: 'note.number', none: 'note.none' }, headers: { 'X-From': { text: 'us\r\nEvil: 1' } }, body: { 'bill.no': 'note.number', lines: 'note.list' } }, scope, original, 'K1');
    expect(made).toEqual({ method: 'POST', path: '/bills/A%201%2F2?q=A+1%2F2', headers: { 'x-from': 'us Evil: 1', 'content-type': 'application/json', 'idempotency-key': 'K1' }, body: '{"bill":{"no":"A 1/2"},"lines":[{"a":"b"}]}' });
  });
  test('a form carries the document as a file, and the document can go alone', async () => {
    const form = (await prepare({ connection: 'x', method: 'POST', path: '/', as: 'form', body: { a: 'note.number' } }, scope, original, null)).body as FormData;
    expect([form.get('a'), await (form.get('file') as File).text(), (form.get('file') as File).name]).toEqual(['A 1/2', 'paper', 'bill.pdf']);
    expect(Buffer.from((await prepare({ connection: 'x', method: 'PUT', path: '/', as: 'original' }, scope, original, null)).body as Uint8Array).toString()).toBe('paper');
  });
  test('the document goes as Base64, or as an address, where the body names it', async () => {
    const made = await prepare({ connection: 'x', method: 'POST', path: '/', body: { file: 'document.base64', link: { text: 'see {document.address}' }, size: { expression: '$length(document.base64)' } } }, scope, original, null);
    expect(JSON.parse(made.body as string)).toEqual({ file: 'cGFwZXI=', link: 'see https://here.example/originals/D', size: '8' });
  });
  test('what nobody names is not read', async () => {
    const untouched = { ...original, bytes: () => Promise.reject(new Error('read')), address: () => { throw new Error('made'); } };
    await expect(prepare({ connection: 'x', method: 'POST', path: '/', body: { a: 'note.number' } }, scope, untouched, null)).resolves.toMatchObject({ path: '/' });
  });
  test('a path that would lead elsewhere because a value is missing is not asked', async () => {
    const failed = await prepare({ connection: 'x', method: 'POST', path: '/bills/{bill.id}/papers' }, scope, original, null).catch((error: unknown) => (error as StepFailure).failure);
    expect(failed).toMatchObject({ code: 'value-failed', untouched: true, message: expect.stringContaining('needs “bill.id”, which is empty') });
  });
  test('names that reach into the machinery of objects are refused', () => {
    expect(() => nested({ '__proto__.polluted': 'x' })).toThrow('cannot be the name');
    expect(() => nested({ a: 'x', 'a.b': 'y' })).toThrow('a shorter name');
  });
});

test('what is taken from an answer is found by expressions, and a mistake names it', async () => {
  expect(await takeFrom({ items: [{ id: 7 }] }, { id: 'items[0].id', none: 'nothing.here' })).toEqual({ id: '7', none: null });
  await expect(takeFrom({}, { id: '$error("no")' })).rejects.toThrow('“id” cannot be taken from the answer by “$error("no")”');
});

describe(exchange, () => {
  let server: http.Server;
  let settings: HttpSettings;
  let answer: (response: http.ServerResponse, request: http.IncomingMessage) => void;
  beforeAll(async () => {
    server = http.createServer((request, response) => answer(response, request));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    settings = { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`, auth: 'bearer', authName: '', checkPath: '/', keepsKeys: true };
  });
  afterAll(() => void server.close());
  const ask = (changes: Partial<HttpSettings> = {}, about?: string) => exchange({ ...settings, ...changes }, 'secret', { method: 'GET', path: '/x', headers: {}, body: null }, about).catch((error: unknown) => (error as StepFailure).failure);

  test.each([
    [{ auth: 'bearer' }, 'authorization', 'Bearer secret'],
    [{ auth: 'header', authName: 'x-key' }, 'x-key', 'secret'],
    [{ auth: 'basic', authName: 'me' }, 'authorization', `Basic ${Buffer.from('me:secret').toString('base64')}`],
    [{ auth: 'none' }, 'authorization', undefined],
  ] as const)('the secret goes as %j says', async (how, header, expected) => {
    let seen: unknown = null;
    answer = (response, request) => { seen = request.headers[header]; response.end('{"a":1}'); };
    expect([await ask(how), seen]).toEqual([{ a: 1 }, expected]);
  });
  test.each([
    [429, { 'retry-after': '3' }, { code: 'service-busy', retryAfterMs: 3000, untouched: true }],
    [503, {}, { code: 'service-busy' }],
    [409, { 'retry-after': '1' }, { code: 'service-busy', retryAfterMs: 1000 }],
    [409, {}, { code: 'service-refused', untouched: true }],
    [422, {}, { code: 'service-refused', untouched: true }],
    [500, {}, { code: 'service-down' }],
    [401, {}, { code: 'no-credential', about: 'connection:x' }],
  ] as const)('an answer of %d %j is told as %j', async (status, headers, failure) => {
    answer = (response) => response.writeHead(status, headers).end('{"detail":"no"}');
    expect(await ask({}, 'connection:x')).toMatchObject(failure);
  });
  test('broken JSON may have been done and is asked again; a text that never was JSON is a text', async () => {
    answer = (response) => void response.writeHead(200, { 'content-type': 'application/json' }).end('{"job": 7, "sta');
    expect(await ask()).toMatchObject({ code: 'service-down', message: expect.stringContaining('broken JSON') });
    expect(await ask()).not.toHaveProperty('untouched');
    answer = (response) => void response.writeHead(200, { 'content-type': 'text/plain' }).end('{taken}');
    expect(await ask()).toBe('{taken}');
  });
  test('a line that breaks may have done it; a server that is not there has surely not', async () => {
    answer = (response) => response.socket?.destroy();
    const broken = await ask();
    expect([broken, await ask({ url: 'http://127.0.0.1:4099' })]).toMatchObject([{ code: 'service-down' }, { code: 'service-down', untouched: true }]);
    expect(broken).not.toHaveProperty('untouched');
  });
  test('redirects are not followed: they would carry the secret elsewhere', async () => {
    answer = (response) => response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end();
    expect(await ask()).toMatchObject({ code: 'service-down' });
  });
});

describe(operationsIn, () => {
  test('tells methods, paths and members of the body, needed ones first, through references', () => {
    const description = { paths: { '/bills': { get: { summary: 'List' }, post: { operationId: 'addBill', requestBody: { $ref: '#/components/requestBodies/Bill' } } } }, components: { requestBodies: { Bill: { content: { 'application/json': { schema: { $ref: '#/components/schemas/Bill' } } } } }, schemas: { Bill: { properties: { note: {}, number: {} }, required: ['number'] } } } };
    expect(operationsIn(description)).toEqual([{ method: 'GET', path: '/bills', summary: 'List', body: [], needed: [] }, { method: 'POST', path: '/bills', summary: 'addBill', body: ['number', 'note'], needed: ['number'] }]);
  });
  test.each([[null], ['text'], [{}], [{ paths: [] }], [{ paths: { '/x': { post: { requestBody: { $ref: '#/a' } } } }, a: { $ref: '#/a' } }]])('%j is no reason to fail', (description) => expect(operationsIn(description).length).toBeLessThanOrEqual(1));
});
