import { parse } from 'csv-parse/sync';
import { eq, sql } from 'drizzle-orm';
import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import mysql from 'mysql2/promise';
import path from 'node:path';
import { stringify } from 'yaml';
import type { Step } from '@/core/pipeline/definition';
import type { Question } from '@/core/pipeline/facts';
import { describeConnections, pauseConnection, saveConnection } from '@/services/connections';
import { importFile } from '@/services/reference-lists';
import { describeRun, refloat, tallyRuns } from '@/services/runs';
import { surroundingsOf } from '@/services/surroundings';
import { tryPipeline } from '@/services/try-out';
import { hurry, runById } from '@/store/queries/runs';
import { delivery, run, task } from '@/store/schema';
import { makeBill } from '../../demo/bills/bill';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { freePort, startEntry, type Started } from '../../tests/support/processes';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { READ, Steps } from '../../tests/support/steps';
import { startTools, type ToolServer } from '../../tests/support/tools';

let bed: TestBed;
let ledger: Started;
let mail: Started;
let [ledgerPort, smtpPort, mailControl] = [0, 0, 0];
const KEY = 'key-of-the-test';
beforeAll(async () => {
  bed = await openTestBed('steps');
  bench = new Steps(bed);
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
  [ledgerPort, smtpPort, mailControl] = [await freePort(), await freePort(), await freePort()];
  ledger = await startEntry('src/standins/ledger/main.ts', [ledgerPort, KEY, path.join(bed.dataFolder, 'ledger')], {});
  mail = await startEntry('src/standins/mail/main.ts', [await freePort(), smtpPort, mailControl, 'office@skarrow.example', 'herring'], {});
  await vendors('H-101');
  await saveConnection(bed.services, TESTER, { key: 'harbour-ledger', name: 'Harbour Ledger', connector: 'http', settings: { url: url(), checkPath: '/openapi.json' }, secret: KEY });
  await importFile(bed.services, TESTER, { key: 'hauliers', name: 'Hauliers', description: '', keyColumn: 'Number' }, { name: 'h.csv', bytes: Buffer.from('Number,Name,City\nH-101,Merrow Haulage,Skarrow\nH-102,Tollan Reefer,Ebbe\n') });
});
afterAll(async () => {
  await ledger.kill();
  await mail.kill();
  await bed.close();
});

const url = () => `http://127.0.0.1:${ledgerPort}`;
const read = READ;
let bench: Steps;
const run1 = (...given: Step[]) => bench.run(...given);
const work: Steps['work'] = (...engine) => bench.work(...engine);
const outcome = (id: string) => bench.outcome(id);
const openTask = (id: string) => bench.openTask(id);
const answer: Steps['answer'] = (...said) => bench.answer(...said);
const records = async () => (await (await fetch(`${url()}/records`)).json()) as { bills: { id: string; number: string; total: string; lines: unknown[]; note: string; key: string }[] };
const vendors = (...ids: string[]) => fetch(`${url()}/vendors`, { method: 'PUT', body: JSON.stringify(ids.map((id) => ({ id, name: 'Merrow Haulage', account: 'SQ-4471' }))) });
const exactly = (pathName: string, mishap: string, times = 1) => fetch(`${url()}/weather`, { method: 'PUT', body: JSON.stringify({ exact: [{ path: pathName, answer: mishap, count: times }] }) });
const bill = { vendor: { text: 'H-101' }, number: 'number', total: 'total' } as const;

describe('looking up', () => {
  const find: Step = { id: 'who', do: 'look-up', list: 'hauliers', find: 'haulier', column: 'Name' };
  test('gives the columns of the row to later steps', async () => {
    expect(await outcome(await run1(find, { id: 'note', do: 'set', values: { city: { pick: 'who.City' }, said: { text: '{who.Number}: {number}' } } }))).toMatchObject({ state: 'finished', texts: ['Found: Number H-101, Name Merrow Haulage, City Skarrow.', 'city = “Skarrow”, said = “H-101: MH-104002”'] });
  });
  test('what is not there is asked, with the nearest rows; the answer goes on', async () => {
    const id = await run1({ ...find, find: { text: 'Merow Haulag' } }, { id: 'note', do: 'set', values: { who: { pick: 'who.Number' } } });
    const asked = await openTask(id);
    expect((asked.question as Extract<Question, { asks: 'row' }>).options.map((option) => option.value)).toEqual(['H-101', 'H-102']);
    await expect(answer(asked.id, 'H-999')).rejects.toThrow('“H-999” is no key of the list “Hauliers”');
    await answer(asked.id, 'H-101');
    await work();
    expect(await outcome(id)).toMatchObject({ state: 'finished', texts: ['Tester says: Number H-101, Name Merrow Haulage, City Skarrow.', 'who = “H-101”'] });
  });
  test('or the run goes on without, or strands', async () => {
    expect(await outcome(await run1({ ...find, find: { text: 'nobody' }, missing: 'go on' }))).toMatchObject({ state: 'finished', texts: ['It is not in the list; the run goes on without.'] });
    expect(await outcome(await run1({ ...find, find: { text: 'nobody' }, missing: 'strand' }))).toMatchObject({ state: 'stranded', failures: ['The value is not in the list: “nobody” is not in the list “hauliers”. Add it to the list or correct it, then refloat'] });
  });
});

describe('computing', () => {
  test('with decimals, over fields and rows', async () => {
    const made = makeBill(2);
    const { texts } = await outcome(await run1({ id: 'note', do: 'set', values: { half: { expression: '$rounded($over(total, 2), 2)' }, rows: { expression: '$count(lines)' } } }));
    expect(texts).toEqual([`half = “${made.total.div(2).toDecimalPlaces(2).toFixed(2)}”, rows = “${made.rows.length}”`]);
  });
  test('an expression that fails on one row strands the run, naming the row', async () => {
    const { state, failures } = await outcome(await run1({ id: 'csv', do: 'write-csv', file: 'Fails.csv', each: 'lines', columns: { A: { expression: '$error(row.amount)' } } }));
    expect([state, failures]).toEqual(['stranded', [expect.stringContaining('A of row 1: “$error(row.amount)”')]]);
  });
});

describe('asking', () => {
  test('for approval: approved goes on, rejected stops with the reason', async () => {
    const approve: Step = { id: 'ok', do: 'approve', title: 'Pay this?', text: '{haulier} wants {total}' };
    const [yes, no] = [await run1(approve), await run1(approve)];
    expect(await openTask(yes)).toMatchObject({ title: 'Pay this?', reason: `Merrow Haulage wants ${makeBill(2).total.toFixed(2)}` });
    await answer((await openTask(yes)).id, 'approved');
    await expect(answer((await openTask(no)).id, 'rejected')).rejects.toThrow('Say why');
    await answer((await openTask(no)).id, 'rejected', { note: 'Not ordered' });
    await work();
    expect([await outcome(yes), await outcome(no)]).toMatchObject([{ state: 'finished', stopped: null }, { state: 'finished', stopped: 'Rejected by Tester: Not ordered' }]);
  });
  test('a small form, whose answers fit their types', async () => {
    const id = await run1({ id: 'q', do: 'ask', title: 'Which berth?', answers: [{ key: 'berth', label: 'Berth', type: 'choice', options: ['A1', 'A2'], required: true }, { key: 'price', label: 'Price', type: 'money' }] }, { id: 'note', do: 'set', values: { b: { pick: 'q.berth' }, p: { pick: 'q.price' } } });
    const { id: taskId } = await openTask(id);
    await expect(answer(taskId, null, { values: { berth: 'Z9' } })).rejects.toThrow('must be one of A1, A2');
    await expect(answer(taskId, null, { values: { price: '1.00' } })).rejects.toThrow('“Berth” is needed');
    await expect(answer(taskId, null, { values: { berth: 'A2', price: 'dear' } })).rejects.toThrow('“Price”');
    await answer(taskId, null, { values: { berth: 'A2', price: '12.5' } });
    await work();
    expect((await outcome(id)).texts.at(-1)).toBe('b = “A2”, p = “12.50”');
  });
});

describe('waiting', () => {
  test('holds no worker and goes on when the time has come', async () => {
    const id = await run1({ id: 'rest', do: 'wait', minutes: 60 }, { id: 'note', do: 'set', values: { a: 'b' } });
    const row = await runById(bed.services.store.db, id);
    expect([row?.state, (await outcome(id)).texts[0]]).toEqual(['queued', expect.stringMatching(/^Waits until /)]);
    await bed.services.store.db.update(run).set({ dueAt: sql`NOW(6)` }).where(eq(run.id, id));
    await work(testEngine(bed.services, { clock: { nowMs: () => Date.now() + 3_600_001 } }));
    expect(await outcome(id)).toMatchObject({ state: 'finished', texts: ['Waited.', 'a = “b”'] });
  });
  test('until a date that is over means no wait, and what is no date says so', async () => {
    expect(await outcome(await run1({ id: 'rest', do: 'wait', until: 'date' }))).toMatchObject({ state: 'finished' });
    expect((await outcome(await run1({ id: 'rest', do: 'wait', until: 'number' }))).failures).toEqual([expect.stringContaining('is no date or time to wait until')]);
  });
});

describe('calling and sending', () => {
  test('asks a service and uses its answer', async () => {
    expect(await outcome(await run1({ id: 'v', do: 'call', connection: 'harbour-ledger', method: 'GET', path: '/v1/vendors', query: { name: 'haulier' }, take: { id: 'items[0].id', account: 'items[0].account' } }))).toMatchObject({ state: 'finished', texts: ['id H-101, account SQ-4471.'] });
  });
  test('writes once, whatever befalls the answer: it fell silent after it had done it', async () => {
    const before = (await records()).bills.length;
    await exactly('/v1/bills', 'falls silent', 2);
    const id = await run1({ id: 'post', do: 'send', connection: 'harbour-ledger', method: 'POST', path: '/v1/bills', body: { ...bill, lines: { expression: '$string(lines)' } }, take: { id: 'id' } }, { id: 'note', do: 'set', values: { ref: { pick: 'post.id' } } });
    const { bills } = await records();
    expect([bills.length - before, bills.at(-1)]).toEqual([1, expect.objectContaining({ number: 'MH-104002', total: makeBill(2).total.toFixed(2), key: `${id}/post` })]);
    expect(bills.at(-1)?.lines).toHaveLength(makeBill(2).rows.length);
    expect(await outcome(id)).toMatchObject({ state: 'finished', texts: [expect.stringContaining(`id ${bills.at(-1)?.id}`), `ref = “${bills.at(-1)?.id}”`] });
  });
  test('a refusal strands the run with what the application said', async () => {
    const { state, failures } = await outcome(await run1({ id: 'post', do: 'send', connection: 'harbour-ledger', method: 'POST', path: '/v1/bills', body: { ...bill, vendor: { text: 'H-999' } } }));
    expect([state, failures]).toEqual(['stranded', [expect.stringContaining('answered 422 (There is no vendor “H-999”.)')]]);
  });
  test('where the application keeps no keys and nothing can be asked, a person decides whether it arrived', async () => {
    await saveConnection(bed.services, TESTER, { key: 'forgetful', name: 'Forgetful', connector: 'http', settings: { url: url(), checkPath: '/openapi.json', keepsKeys: false }, secret: KEY });
    const post: Step = { id: 'post', do: 'send', connection: 'forgetful', method: 'POST', path: '/v1/bills', body: bill };
    await exactly('/v1/bills', 'drops', 1);
    const id = await run1(post);
    const asked = await openTask(id);
    expect([asked.title, (await bed.services.store.db.select().from(delivery).where(eq(delivery.runId, id)))[0]?.state]).toEqual(['Has it arrived?', 'uncertain']);
    const before = (await records()).bills.length;
    await answer(asked.id, 'again');
    await work();
    expect([(await records()).bills.length - before, (await outcome(id)).state]).toEqual([1, 'finished']);
    await exactly('/v1/bills', 'falls silent', 1);
    const second = await run1(post);
    await answer((await openTask(second)).id, 'arrived');
    await work();
    expect([(await records()).bills.length - before, (await outcome(second)).texts]).toEqual([2, [expect.stringContaining('Tester says that it arrived')]]);
  });
  test('with a place to ask, it asks itself instead', async () => {
    const post: Step = { id: 'post', do: 'send', connection: 'forgetful', method: 'POST', path: '/v1/bills', body: bill, confirm: '/v1/bills/B-0' };
    await exactly('/v1/bills', 'drops', 1);
    expect((await outcome(await run1(post))).state).toBe('finished');
  });
  test('a wrong key is asked for once, and every run that waits for it goes on by itself', async () => {
    await saveConnection(bed.services, TESTER, { key: 'locked', name: 'Locked', connector: 'http', settings: { url: url(), checkPath: '/openapi.json' }, secret: 'wrong' });
    const ask: Step = { id: 'v', do: 'call', connection: 'locked', method: 'GET', path: '/v1/vendors' };
    const ids = [await run1(ask), await run1(ask)];
    expect([(await runById(bed.services.store.db, ids[0]!))?.state, (await openTask(ids[0]!)).title]).toEqual(['waiting', 'The service does not know our key']);
    await saveConnection(bed.services, TESTER, { key: 'locked', name: 'Locked', connector: 'http', settings: { url: url(), checkPath: '/openapi.json' }, secret: KEY });
    await work();
    expect(await Promise.all(ids.map(async (id) => (await outcome(id)).state))).toEqual(['finished', 'finished']);
  });
  test('a key can be given for one run alone; the next one asks again, and one that is kept lets all go on', async () => {
    await saveConnection(bed.services, TESTER, { key: 'borrowed', name: 'Borrowed', connector: 'http', settings: { url: url(), checkPath: '/openapi.json' }, secret: 'wrong' });
    const ask: Step = { id: 'v', do: 'call', connection: 'borrowed', method: 'GET', path: '/v1/vendors' };
    const ids = [await run1(ask), await run1(ask), await run1(ask)] as const;
    const give = async (id: string, how: string, secret: string) => answer((await openTask(id)).id, how, { values: { secret } });
    expect((await openTask(ids[0])).question).toMatchObject({ asks: 'supply', credential: 'borrowed' });
    await expect(give(ids[0], 'once', '')).rejects.toThrow('Type the key first.');
    await give(ids[0], 'once', 'not it either');
    await work();
    await give(ids[0], 'once', KEY);
    await work();
    expect(await Promise.all(ids.map(async (id) => (await outcome(id)).state))).toEqual(['finished', 'waiting', 'waiting']);
    const kept = await bed.services.store.db.execute(sql`SELECT COUNT(*) AS n FROM fact WHERE run_id = ${ids[0]} AND result LIKE '%borrowed %'`) as unknown as [{ n: number }[]];
    expect(Number(kept[0][0]?.n)).toBe(0);
    await give(ids[1], 'always', KEY);
    await work();
    expect(await Promise.all(ids.map(async (id) => (await outcome(id)).state))).toEqual(['finished', 'finished', 'finished']);
  });
  test('a connection that is not there is asked for, and another answer than mending it does the step again', async () => {
    const id = await run1({ id: 'v', do: 'call', connection: 'ghost', method: 'GET', path: '/' });
    const asked = await openTask(id);
    await answer(asked.id, 'again');
    await work();
    expect([(await openTask(id)).id === asked.id, (await openTask(id)).reason]).toEqual([false, 'The connection is not there: “ghost”. Add it under Connections, and the run goes on']);
  });
  test('a connection is asked no faster than it may be', async () => {
    await saveConnection(bed.services, TESTER, { key: 'slow', name: 'Slow', connector: 'http', settings: { url: url(), checkPath: '/openapi.json', perMinute: 60 }, secret: KEY });
    const three: Step[] = [1, 2, 3, 4, 5, 6, 7, 8].map((number) => ({ id: `c${number}`, do: 'call', connection: 'slow', method: 'GET', path: '/v1/vendors' }));
    const begun = Date.now();
    const id = await run1(...three);
    // A burst of six is let through, then one a second; waiting for one's turn is no failed attempt.
    expect((await outcome(id)).state).toBe('finished');
    expect(Date.now() - begun).toBeGreaterThan(1_900);
    expect((await describeRun(bed.services, id)).steps.flatMap((step) => step.failed)).toEqual([]);
  });
});

describe('a connection that is paused', () => {
  const ask: Step = { id: 'c', do: 'call', connection: 'harbour-ledger', method: 'GET', path: '/v1/vendors', take: { v: 'items[0].id' } };
  afterEach(() => pauseConnection(bed.services, TESTER, 'harbour-ledger', false));
  test('is not asked; what needs it waits without using up its attempts, and goes on', async () => {
    await pauseConnection(bed.services, TESTER, 'harbour-ledger', true);
    const id = await run1(ask);
    for (let turn = 0; turn < 5; turn += 1) {
      await hurry(bed.services.store.db, id);
      await work();
    }
    const held = await describeRun(bed.services, id);
    expect([held.state, held.steps.at(-1)?.state, held.steps.at(-1)?.failed.length, held.failure]).toEqual(['queued', 'resting', 0, expect.stringContaining('was paused by a person')]);
    await pauseConnection(bed.services, TESTER, 'harbour-ledger', false);
    await hurry(bed.services.store.db, id);
    await work();
    expect((await outcome(id)).state).toBe('finished');
  });
  test('says who paused it', async () => {
    await pauseConnection(bed.services, TESTER, 'harbour-ledger', true);
    expect((await describeConnections(bed.services)).find(({ key }) => key === 'harbour-ledger')?.paused?.by).toBe(TESTER.name);
    await expect(pauseConnection(bed.services, TESTER, 'nowhere', true)).rejects.toThrow('no connection “nowhere”');
  });
});

describe('a tool of another server', () => {
  let tools: ToolServer;
  beforeAll(async () => {
    tools = await startTools();
    await saveConnection(bed.services, TESTER, { key: 'log', name: 'Harbour log', connector: 'mcp', settings: { url: tools.url }, secret: tools.token });
  });
  afterAll(() => tools.close());
  const use = (tool: string): Step => ({ id: 't', do: 'tool', connection: 'log', tool, input: { [tool === 'mark' ? 'berth' : 'text']: { text: 'Bill {number}' } }, take: { entry: 'id' } });
  test('is given values, and what it answers is there for later steps', async () => {
    const id = await run1(use('enter'), { id: 'n', do: 'set', values: { got: { pick: 't.entry' } } });
    expect([(await outcome(id)).state, tools.done.at(-1)]).toEqual(['finished', { tool: 'enter', input: { text: 'Bill MH-104002' }, key: `${id}/t` }]);
  });
  test('that may be repeated is used again after an answer broke off; of any other a person says whether it was done', async () => {
    tools.breakOff = 1;
    expect((await outcome(await run1(use('mark')))).state).toBe('finished');
    tools.breakOff = 1;
    const id = await run1(use('enter'));
    const asked = await openTask(id);
    expect((asked.question as Question).asks).toBe('delivery');
    const before = tools.done.length;
    await answer(asked.id, 'arrived');
    await work();
    expect([(await outcome(id)).state, tools.done.length]).toEqual(['finished', before]);
  });
});

describe('mail', () => {
  beforeAll(() => saveConnection(bed.services, TESTER, { key: 'post', name: 'Post', connector: 'mail', settings: { host: '127.0.0.1', port: smtpPort, from: 'office@skarrow.example' }, secret: null }));
  const sent = async () => ((await (await fetch(`http://127.0.0.1:${mailControl}/elsewhere`)).json()) as { raw: string }[]).map(({ raw }) => raw);
  test('goes out with its values filled in and the document attached', async () => {
    const id = await run1({ id: 'm', do: 'mail', connection: 'post', to: '{document.sender}', subject: 'Your bill {number}', text: 'Thank you, {haulier}.', attach: true });
    expect((await outcome(id)).state).toBe('finished');
    const raw = (await sent()).at(-1) ?? '';
    for (const part of ['To: accounts@merrow-haulage.example', 'Subject: Your bill MH-104002', 'Thank you, Merrow Haulage.', '.pdf', 'Message-ID: <']) expect(raw).toContain(part);
  });
  test('without an address it says so', async () => {
    expect((await outcome(await run1({ id: 'm', do: 'mail', connection: 'post', to: '{note.nobody}', subject: 'x', text: 'x' }))).failures).toEqual([expect.stringContaining('the mail has nobody to go to')]);
  });
});

describe('writing files and tables', () => {
  test('a CSV file gets its rows once, headings first, and leaves out what is there', async () => {
    const csv: Step = { id: 'csv', do: 'write-csv', file: 'Bills.csv', columns: { Haulier: 'haulier', Bill: 'number' }, unless: 'Bill' };
    const [one, two] = [await run1(csv), await run1(csv)];
    expect([(await outcome(one)).texts, (await outcome(two)).texts]).toEqual([['Wrote 1 row to CSV file Bills.csv.'], ['Wrote 0 rows to CSV file Bills.csv, left out 1 that was there already.']]);
    expect(readFileSync(path.join(bed.services.workbookFolder, 'Bills.csv'), 'utf8')).toBe(`Haulier,Bill,Leadline\r\nMerrow Haulage,MH-104002,${one}/csv\r\n`);
  });
  test('a document is filed under a name made of its values, never over another', async () => {
    const file: Step = { id: 'f', do: 'write-file', folder: 'Bills/{haulier}', name: '{number}', content: 'original' };
    await run1(file);
    await run1(file);
    expect(readdirSync(path.join(bed.services.workbookFolder, 'Bills/Merrow Haulage'))).toEqual(['MH-104002 (2).pdf', 'MH-104002.pdf']);
    await run1({ id: 'f', do: 'write-file', name: '../../{number}', content: 'values' });
    const values = readdirSync(bed.services.workbookFolder).find((name) => name.endsWith('.json')) ?? '';
    expect(JSON.parse(readFileSync(path.join(bed.services.workbookFolder, values), 'utf8'))).toMatchObject({ number: 'MH-104002', haulier: 'Merrow Haulage' });
  });
  test('a table of a database gets its rows in one transaction, once per delivery', async () => {
    const { host, port, user, password, name } = bed.services.settings.database;
    const office = await mysql.createConnection({ host, port, user, password, database: name });
    await office.query('CREATE TABLE office_lines (text VARCHAR(200), amount DECIMAL(12,2), leadline_key VARCHAR(160) UNIQUE)');
    await saveConnection(bed.services, TESTER, { key: 'office', name: 'Office', connector: 'database', settings: { host, port, user, database: name }, secret: password });
    const id = await run1({ id: 't', do: 'write-table', connection: 'office', table: 'office_lines', keyColumn: 'leadline_key', each: 'lines', columns: { text: 'row.description', amount: 'row.amount' } });
    const [rows] = await office.query<mysql.RowDataPacket[]>('SELECT * FROM office_lines ORDER BY leadline_key');
    expect([rows.length, rows[0]?.['leadline_key'], (await outcome(id)).texts]).toEqual([makeBill(2).rows.length, `${id}/t/0`, [`Wrote ${rows.length} ${rows.length === 1 ? 'row' : 'rows'} to table office_lines.`]]);
    const unknown = await run1({ id: 't', do: 'write-table', connection: 'office', table: 'office_lines', keyColumn: 'leadline_key', columns: { ghost: 'number' } });
    expect((await openTask(unknown)).reason).toContain("Unknown column 'ghost'");
    await office.end();
  });
});

describe('another pipeline', () => {
  test('is started once with the document, and one that starts itself is stopped', async () => {
    const child = await run1({ id: 'end', do: 'set', values: { a: 'b' } });
    const childKey = (await runById(bed.services.store.db, child))?.pipelineKey ?? '';
    const id = await run1({ id: 'next', do: 'start', pipeline: childKey });
    const runs = await bed.services.store.db.select().from(run).where(eq(run.documentId, (await runById(bed.services.store.db, id))?.documentId ?? ''));
    expect(runs.map((one) => [one.pipelineKey === childKey, one.state, one.depth]).sort()).toEqual([[false, 'finished', 0], [true, 'finished', 1]]);
    const key = bench.nextKey;
    const itself = await run1({ id: 'again', do: 'start', pipeline: key });
    const chain = await bed.services.store.db.select().from(run).where(eq(run.documentId, (await runById(bed.services.store.db, itself))?.documentId ?? ''));
    expect([chain.length, chain.filter((one) => one.state === 'stranded').length]).toEqual([9, 1]);
    const tried = await tryPipeline(bed.services, key, stringify({ leadline: 'pipeline/1', key, name: key, steps: [read, { id: 'again', do: 'start', pipeline: key }] }));
    expect(tried.complaints.map(({ text }) => text)).toEqual(['It starts its own pipeline, and would go round for ever. Start another one.']);
  });
});

test('a pipeline is started with each line, which goes along', async () => {
  const child = await run1({ id: 'csv', do: 'write-csv', file: 'Started.csv', columns: { Text: 'came.text', Of: 'came.bill' } });
  const childKey = (await runById(bed.services.store.db, child))?.pipelineKey ?? '';
  const id = await run1({ id: 'all', do: 'each', of: 'lines', steps: [{ id: 'go', do: 'start', pipeline: childKey, give: { text: 'row.description', bill: { text: 'No. {number}' } } }] });
  const lines = makeBill(2).rows;
  const written = (parse(readFileSync(path.join(bed.services.workbookFolder, 'Started.csv'), 'utf8')) as string[][]).slice(2);
  expect([(await outcome(id)).state, written.map(([, of]) => of)]).toEqual(['finished', lines.map(() => 'No. MH-104002')]);
  expect(written.map(([text]) => text).sort()).toEqual(lines.map(({ description }) => description).sort());
  const around = await surroundingsOf(bed.services);
  expect(around.pipelines.find(({ key }) => key === childKey)?.given).toEqual(['text', 'bill']);
});

describe('refloating from an earlier step', () => {
  const gone: Step = { id: 'w', do: 'write-list', list: 'nowhere', columns: { Bill: 'number' } };
  test('does it and those behind it anew', async () => {
    const id = await run1({ id: 'a', do: 'set', values: { now: { expression: '$string($millis())' } } }, gone);
    const [before] = (await outcome(id)).texts;
    await refloat(bed.services, TESTER, id, 'a');
    await work();
    const after = await outcome(id);
    expect([after.state, after.texts[0] === before]).toEqual(['stranded', false]);
    await expect(refloat(bed.services, TESTER, id, 'ghost')).rejects.toThrow('has no step “ghost”');
  });
  test('is refused where a step behind it has written', async () => {
    const id = await run1({ id: 'csv', do: 'write-csv', file: 'Once.csv', columns: { Bill: 'number' } }, gone);
    await expect(refloat(bed.services, TESTER, id, 'read')).rejects.toThrow('“csv” has written already');
    expect((await outcome(id)).state).toBe('stranded');
  });
});

describe('each line', () => {
  test('is worked on by itself: a failing line leaves the others done, and only it is repeated', async () => {
    const lines = makeBill(2).rows.length;
    const before = (await records()).bills.length;
    const vendor = { expression: 'row.description = lines[0].description ? "H-777" : "H-101"' };
    const id = await run1({ id: 'all', do: 'each', of: 'lines', steps: [{ id: 'post', do: 'send', connection: 'harbour-ledger', method: 'POST', path: '/v1/bills', body: { vendor, number: { text: '{number} {row.description}' }, total: 'row.amount' } }] });
    // The first line's vendor is not known there.
    const stranded = await outcome(id);
    expect([stranded.state, (await records()).bills.length - before]).toEqual(lines > 1 ? ['stranded', lines - 1] : ['stranded', 0]);
    const { steps } = await describeRun(bed.services, id);
    expect(steps.at(-1)?.lines.map(({ line, state }) => [line, state])).toEqual([[0, 'stranded'], ...Array.from({ length: lines - 1 }, (_, index) => [index + 1, 'done'])]);
    expect((await tallyRuns(bed.services, { pipeline: bench.key }, { offset: 0, limit: 5 })).rows[0]?.cells.at(-1)).toEqual({ step: 'post', state: 'stranded', text: `${lines - 1} of ${lines}` });
    await vendors('H-101', 'H-777');
    await refloat(bed.services, TESTER, id);
    await work();
    const { bills } = await records();
    expect([(await outcome(id)).state, bills.length - before, new Set(bills.slice(before).map((one) => one.key)).size]).toEqual(['finished', lines, lines]);
  });
  test('a person asked about one line holds up no other, and the answer to it is not lost', async () => {
    const id = await run1({ id: 'all', do: 'each', of: 'lines', steps: [{ id: 'ok', do: 'approve', title: 'Right?', when: { value: 'row.quantity', is: 'present' } }, { id: 'put', do: 'write-csv', file: 'Lines.csv', columns: { Text: 'row.description' } }] });
    const open = async () => bed.services.store.db.select().from(task).where(sql`run_id = ${id} AND state = 'open'`);
    const tasks = await open();
    expect(tasks.length).toBe(makeBill(2).rows.length);
    for (const one of tasks) {
      await answer(one.id, 'approved');
      await work();
    }
    expect([(await outcome(id)).state, readFileSync(path.join(bed.services.workbookFolder, 'Lines.csv'), 'utf8').trim().split('\r\n').length]).toEqual(['finished', tasks.length + 1]);
  });
});
