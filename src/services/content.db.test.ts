import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { sql } from 'drizzle-orm';
import { stringify } from 'yaml';
import type { Step } from '@/core/pipeline/definition';
import type { Reference, Several } from '@/connectors/source';
import { documentById, type DocumentRow } from '@/store/queries/documents';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { READ, Steps } from '../../tests/support/steps';
import { saveConnection } from './connections';
import { fetchNow } from './content';
import { publish } from './definitions';
import { receive } from './receive';
import { receiveEvent } from './receive-event';
import { surroundingsOf } from './surroundings';

let bed: TestBed;
let bench: Steps;
let server: Server;
let base = '';
/** What was asked for, and with which key. */
const asked: [string, string | undefined][] = [];
/** How often the place answers 503 before it gives. */
let busy = 0;

beforeAll(async () => {
  bed = await openTestBed('content');
  bench = new Steps(bed);
  await loadScenario(bed.services);
  const bills = [await printBill(makeBill(2)), await printBill(makeBill(4))];
  server = createServer((request, response) => {
    asked.push([request.url ?? '', request.headers.authorization]);
    if (busy > 0) {
      busy -= 1;
      response.writeHead(503).end();
    } else if (request.url === '/text') response.writeHead(200, { 'content-type': 'application/zip' }).end('PK\x03\x04nothing');
    else if (request.url === '/gone') response.writeHead(404).end();
    else response.writeHead(200, { 'content-type': 'application/pdf', 'content-disposition': 'attachment; filename="bill.pdf"' }).end(bills[Number(request.url?.slice(-1))] ?? bills[0]);
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  await saveConnection(bed.services, TESTER, { key: 'archive', name: 'Archive', connector: 'http', settings: { url: base }, secret: 'archive-key' });
});
afterAll(async () => {
  server.close();
  await bed.close();
});
beforeEach(() => asked.splice(0));

const at = (path: string, connection: string | null = null): Reference => ({ at: connection === null ? `${base}${path}` : path, connection, name: null });
let count = 0;
/** An event for a pipeline of these steps. */
async function tell(steps: Step[], files: Reference[], several: Several = 'each', properties: Record<string, string | null> = { berth: 'A4' }): Promise<readonly DocumentRow[]> {
  count += 1;
  const key = `event-${count}`;
  await publish(bed.services, TESTER, 'pipeline', stringify({ leadline: 'pipeline/1', key, name: key, steps }), 'test');
  const { documents } = await receiveEvent(bed.services, TESTER, key, { sender: null, subject: 'Bill is there', occurredAt: null, properties, files, several }, key);
  await bench.work();
  return documents;
}
const now = (document: DocumentRow | undefined) => documentById(bed.services.store.db, document?.id ?? '');
const note: Step = { id: 'say', do: 'set', values: { where: { pick: 'came.berth' } } };

describe('an event with properties only', () => {
  test('gives its properties to the steps, and its content is never fetched where no step needs it', async () => {
    const [document] = await tell([note], [at('/bill-0')]);
    expect([(await bench.outcome(document?.runId ?? '')).state, asked, (await now(document))?.fileName, (await now(document))?.awaits]).toEqual(['finished', [], 'bill-0', [at('/bill-0')]]);
    expect((await surroundingsOf(bed.services)).pipelines.find(({ key }) => key === document?.pipelineKey)?.given).toEqual(['berth']);
  });
  test('has its content fetched when a step needs it, through the connection and with its key, once', async () => {
    const [document] = await tell([note, READ, { id: 'file', do: 'write-file', name: '{number}', content: 'original' }], [at('/bill-0', 'archive')], 'each', { berth: 'B7' });
    const { state, texts } = await bench.outcome(document?.runId ?? '');
    expect([state, texts[0], asked]).toEqual(['finished', expect.stringContaining('Recognised as a paper of'), [['/bill-0', 'Bearer archive-key']]]);
    expect(await now(document)).toMatchObject({ fileName: 'bill.pdf', mediaType: 'application/pdf', awaits: null, sha256: expect.not.stringMatching(document?.sha256 ?? '') });
    await expect(bed.services.blobs.get(document?.sha256 ?? '')).rejects.toThrow();
  });
  test('comes again when the place is busy, and strands with a sentence when there is nothing to read', async () => {
    busy = 1;
    const [late] = await tell([READ], [at('/bill-1')]);
    const [zip] = await tell([READ], [at('/text')]);
    const [gone] = await tell([READ], [at('/gone')]);
    expect([(await bench.outcome(late?.runId ?? '')).state, (await bench.outcome(zip?.runId ?? '')).failures, (await bench.outcome(gone?.runId ?? '')).failures]).toEqual(['finished', [expect.stringContaining('The content that was fetched cannot be read: text. This is a packed or office file')], [expect.stringContaining('answered 404')]]);
  });
  test('of which two say the same is no repeat; the same key is the same event', async () => {
    const [first] = await tell([note], []);
    const again = await receiveEvent(bed.services, TESTER, first?.pipelineKey ?? '', { sender: null, subject: 'Bill is there', occurredAt: null, properties: { berth: 'A4' }, files: [], several: 'each' }, 'another key');
    const same = await receiveEvent(bed.services, TESTER, first?.pipelineKey ?? '', { sender: null, subject: 'Bill is there', occurredAt: null, properties: { berth: 'A4' }, files: [], several: 'each' }, first?.pipelineKey ?? '');
    expect([again.fresh, again.documents[0]?.repeatOf, same.fresh, same.documents[0]?.id]).toEqual([true, null, false, first?.id]);
  });
  test('can have its content fetched by hand, with a sentence where that fails', async () => {
    const [document] = await tell([note], [at('/bill-0')]);
    await fetchNow(bed.services, document?.id ?? '');
    expect((await now(document))?.awaits).toBeNull();
    const [gone] = await tell([note], [at('/gone')]);
    await expect(fetchNow(bed.services, gone?.id ?? '')).rejects.toThrow(/answered 404/);
  });
});

describe('several files in one event', () => {
  test.each([['each', ['bill-0', 'bill-1']], ['first', ['bill-0']], ['all', ['bill-0 and 1 more']]] as const)('%s: %j', async (several, names) => {
    expect((await tell([note], [at('/bill-0'), at('/bill-1')], several)).map(({ fileName }) => fileName)).toEqual(names);
  });
  test('all of them are one document with all their pages', async () => {
    const [document] = await tell([READ], [at('/bill-0'), at('/bill-1')], 'all');
    const [one, other] = [await now((await tell([READ], [at('/bill-0')]))[0]), await now((await tell([READ], [at('/bill-1')]))[0])];
    expect((await now(document))?.pageCount).toBe((one?.pageCount ?? 0) + (other?.pageCount ?? 0));
  });

  const files = async () => [{ name: 'a.pdf', mediaType: 'application/pdf', bytes: await printBill(makeBill(6)) }, { name: 'b.pdf', mediaType: 'application/pdf', bytes: await printBill(makeBill(8)) }, { name: 'c.txt', mediaType: 'text/plain', bytes: Buffer.from(`Read me ${count}`) }];
  const arrive = async (several: Several) => {
    count += 1;
    const stamped = (await files()).map((file) => ({ ...file, bytes: Buffer.concat([file.bytes, Buffer.from(`\n% ${count}\n`)]) }));
    const { documents } = await receive(bed.services, TESTER, { sourceKey: 'office-mail', pipelineKey: 'haulage-to-ledger', several }, { dedupeKey: `mail-${count}`, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: stamped });
    return documents.map(({ fileName, problemCode, runId }) => [fileName, problemCode, runId !== null]);
  };
  test('of a mail: only the first runs and the others are kept; or those with pages are one, and each is kept beside it', async () => {
    expect(await arrive('first')).toEqual([['a.pdf', null, true], ['b.pdf', 'left-out', false], ['c.txt', 'left-out', false]]);
    expect(await arrive('all')).toEqual([['a and 1 more.pdf', null, true], ['a.pdf', 'part-of-one', false], ['b.pdf', 'part-of-one', false], ['c.txt', null, true]]);
    expect((await bed.services.store.db.execute(sql`SELECT COUNT(*) AS n FROM document WHERE problem_code = 'part-of-one'`) as unknown as [{ n: number }[]])[0][0]?.n).toBe(2);
  });
});
