import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { addressesPlace } from './addresses/batch';
import type { BatchPlace } from './batch';
import { folderPlace } from './folder/batch';
import type { Arrival } from './source';

let folder = '';
let server: http.Server;
let base = '';
beforeAll(async () => {
  server = http.createServer((request, response) => {
    if (request.url === '/bills/a%20b.pdf') return void response.writeHead(200, { 'content-type': 'application/pdf; x=y' }).end('%PDF one');
    if (request.url === '/named') return void response.writeHead(200, { 'content-disposition': 'attachment; filename="../../evil.pdf"' }).end('two');
    if (request.url === '/cut') return void response.writeHead(200, { 'content-length': '100' }).write('short', () => response.destroy());
    response.writeHead(404).end();
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => void server.close());
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-batch-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** Take from a place; what was handed over, and what was not and why. */
async function take<S>(place: BatchPlace<S>, settings: S, refs: readonly string[]): Promise<{ taken: Arrival[]; failed: [string, string][] }> {
  const [taken, failed]: [Arrival[], [string, string][]] = [[], []];
  await place.take({ settings, secret: null, refs, signal: new AbortController().signal, emit: async (_ref, arrival) => void taken.push(arrival), fail: async (ref, why) => void failed.push([ref, why]) });
  return { taken, failed };
}

describe('a folder', () => {
  const settings = () => ({ path: folder, doneFolder: 'taken' });
  const put = (name: string, at: number) => {
    writeFileSync(path.join(folder, name), name);
    utimesSync(path.join(folder, name), at, at);
  };
  test('shows what waits, oldest first, without unfinished files and folders', async () => {
    put('b.pdf', 1_000);
    put('a.pdf', 2_000);
    put('half.pdf.part', 500);
    mkdirSync(path.join(folder, 'taken'));
    expect((await folderPlace.waiting(settings(), null)).map(({ name, size }) => [name, size])).toEqual([['b.pdf', 5], ['a.pdf', 5]]);
  });
  test('gives what was asked for and moves it; what has gone is told', async () => {
    put('a.pdf', 1_000);
    put('b.pdf', 1_000);
    const { taken, failed } = await take(folderPlace, settings(), ['a.pdf', 'gone.pdf', '../outside.pdf']);
    expect([taken.map(({ files }) => files[0]?.name), failed]).toEqual([['a.pdf'], [['gone.pdf', 'The file is not in the folder any more.'], ['../outside.pdf', 'The file is not in the folder any more.']]]);
    expect([readdirSync(path.join(folder, 'taken')), existsSync(path.join(folder, 'b.pdf'))]).toEqual([['a.pdf'], true]);
  });
  test('that is not there says so', async () => {
    await expect(folderPlace.waiting({ path: '/not/here', doneFolder: 'taken' }, null)).rejects.toThrow('The folder /not/here does not exist');
  });
});

describe('addresses', () => {
  test('are fetched, named after their path, and made safe', async () => {
    const { taken } = await take(addressesPlace, { addresses: [] }, [`${base}/bills/a%20b.pdf`, `${base}/named`]);
    expect(taken.map(({ files: [file], data }) => [file?.name, file?.mediaType, file?.bytes.toString(), data['address']])).toEqual([['a b.pdf', 'application/pdf', '%PDF one', `${base}/bills/a%20b.pdf`], ['evil.pdf', 'application/octet-stream', 'two', `${base}/named`]]);
  });
  test('the same document is the same event, however often it is listed', async () => {
    const [one, two] = [await take(addressesPlace, { addresses: [] }, [`${base}/named`]), await take(addressesPlace, { addresses: [] }, [`${base}/named`])];
    expect(one.taken[0]?.dedupeKey).toBe(two.taken[0]?.dedupeKey);
  });
  test('that give nothing are told one by one', async () => {
    const { taken, failed } = await take(addressesPlace, { addresses: [] }, [`${base}/nothing`, `${base}/cut`, 'http://127.0.0.1:1/']);
    expect([taken.length, failed.map(([, why]) => why)]).toEqual([0, ['The address answered 404.', expect.stringContaining('could not be reached'), expect.stringContaining('could not be reached')]]);
  });
  test('are refused where they are none, or come twice', () => {
    expect(addressesPlace.schema.validate({ addresses: ['ftp://x.example/a'] }).error?.message).toContain('valid uri');
    expect(addressesPlace.schema.validate({ addresses: ['http://x.example/a', 'http://x.example/a'] }).error?.message).toContain('duplicate');
  });
});
