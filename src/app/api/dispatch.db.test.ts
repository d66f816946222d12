import type { Services } from '@/services/context';
import { makeBill } from '../../../demo/bills/bill';
import { printBill } from '../../../demo/bills/print';
import { openTestBed, type TestBed } from '../../../tests/support/database';
import { loadScenario } from '../../../tests/support/scenario';
import { pause } from '@/settings/clock';
import { dispatch } from './dispatch';
import { GET as live } from './v1/live/route';

let bed: TestBed;
const place = globalThis as typeof globalThis & { leadlineServices?: Services };
beforeEach(async () => {
  bed = await openTestBed('api');
  place.leadlineServices = bed.services;
  await loadScenario(bed.services);
});
afterEach(() => bed.close());

const BASE = 'http://127.0.0.1:1/api/v1';
const ask = (path: string, init?: RequestInit) => dispatch(new Request(`${BASE}${path}`, init), path.split('?')[0]!.split('/').slice(1));
const body = (bytes: Buffer) => new Uint8Array(bytes);
const send = (bytes: Buffer, headers: Record<string, string> = {}) => ask('/pipelines/haulage-to-ledger/documents?name=bill.pdf', { method: 'POST', body: body(bytes), headers: { 'content-type': 'application/pdf', ...headers } });

describe('sending documents', () => {
  test('one raw body', async () => {
    const answer = await send(await printBill(makeBill(2)));
    const { documents } = (await answer.json()) as { documents: { id: string }[] };
    expect([answer.status, answer.headers.get('location'), documents]).toEqual([202, `/api/v1/documents/${documents[0]?.id}`, [expect.objectContaining({ fileName: 'bill.pdf', pageCount: 1, run: expect.objectContaining({ state: 'queued' }) })]]);
    const back = await ask(`/documents/${documents[0]?.id}/original`);
    expect(Buffer.from(await back.arrayBuffer()).equals(await printBill(makeBill(2)))).toBe(true);
  });

  test('a form with several files and a hostile name', async () => {
    const form = new FormData();
    form.append('file', new Blob([body(await printBill(makeBill(2)))]), '../../../etc/passwd\u202e.pdf');
    form.append('file', new Blob(['PK\x03\x04']), 'x.zip');
    const { documents } = (await (await ask('/pipelines/haulage-to-ledger/documents', { method: 'POST', body: form })).json()) as { documents: { fileName: string; problem: { code: string } | null }[] };
    expect(documents.map((document) => [document.fileName, document.problem?.code ?? null])).toEqual([['passwd.pdf', null], ['x.zip', 'unknown-format']]);
  });

  test('the same Idempotency-Key with the same bytes changes nothing; with others it is refused', async () => {
    const [first, again, other] = [await send(await printBill(makeBill(2)), { 'idempotency-key': 'k' }), await send(await printBill(makeBill(2)), { 'idempotency-key': 'k' }), await send(await printBill(makeBill(4)), { 'idempotency-key': 'k' })];
    const [one, two] = [(await first.json()) as { event: string }, (await again.json()) as { event: string }];
    expect([first.status, again.status, other.status, one.event === two.event]).toEqual([202, 200, 422, true]);
  });

  test('to a pipeline that is not there', async () => {
    const answer = await ask('/pipelines/nothing/documents', { method: 'POST', body: 'x' });
    expect([answer.status, ((await answer.json()) as { detail: string }).detail]).toEqual([404, 'There is no pipeline “nothing”. Published are: haulage-to-ledger.']);
  });

  test('nothing, or too much', async () => {
    expect((await ask('/pipelines/haulage-to-ledger/documents', { method: 'POST' })).status).toBe(400);
    expect((await send(Buffer.alloc(1), { 'content-length': '99000000' })).status).toBe(413);
  });
});

describe('the live stream', () => {
  test('tells of a change at once when it is opened, and then only when something has changed', async () => {
    const leaving = new AbortController();
    const reader = live(new Request(`${BASE}/live`, { signal: leaving.signal })).body!.getReader();
    let heard = '';
    const listening = (async () => {
      for (let part = await reader.read(); !part.done; part = await reader.read()) heard += new TextDecoder().decode(part.value);
    })();
    const changes = () => heard.split('event: changed').length - 1;
    await pause(2_000);
    expect(changes()).toBe(1);
    await send(await printBill(makeBill(2)));
    await pause(2_000);
    expect(changes()).toBe(2);
    leaving.abort();
    await listening;
    // The last round of looking ends before the database is taken down.
    await pause(900);
  });
});

describe('asking', () => {
  test.each([['/nothing', 404], ['/runs/not-an-id', 400], ['/runs/01ARZ3NDEKTSV4RRFFQ69G5FAV', 404], ['/runs?limit=5000', 400], ['/documents?state=odd', 400], ['/lists/haulage-ledger/rows?filter=[', 400], ['/lists/nothing/rows', 404], ['/tasks/01ARZ3NDEKTSV4RRFFQ69G5FAV', 404], ['/demo/send', 405], ['/health', 503]])('%s is answered with %i and a sentence', async (path, status) => {
    const answer = await ask(path);
    expect(answer.status).toBe(status);
    if (status !== 503) expect(await answer.json()).toMatchObject({ status, detail: expect.stringMatching(/\w{3,}/) });
  });

  test('a change asked for by a page of another site is not made', async () => {
    expect((await ask('/demo/send', { method: 'POST', body: '{}', headers: { 'sec-fetch-site': 'cross-site' } })).status).toBe(403);
  });

  test('a source is saved with its secret sealed, and never shows it', async () => {
    const settings = { host: '127.0.0.1', port: 1, secure: false, user: 'u' };
    const put = (secret: string | null, more: object = {}) => ask('/sources/mail', { method: 'PUT', body: JSON.stringify({ name: 'Mail', connector: 'mailbox', settings: { ...settings, ...more }, secret, pipeline: 'haulage-to-ledger' }) });
    expect((await put('herring')).status).toBe(204);
    expect((await put(null)).status).toBe(204);
    const text = await (await ask('/sources')).text();
    expect([text.includes('herring'), JSON.parse(text)]).toEqual([false, [expect.objectContaining({ key: 'mail', settings: { ...settings, folder: 'INBOX', bodies: 'report', several: 'each', after: 'mark as read', moveTo: 'Taken', pollSeconds: 60 } })]]);
    expect((await put(null, { port: 'none' })).status).toBe(400);
    const tried = await ask('/sources/mail/try', { method: 'POST', body: JSON.stringify({ name: 'Mail', connector: 'mailbox', settings, secret: null, pipeline: 'haulage-to-ledger' }) });
    expect([tried.status, await tried.json()]).toEqual([400, expect.objectContaining({ detail: expect.stringContaining('Nothing answers at 127.0.0.1:1') })]);
  });

  test('an event of properties is recorded with its run, and what cannot be fetched is refused in a sentence', async () => {
    const send = (body: object, key = 'e1') => ask('/pipelines/haulage-to-ledger/events', { method: 'POST', body: JSON.stringify(body), headers: { 'idempotency-key': key } });
    const answer = await send({ subject: 'There', properties: { berth: 'A4', boxes: 7, iced: true }, files: [{ at: 'https://archive.example/4711.pdf' }, { at: 'https://archive.example/4712.pdf' }], several: 'all' });
    const { documents } = (await answer.json()) as { documents: { fileName: string; run: unknown }[] };
    expect([answer.status, documents.map(({ fileName }) => fileName), documents[0]?.run !== null]).toEqual([202, ['4711.pdf and 1 more'], true]);
    expect((await send({}, 'e1')).status).toBe(200);
    expect(await (await send({ files: [{ at: 'https://archive.example/50%off.pdf' }] }, 'e2')).json()).toMatchObject({ documents: [{ fileName: '50%off.pdf' }] });
    expect(await (await send({ files: [{ at: 'https://archive.example/x', name: '../../etc/passwd' }] }, 'e3')).json()).toMatchObject({ documents: [{ fileName: 'passwd' }] });
    for (const [body, said] of [[{ files: [{ at: 'file:///etc/passwd' }] }, 'no address that can be fetched'], [{ files: [{ at: 'https://[nowhere' }] }, 'no address that can be fetched'], [{ files: [{ at: 'x.pdf', connection: 'archive' }] }, 'no path below “archive”'], [{ properties: { 'a.b': '1' } }, 'properties']] as const) {
      const refused = await send(body, JSON.stringify(body).slice(0, 50));
      expect([refused.status, await refused.text()]).toEqual([400, expect.stringContaining(said)]);
    }
    expect((await ask('/pipelines/nowhere/events', { method: 'POST', body: '{}' })).status).toBe(404);
  });

  test('lists are exported as RFC 4180 text, formulas made harmless', async () => {
    const answer = await ask('/lists/haulage-ledger/export');
    expect([answer.headers.get('content-disposition'), await answer.text()]).toEqual([`attachment; filename="haulage-ledger.csv"; filename*=UTF-8''haulage-ledger.csv`, 'Haulier,Bill,Date,Account,Discount,Tax,Total,Pay,Document\r\n']);
  });
});
