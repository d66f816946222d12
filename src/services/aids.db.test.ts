import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import mysql from 'mysql2/promise';
import os from 'node:os';
import path from 'node:path';
import { stringify } from 'yaml';
import { starterKind } from '@/core/definition/starters';
import type { KindDefinition } from '@/core/reading/kind';
import { StepFailure } from '@/core/resilience/failure';
import { eq } from 'drizzle-orm';
import { connection, list } from '@/store/schema';
import { startEntry, freePort, type Started } from '../../tests/support/processes';
import { runById } from '@/store/queries/runs';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { TESTER } from '../../tests/support/scenario';
import { makePaper } from '../../demo/papers/content';
import { makeTicket } from '../../demo/papers/harbour';
import { printPaper } from '../../demo/papers/print';
import { describeConnections, saveConnection, tryConnection } from './connections';
import { publish } from './definitions';
import { exportList, rowsOfList } from './lists';
import { importFile, importQuery, listsFor, removeList, syncDueLists, syncList } from './reference-lists';
import { forget, listRemembered, remember, worthAsking } from './remembered';
import { scanPage } from '../../demo/papers/scan';
import { paperOf } from './papers';
import { pictureOf } from './pictures';
import { addSamples } from './samples';
import { receive } from './receive';
import { askService, cancelJobsOf, jobIsDone } from './service-jobs';
import { askSounding, openSounding, workSounding } from './soundings';
import { describeSorting, sortFile } from './sorting';
import { inspectFile } from '@/digitise/inspect';

let bed: TestBed;
beforeAll(async () => (bed = await openTestBed('aids')));
afterAll(() => bed.close());

const csv = (text: string) => ({ name: 'accounts.csv', bytes: Buffer.from(text) });
const about = (key: string) => ({ key, name: `List ${key}`, description: '' });
const everything = { filters: {}, sort: null, descending: false };
const page = { offset: 0, limit: 50 };

describe('reference data from a file', () => {
  test('is kept with types and a key, looked at, filtered and exported', async () => {
    expect(await importFile(bed.services, TESTER, about('accounts'), csv('Account;Holder;Limit\r\n0047;Ebb & Sons;1.250,00\r\n0048;"Tide; Flow";90,50\r\n'))).toEqual({ rows: 2, keyColumn: 'Account' });
    const { list: head, rows } = await rowsOfList(bed.services, 'accounts', { ...everything, filters: { Holder: 'tide' } }, page);
    expect([head.keyColumn, head.columns.map((column) => column.type), rows.map((row) => row.cells)]).toEqual(['Account', ['identifier', 'text', 'money'], [{ Account: '0048', Holder: 'Tide; Flow', Limit: '90.50' }]]);
    expect((await exportList(bed.services, 'accounts', everything, 'csv')).bytes.toString('utf8')).toBe('Account,Holder,Limit\r\n0047,Ebb & Sons,1250.00\r\n0048,Tide; Flow,90.50\r\n');
  });
  test('new rows take the place of the old ones, and readers see them at once', async () => {
    await importFile(bed.services, TESTER, about('fresh'), csv('No,Name\n1001,a\n'));
    expect((await listsFor(bed.services, ['fresh'])).get('fresh')?.rows).toHaveLength(1);
    await importFile(bed.services, TESTER, about('fresh'), csv('No,Name\n1001,a\n1002,b\n'));
    expect((await listsFor(bed.services, ['fresh'])).get('fresh')?.rows.map((row) => row['No'])).toEqual(['1001', '1002']);
  });
  test('keeps everything as it was when something does not fit, and says what', async () => {
    await importFile(bed.services, TESTER, about('kept'), csv('No,Name\n1001,a\n'));
    await expect(importFile(bed.services, TESTER, about('kept'), csv('No,Name\n1001,a\n1001,b\n'))).rejects.toThrow('Row 3 has the same No “1001” as row 2.');
    await expect(importFile(bed.services, TESTER, about('kept'), { name: 'x.xlsx', bytes: Buffer.from('PK nonsense') })).rejects.toThrow('“x.xlsx” cannot be opened as a workbook');
    expect((await rowsOfList(bed.services, 'kept', everything, page)).total).toBe(1);
  });
  test('never touches a list of results', async () => {
    await bed.services.store.db.insert(list).values({ key: 'results', name: 'Results', columns: [], description: '' });
    await expect(importFile(bed.services, TESTER, about('results'), csv('No\n1\n'))).rejects.toThrow('is a list that pipelines write to');
    await expect(removeList(bed.services, TESTER, 'results')).rejects.toThrow('Lists of results stay');
  });
});

describe('reference data from a database', () => {
  const database = () => new URL(bed.databaseUrl);
  const run = async (text: string) => {
    const open = await mysql.createConnection(bed.databaseUrl);
    await open.query(text);
    await open.end();
  };
  const connect = (secret: string) => saveConnection(bed.services, TESTER, { key: 'office', name: 'Office', connector: 'database', settings: { host: database().hostname, port: Number(database().port), user: database().username, database: database().pathname.slice(1) }, secret });

  test('is synced by a query through a connection whose secret is sealed and never shown', async () => {
    await run('CREATE TABLE haulier (no VARCHAR(9), name VARCHAR(40), since DATE)');
    await run("INSERT INTO haulier VALUES ('0071', 'Merrow', '2020-02-01')");
    expect(await connect(database().password)).toContain('The database answers');
    expect(JSON.stringify(await describeConnections(bed.services))).not.toContain(database().password);
    const [row] = await bed.services.store.db.select().from(connection).where(eq(connection.key, 'office'));
    expect(row?.secret?.toString('latin1')).not.toContain(database().password);
    await importQuery(bed.services, TESTER, { ...about('hauliers'), connection: 'office', query: 'SELECT no AS No, name AS Name, since AS Since FROM haulier', every: 60 });
    await run("INSERT INTO haulier VALUES ('0072', 'Tollan', '2021-05-09')");
    expect(await syncList(bed.services, TESTER, 'hauliers')).toMatchObject({ rows: 2 });
    expect((await rowsOfList(bed.services, 'hauliers', everything, page)).rows.map((one) => one.cells)).toEqual([{ No: '0071', Name: 'Merrow', Since: '2020-02-01' }, { No: '0072', Name: 'Tollan', Since: '2021-05-09' }]);
  });
  test('syncs by itself when the time has come; what goes wrong is kept beside the list and the rows stay', async () => {
    await run('RENAME TABLE haulier TO gone');
    await bed.services.store.db.update(list).set({ syncedAt: '2020-01-01 00:00:00' }).where(eq(list.key, 'hauliers'));
    await syncDueLists(bed.services);
    const { list: head, total } = await rowsOfList(bed.services, 'hauliers', everything, page);
    expect([total, head.problem]).toEqual([2, expect.stringContaining('The query was not carried out')]);
  });
  test.each([
    ['a query that writes', "INSERT INTO gone VALUES ('x', 'y', '2020-01-01')", 'The query was not carried out'],
    ['two statements', 'SELECT 1; DROP TABLE gone', 'The query was not carried out'],
    ['no query at all', 'SET @a = 1', 'the query gives no rows'],
  ])('refuses %s', async (_, query, why) => {
    await expect(importQuery(bed.services, TESTER, { ...about('bad'), connection: 'office', query, every: null })).rejects.toThrow(why);
  });
  test('says when the password is wrong, and keeps nothing', async () => {
    await expect(connect('wrong')).rejects.toThrow('cannot be reached as');
  });
});

describe('answers that are remembered', () => {
  const kind: KindDefinition = { leadline: 'kind/1', key: 'bills', name: 'Bills', tables: [], layouts: [], checks: [], fields: [{ key: 'haulier', label: 'Haulier', type: 'text', required: true }, { key: 'account', label: 'Account', type: 'identifier' }, { key: 'total', label: 'Total', type: 'money' }] };
  const given = (value: string, reader: 'person' | 'anchor', place: { page: number; box: [number, number, number, number] } | null = null) => ({ text: value, value, place, anchor: null, reader, confidence: 1, evidence: [] });
  const readings = { fields: { haulier: given('Merrow', 'anchor'), account: given('4471', 'person'), total: given('5.00', 'person') }, tables: {} };

  test('are asked for once, for what does not stand on the page and may last', async () => {
    expect((await worthAsking(bed.services, kind, readings, ['account', 'total'])).map((one) => one.question)).toEqual(['Always account “4471” when haulier is Merrow?']);
    const clicked = { ...readings, fields: { ...readings.fields, account: given('4471', 'person', { page: 1, box: [0, 0, 1, 1] }) } };
    expect(await worthAsking(bed.services, kind, clicked, ['account'])).toEqual([]);
    await remember(bed.services, TESTER, 'bills', { field: 'account', value: '4471', whenField: 'haulier', whenValue: 'Merrow', always: false });
    expect(await worthAsking(bed.services, kind, readings, ['account'])).toEqual([]);
  });
  test('are listed and can be undone', async () => {
    const [answer] = await listRemembered(bed.services, 'bills');
    expect(answer).toMatchObject({ value: '4471', always: false, answeredBy: 'Tester' });
    await forget(bed.services, TESTER, answer!.id);
    expect(await worthAsking(bed.services, kind, readings, ['account'])).toHaveLength(1);
  });
});

describe('a reading service', () => {
  const KEY = 'sesame';
  let [service, folder, url] = [null as unknown as Started, '', ''];
  beforeAll(async () => {
    const port = await freePort();
    [folder, url] = [mkdtempSync(path.join(os.tmpdir(), 'leadline-lens-')), `http://127.0.0.1:${port}`];
    service = await startEntry('src/standins/reading/main.ts', [port, KEY, folder], {});
    await saveConnection(bed.services, TESTER, { key: 'lens', name: 'Lens', connector: 'reading-service', settings: { url }, secret: KEY });
  });
  afterAll(async () => {
    await service.kill();
    rmSync(folder, { recursive: true, force: true });
  });
  const put = (where: string, body: unknown) => fetch(`${url}/${where}`, { method: 'PUT', body: JSON.stringify(body) });
  const books = async () => (await (await fetch(`${url}/books`)).json()) as { submissions: number; cancelled: string[]; jobs: { cost: string; callback?: string }[] };
  const known = async (text: string, fields: Record<string, string>) => {
    const bytes = Buffer.from(text);
    await put(`known/${createHash('sha256').update(bytes).digest('hex')}`, { pages: 1, fields, tables: {} });
    return bed.services.blobs.put(bytes);
  };
  const asked = (sha256: string, tier = 'glance') => askService(bed.services, { service: 'lens', tier, sha256 });

  test('says what it offers when it is tried, and refuses a wrong key', async () => {
    const input = { key: 'lens', name: 'Lens', connector: 'reading-service', settings: { url }, secret: null };
    expect(await tryConnection(bed.services, input)).toBe('Harbour Lens answers: glance at 0.01 EUR a page, read at 0.04 EUR a page, study at 0.15 EUR a page.');
    await expect(tryConnection(bed.services, { ...input, secret: 'wrong' })).rejects.toThrow('does not know our key');
  });
  test('is asked once and paid once for a document at a tier', async () => {
    const sha256 = await known('one', { total_amount: '12.50' });
    const first = await asked(sha256);
    expect(first).toMatchObject({ cost: '0.01', currency: 'EUR', fields: { total_amount: { confidence: expect.any(Number) } } });
    expect(await asked(sha256)).toEqual(first);
    expect((await books()).submissions).toBe(1);
  });
  test('has no answer for what cannot be read, which is remembered too', async () => {
    const sha256 = await bed.services.blobs.put(Buffer.from('nobody knows this'));
    expect(await asked(sha256)).toBeNull();
    expect(await asked(sha256)).toBeNull();
    expect((await books()).submissions).toBe(2);
  });
  test.each([
    ['busy', 'service-busy', 1000],
    ['breaks', 'service-down', undefined],
    ['drops', 'service-down', undefined],
    ['talks nonsense', 'service-down', undefined],
  ])('a service that is %s gives a failure that is tried again', async (answer, code, retryAfterMs) => {
    const sha256 = await known(`faulty ${answer}`, { total_amount: '1.00' });
    await put('weather', { exact: [{ path: '/v1/jobs', answer, count: 1 }] });
    const failure = await asked(sha256).then(() => null, (error: StepFailure) => error.failure);
    expect([failure?.code, failure?.retryAfterMs]).toEqual([code, retryAfterMs]);
    expect(await asked(sha256)).not.toBeNull();
  });
  test('that broke off after it had taken the job is asked for that job, not given it again', async () => {
    const sha256 = await known('long', { total_amount: '3.00' });
    const before = (await books()).submissions;
    await put('weather', { exact: [{ path: '/v1/jobs/', answer: 'breaks', count: 1 }] });
    await expect(asked(sha256, 'read')).rejects.toThrow(StepFailure);
    expect(await asked(sha256, 'read')).not.toBeNull();
    expect((await books()).submissions).toBe(before + 1);
  });
  test('that takes its time holds nobody up: the run comes back, and sooner when the service says that it is done', async () => {
    const sha256 = await known('slow paper', { total_amount: '7.00' });
    const before = (await books()).submissions;
    const comesBack = () => askService(bed.services, { service: 'lens', tier: 'study', sha256 }, 'comes back').catch((error: StepFailure) => error.failure);
    expect(await comesBack()).toMatchObject({ code: 'service-slow', retryAfterMs: expect.any(Number) });
    await publish(bed.services, TESTER, 'pipeline', 'leadline: pipeline/1\nkey: slow\nname: Slow\nsteps: [{ id: on, do: check }]\n', 'test');
    const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'slow' }, { dedupeKey: 'slow', type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: 'slow.txt', mediaType: 'text/plain', bytes: Buffer.from('slow paper') }] });
    const runId = documents[0]!.runId!;
    await bed.services.store.pool.query('UPDATE run SET due_at = NOW(6) + INTERVAL 1 HOUR WHERE id = ?', [runId]);
    const told = new URL((await books()).jobs.at(-1)!.callback!).searchParams;
    const key = { connectionKey: told.get('connection')!, tier: told.get('tier')!, sha256: told.get('document')! };
    await expect(jobIsDone(bed.services, { ...key, tier: 'glance' }, told.get('proof')!)).rejects.toThrow('not made here');
    expect(await jobIsDone(bed.services, key, told.get('proof')!)).toBe(1);
    expect((await runById(bed.services.store.db, runId))!.dueAt <= (await runById(bed.services.store.db, runId))!.updatedAt).toBe(true);
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    expect(await comesBack()).toMatchObject({ cost: '0.15' });
    expect((await books()).submissions).toBe(before + 1);
  });
  test('is told when nobody waits for a job any more', async () => {
    const sha256 = await known('never mind', { total_amount: '8.00' });
    await askService(bed.services, { service: 'lens', tier: 'study', sha256 }, 'comes back').catch(() => undefined);
    await cancelJobsOf(bed.services, sha256);
    expect((await books()).cancelled).toHaveLength(1);
  });
  test('that fails again and again is left alone by everybody, and one call tries whether it is back', async () => {
    await put('weather', { exact: [{ path: '/v1', answer: 'breaks', count: 5 }] });
    const codes: (string | undefined)[] = [];
    for (let call = 0; call < 6; call += 1) codes.push(await asked(await known(`tired ${call}`, { total_amount: '1.00' })).then(() => undefined, (error: StepFailure) => error.failure.code));
    expect(codes).toEqual([...Array<string>(5).fill('service-down'), 'service-resting']);
    expect((await describeConnections(bed.services)).find((one) => one.key === 'lens')?.problem).toContain('left alone for 10 s');
    // The clock of the breaker is the database's: as if its rest were over.
    await bed.services.store.db.update(connection).set({ breaker: { state: 'open', until: 0, restMs: 10_000 } }).where(eq(connection.key, 'lens'));
    expect(await asked(await known('tired 9', { total_amount: '1.00' }))).not.toBeNull();
    expect((await describeConnections(bed.services)).find((one) => one.key === 'lens')?.problem).toBeNull();
  });
  test('a connection that is not there is a matter for a person', async () => {
    const failure = await askService(bed.services, { service: 'nowhere', tier: 'x', sha256: 'a'.repeat(64) }).catch((error: StepFailure) => error.failure);
    expect(failure).toMatchObject({ code: 'no-such-connection' });
  });
  test('a sounding compares its tiers and names the cheapest that is good enough', async () => {
    const fields: KindDefinition['fields'] = [{ key: 'number', label: 'Receipt code', type: 'identifier', required: true }, { key: 'gross', label: 'Gross weight', type: 'number' }];
    const kind: KindDefinition = { leadline: 'kind/1', key: 'slips', name: 'Slips', fields, tables: [], layouts: [], checks: [], services: [{ service: 'lens', tier: 'glance', price: '0.01', fields: { number: 'document_number' } }] };
    await publish(bed.services, TESTER, 'kind', stringify(kind), 'test');
    const samples = await Promise.all([1, 2, 3, 4, 5, 6].map(async (seed) => {
      const made = makeTicket(seed);
      const bytes = await printPaper({ ...made, spec: { ...made.spec, facts: made.spec.facts.filter((fact) => fact.label !== 'Ticket no.') } });
      await put(`known/${createHash('sha256').update(bytes).digest('hex')}`, { pages: 1, fields: { document_number: made.truth.fields['number'] }, tables: {} });
      return { file: { name: `slip-${seed}.pdf`, mediaType: 'application/pdf', bytes }, truth: { fields: { number: made.truth.fields['number'] ?? null, gross: made.truth.fields['gross'] ?? null }, tables: {} } };
    }));
    await addSamples(bed.services, TESTER, 'slips', samples.map(({ file }) => file), new Map(samples.map(({ file, truth }) => [file.name, truth])));
    const id = await askSounding(bed.services, TESTER, 'slips', { errorRate: 0.01, level: 0.9, tiers: true });
    expect(await workSounding(bed.services, 'W', 60_000)).toBe(true);
    const { tiers, result, state, failure } = await openSounding(bed.services, id);
    expect([state, failure]).toEqual(['done', null]);
    expect(result?.cost).toBeCloseTo(0.06);
    expect(tiers?.scores.map(({ tier, asked: times, costPerDocument }) => [tier, times, costPerDocument])).toEqual([[null, 0, '0'], ['glance', 6, '0.01'], ['read', 6, '0.04'], ['study', 6, '0.15']]);
    expect(tiers?.scores.at(-1)?.right).toBeGreaterThan(tiers?.scores[0]?.right ?? Infinity);
    expect(tiers?.cheapest?.tier).toMatch(/glance|read|study/);
  }, 90_000);
});

describe('pictures of a kind that leaves steps of cleaning out', () => {
  test('are read once more without them, kept beside the others, and shown as they were read', async () => {
    const bytes = await scanPage(await printPaper(makeTicket(3)), 1, { dpi: 200, skew: 1.6, noise: 4, seed: 3 });
    await addSamples(bed.services, TESTER, 'slips', [{ name: 'crooked.jpg', mediaType: 'image/jpeg', bytes }]);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const [whole, crooked, again] = [await paperOf(bed.services, sha256, undefined), await paperOf(bed.services, sha256, { deskew: false }), await paperOf(bed.services, sha256, { deskew: false, contrast: true })];
    expect([whole.hash, crooked.hash === sha256, again.hash === crooked.hash]).toEqual([sha256, false, true]);
    const leaning = ({ pages: [page] }: typeof whole) => {
      const word = (text: string) => page!.words.find((candidate) => candidate.text.startsWith(text));
      return Math.abs((word('Gross')?.box[1] ?? 0) - (page!.words.filter((candidate) => /^\d{4,}/.test(candidate.text)).map((candidate) => candidate.box[1]).sort((a, b) => Math.abs(a - (word('Gross')?.box[1] ?? 0)) - Math.abs(b - (word('Gross')?.box[1] ?? 0)))[0] ?? 0));
    };
    expect(leaning(crooked)).toBeGreaterThan(leaning(whole));
    expect((await pictureOf(bed.services, crooked.hash, 1)).mediaType).toBe('image/png');
  }, 90_000);
});

describe('sorting', () => {
  test('is learned from confirmed samples of all kinds, and measured on them', async () => {
    for (const starter of ['delivery-note', 'bill'] as const) {
      await publish(bed.services, TESTER, 'kind', stringify({ ...starterKind(starter), key: starter, name: starter }), 'test');
      const made = [1, 2, 3, 4].map((seed) => makePaper(starter, 7 + seed, seed));
      await addSamples(bed.services, TESTER, starter, await Promise.all(made.map(async (paper, index) => ({ name: `${starter}-${index}.pdf`, mediaType: 'application/pdf', bytes: await printPaper(paper) }))), new Map(made.map((paper, index) => [`${starter}-${index}.pdf`, paper.truth])));
    }
    const sorting = await describeSorting(bed.services);
    expect([sorting.samples, sorting.wronglySure]).toEqual([14, 0]);
    expect(sorting.right).toBeGreaterThanOrEqual(12);
    const { pages } = await inspectFile(await printPaper(makePaper('bill', 30, 77)));
    expect((await sortFile(bed.services, { kinds: ['bill', 'delivery-note'], pages, sender: null, subject: null })).ranked[0]).toMatchObject({ kind: 'bill', reasons: [expect.stringContaining('words as on its samples')] });
    await expect(sortFile(bed.services, { kinds: ['nothing'], pages, sender: null, subject: null })).rejects.toThrow('no published kind “nothing”');
  });
});
