import { sql } from 'drizzle-orm';
import type { Arrival, ArrivedFile } from '@/connectors/source';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { describeDocument, pagePicture, runDocument, searchDocuments } from './documents';
import { receive } from './receive';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('receive');
  await loadScenario(bed.services);
});
afterEach(() => bed.close());

const ORIGIN = { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' };
const arrival = (dedupeKey: string, ...files: Buffer[]): Arrival => ({ dedupeKey, type: 'test', sender: 'a@b.example', subject: 'Bill', occurredAt: '2026-03-12T10:00:00.000Z', problem: null, data: {}, files: files.map((bytes, index): ArrivedFile => ({ name: `f${index}.pdf`, mediaType: 'application/pdf', bytes })) });
const take = (key: string, ...files: Buffer[]) => receive(bed.services, TESTER, ORIGIN, arrival(key, ...files));
const bill = (seed: number) => printBill(makeBill(seed));

describe(receive, () => {
  test('records event, document, words and a run, and notes who did it', async () => {
    const { fresh, documents } = await take('k1', await bill(2));
    const document = await describeDocument(bed.services, documents[0]!.id);
    expect(fresh).toBe(true);
    expect(document).toMatchObject({ fileName: 'f0.pdf', pageCount: 1, problem: null, repeatOf: null, run: { state: 'queued' }, sender: 'a@b.example' });
    const [rows] = (await bed.services.store.db.execute(sql`SELECT actor, act, object_id AS id FROM audit WHERE object_type = 'document'`)) as unknown as [object[]];
    expect(rows).toEqual([{ actor: 'Tester', act: 'received', id: document.id }]);
  });

  test('the same happening twice changes nothing', async () => {
    const bytes = await bill(2);
    const [one, two] = [await take('k1', bytes), await take('k1', bytes)];
    expect([two.fresh, two.eventId, two.documents.map((document) => document.id)]).toEqual([false, one.eventId, one.documents.map((document) => document.id)]);
  });

  test('the same happening noticed ten times at once is recorded once', async () => {
    const bytes = await bill(2);
    const all = await Promise.all(Array.from({ length: 10 }, () => take('k1', bytes)));
    expect(all.filter((received) => received.fresh)).toHaveLength(1);
    expect((await searchDocuments(bed.services, {}, { offset: 0, limit: 50 })).total).toBe(1);
  });

  test('the same bytes in another happening are a repeat, run only when asked', async () => {
    const bytes = await bill(2);
    const first = (await take('k1', bytes)).documents[0]!;
    const second = (await take('k2', bytes)).documents[0]!;
    expect([second.repeatOf, second.runId]).toEqual([first.id, null]);
    await runDocument(bed.services, TESTER, second.id);
    expect((await describeDocument(bed.services, second.id)).run?.state).toBe('queued');
  });

  test('the same bytes arriving at the same moment are one first and one repeat', async () => {
    const bytes = await bill(2);
    const documents = (await Promise.all(['k1', 'k2', 'k3'].map((key) => take(key, bytes)))).flatMap((received) => received.documents);
    expect(documents.filter((document) => document.repeatOf === null)).toHaveLength(1);
  });

  const PACKED = Buffer.from('PK\x03\x04hello', 'latin1');

  test('what cannot be read is a finding; the original is kept and nothing runs', async () => {
    const { documents } = await take('k1', PACKED, Buffer.alloc(0), (await bill(2)).subarray(0, 900), await bill(4));
    expect(documents.map((document) => [document.problemCode, document.runId !== null])).toEqual([['unknown-format', false], ['empty', false], ['truncated', false], [null, true]]);
    expect((await bed.services.blobs.get(documents[0]!.sha256)).equals(PACKED)).toBe(true);
    await expect(runDocument(bed.services, TESTER, documents[0]!.id)).rejects.toThrow('cannot be run');
  });

  test('a document for a pipeline that is not there is kept with a reason', async () => {
    const { documents } = await receive(bed.services, TESTER, { ...ORIGIN, pipelineKey: 'nothing' }, arrival('k1', await bill(2)));
    expect(documents[0]).toMatchObject({ problemCode: 'no-pipeline', runId: null });
  });

  test('pages are drawn once and kept', async () => {
    const { documents } = await take('k1', await bill(2));
    const [one, two] = [await pagePicture(bed.services, documents[0]!.id, 1, 'read'), await pagePicture(bed.services, documents[0]!.id, 1, 'read')];
    expect(one.bytes.equals(two.bytes) && one.bytes.subarray(1, 4).toString()).toBe('PNG');
    await expect(pagePicture(bed.services, documents[0]!.id, 2, 'read')).rejects.toThrow('no page 2');
  });

  test('documents are found by words of their name, sender or subject, taken literally', async () => {
    await take('k1', await bill(2));
    const found = async (search: string) => (await searchDocuments(bed.services, { search }, { offset: 0, limit: 5 })).total;
    expect([await found('f0'), await found('b.example'), await found('%'), await found('_')]).toEqual([1, 1, 0, 0]);
  });
});
