import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { Webhook } from 'standardwebhooks';
import { advance } from '@/engine/advance';
import { newWebhookSecret, secretProblem } from '@/connectors/webhook/webhook';
import type { CloudEvent } from '@/core/telling/notice';
import { claimRuns } from '@/store/queries/runs';
import { notice, telling } from '@/store/schema';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { publish } from './definitions';
import { describeListeners, describeTellings, eventLog, removeListener, replay, saveListener, tellDue, tryListener } from './listeners';
import { receive } from './receive';

let bed: TestBed;
let server: http.Server;
/** What the receiver answers next; 204 when nothing is said. */
let answers: { status: number; headers?: Record<string, string> }[] = [];
let heard: { id: string; event: CloudEvent }[] = [];
const SECRET = newWebhookSecret();

beforeAll(async () => {
  bed = await openTestBed('listeners');
  await loadScenario(bed.services);
  await publish(bed.services, TESTER, 'pipeline', 'leadline: pipeline/1\nkey: short\nname: Short\nsteps: [{ id: why, do: stop, reason: nothing to do }]\n', 'test');
  await publish(bed.services, TESTER, 'pipeline', 'leadline: pipeline/1\nkey: asks\nname: Asks\nsteps: [{ id: who, do: ask, title: Who is it for?, answers: [{ key: name, label: Name, type: text }] }]\n', 'test');
  await publish(bed.services, TESTER, 'pipeline', 'leadline: pipeline/1\nkey: strands\nname: Strands\nsteps: [{ id: on, do: start, pipeline: nowhere }]\n', 'test');
  server = http.createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part)).on('end', () => {
      const { status, headers } = answers.shift() ?? { status: 204 };
      if (status < 300) heard.push({ id: String(request.headers['webhook-id']), event: new Webhook(SECRET).verify(Buffer.concat(parts).toString('utf8'), request.headers as Record<string, string>) as CloudEvent });
      response.writeHead(status, headers).end();
    });
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
});
afterAll(async () => {
  server.close();
  await bed.close();
});
beforeEach(async () => {
  [answers, heard] = [[], []];
  await bed.services.store.db.delete(telling);
  await bed.services.store.db.delete(notice);
  await listen({});
});

const listen = (changes: Partial<Parameters<typeof saveListener>[2]>) => saveListener(bed.services, TESTER, { key: 'books', name: 'The books', url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/hook`, types: [], secret: SECRET, enabled: true, ...changes });

/** A note arrives for a pipeline and is worked on. Returns its run. */
async function run(pipelineKey: string): Promise<string> {
  const name = `${pipelineKey}-${Math.random()}`;
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey }, { dedupeKey: name, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: 'note.txt', mediaType: 'text/plain', bytes: Buffer.from(`A note of ${name}.`) }] });
  for (const claim of await claimRuns(bed.services.store.db, 'W', 20, 60_000)) await advance(testEngine(bed.services), claim, new AbortController().signal);
  return documents[0]!.runId!;
}
const dueNow = () => bed.services.store.pool.query('UPDATE telling SET due_at = NOW(6) - INTERVAL 1 SECOND');
const state = async () => (await describeListeners(bed.services))[0];

test('a listener hears of a finished run, a stranded one, and of somebody being needed, each signed', async () => {
  const runs = [await run('short'), await run('asks'), await run('strands')];
  await tellDue(bed.services);
  expect(heard.map(({ event }) => [event.type, event.subject])).toEqual(expect.arrayContaining([['leadline.run.finished', `runs/${runs[0]}`], ['leadline.task.opened', `runs/${runs[1]}`], ['leadline.run.stranded', `runs/${runs[2]}`]]));
  expect(heard).toHaveLength(3);
  expect(heard.find(({ event }) => event.type === 'leadline.run.stranded')?.event.data['failure']).toMatchObject({ code: 'no-such-pipeline' });
  expect(await state()).toMatchObject({ told: 3, due: 0, problem: null });
});
test('it hears only of what it wants, and of nothing while it is switched off', async () => {
  await listen({ types: ['leadline.run.stranded'] });
  await run('short');
  await tellDue(bed.services);
  await listen({ enabled: false });
  await run('strands');
  await tellDue(bed.services);
  expect(heard).toEqual([]);
});
test('one that is busy is told again when it said, under the same id', async () => {
  answers = [{ status: 503, headers: { 'retry-after': '120' } }];
  await run('short');
  await tellDue(bed.services);
  const [waiting] = await describeTellings(bed.services, 'books');
  expect(waiting).toMatchObject({ state: 'due', attempts: 1 });
  expect(Date.parse(waiting!.nextAt!) - Date.now()).toBeGreaterThan(100_000);
  expect((await state())?.problem).toContain('answered 503');
  expect(await tellDue(bed.services)).toBe(0);
  await dueNow();
  await tellDue(bed.services);
  expect(heard.map(({ id }) => id)).toEqual([waiting!.id]);
  expect(await state()).toMatchObject({ told: 1, due: 0, problem: null });
});
test('after sixteen attempts it is given up, and the log still has it', async () => {
  await run('short');
  for (let attempt = 1; attempt <= 16; attempt += 1) {
    answers = [{ status: 500 }];
    await tellDue(bed.services);
    await dueNow();
  }
  expect(await tellDue(bed.services)).toBe(0);
  expect(await state()).toMatchObject({ told: 0, givenUp: 1 });
  await bed.services.store.pool.query('UPDATE notice SET at = at - INTERVAL 10 SECOND');
  expect((await eventLog(bed.services, { after: '', types: [], most: 10 })).map(({ type }) => type)).toEqual(['leadline.run.finished']);
});
test('one that is gone for good is switched off', async () => {
  answers = [{ status: 410 }];
  await run('short');
  await tellDue(bed.services);
  expect(await state()).toMatchObject({ enabled: false, givenUp: 1 });
});
test('a worker that dies while it tells only delays it', async () => {
  await run('short');
  const { spreadNotices, takeDueTellings } = await import('@/store/queries/notices');
  await spreadNotices(bed.services.store.db, 10);
  expect(await takeDueTellings(bed.services.store.db, 10, 60_000)).toHaveLength(1);
  expect(await tellDue(bed.services)).toBe(0);
  await dueNow();
  await tellDue(bed.services);
  expect(heard).toHaveLength(1);
});
test('what happened can be told again, to one who came later too', async () => {
  await removeListener(bed.services, TESTER, 'books');
  await run('short');
  await tellDue(bed.services);
  await listen({});
  expect(await replay(bed.services, TESTER, 'books', new Date(Date.now() - 60_000).toISOString())).toBe(1);
  await tellDue(bed.services);
  expect(await replay(bed.services, TESTER, 'books', new Date(Date.now() - 60_000).toISOString())).toBe(1);
  await tellDue(bed.services);
  expect(heard).toHaveLength(2);
  expect(heard[0]?.id).toBe(heard[1]?.id);
  expect(await replay(bed.services, TESTER, 'books', new Date(Date.now() + 60_000).toISOString())).toBe(0);
});
test('a test event is taken or the reason is told', async () => {
  expect(await tryListener(bed.services, 'books')).toContain('took a test event');
  answers = [{ status: 404 }];
  await expect(tryListener(bed.services, 'books')).rejects.toThrow('answered 404');
});
test('a secret that cannot sign is refused in a sentence; one is made where none is given', async () => {
  await expect(listen({ secret: 'hush' })).rejects.toThrow('begins with “whsec_”');
  await expect(listen({ secret: 'whsec_aGVsbG8=' })).rejects.toThrow('24 to 64 bytes; this one has 5');
  const { secret } = await listen({ key: 'other', secret: null });
  expect(secretProblem(secret ?? '')).toBeNull();
  expect((await listen({ key: 'other', secret: null })).secret).toBeNull();
  await removeListener(bed.services, TESTER, 'other');
});
test('the log is read on from where one left it, without its newest seconds', async () => {
  await run('short');
  await run('strands');
  expect(await eventLog(bed.services, { after: '', types: [], most: 10 })).toEqual([]);
  await bed.services.store.pool.query('UPDATE notice SET at = at - INTERVAL 10 SECOND');
  const [first] = await eventLog(bed.services, { after: '', types: [], most: 1 });
  const rest = await eventLog(bed.services, { after: first!.id, types: [], most: 10 });
  expect([first!.type, ...rest.map(({ type }) => type)]).toEqual(['leadline.run.finished', 'leadline.run.stranded']);
  expect(await eventLog(bed.services, { after: '', types: ['leadline.run.stranded'], most: 10 })).toHaveLength(1);
});
