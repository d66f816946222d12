import { rmSync } from 'node:fs';
import { NOTHING_READ, type Readings } from '@/core/reading/reading';
import { typedReading } from '@/core/reading/edit';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { inTransaction } from '@/store/database';
import { pagesOf } from '@/store/queries/documents';
import { samplesOf } from '@/store/queries/samples';
import { claimSounding } from '@/store/queries/soundings';
import { makePaper } from '../../demo/papers/content';
import { printPaper } from '../../demo/papers/print';
import { scanPage } from '../../demo/papers/scan';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { printStrangeBill, strangeBill } from '../../tests/support/papers';
import { beforeAfter } from './before-after';
import { documentSearchable, documentText } from './documents';
import { pictureOf } from './pictures';
import { receive } from './receive';
import { addSamples, keepSample, proposeSample, removeSample, sampleFromDocument } from './samples';
import { askSounding, openSounding, takeThresholds, workSounding } from './soundings';
import { createKind, dropDraft, keepKindDraft, listKinds, openWorkbench, publishDraft, tallyDraft, teachKind, workingKind } from './workbench';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('workbench');
});
afterEach(() => bed.close());

const file = (name: string, bytes: Buffer) => ({ name, mediaType: 'application/pdf', bytes });
const note = (seed: number) => makePaper('delivery-note', 7, seed);

/** A kind from a starter with samples whose values are confirmed. */
async function begun(seeds: readonly number[]): Promise<string> {
  const key = await createKind(bed.services, TESTER, { from: 'starter', starter: 'delivery-note', name: 'Goods in' });
  await addSamples(bed.services, TESTER, key, await Promise.all(seeds.map(async (seed) => file(`note-${seed}.pdf`, await printPaper(note(seed))))), new Map(seeds.map((seed) => [`note-${seed}.pdf`, note(seed).truth])));
  return key;
}

describe('a kind from a starter to a published version', () => {
  test('is read at once, learns from its samples, and is published with what it learned', async () => {
    const key = await begun([1, 2, 3]);
    expect(key).toBe('goods-in');
    const first = await tallyDraft(bed.services, key);
    expect(first.samples.every((sample) => sample.reading.fields['number']?.value)).toBe(true);
    const { lessons } = await teachKind(bed.services, TESTER, key);
    expect(lessons.map(({ sample, layout }) => [sample, layout])).toEqual([['note-1.pdf', 'learned-1'], ['note-2.pdf', 'learned-1'], ['note-3.pdf', 'learned-1']]);
    expect(await publishDraft(bed.services, TESTER, key, 'first')).toEqual({ version: 1 });
    expect((await listKinds(bed.services))[0]).toMatchObject({ key, version: 1, hasDraft: false, samples: { all: 3, confirmed: 3, proposed: 0 } });
    expect((await bed.services.kind(key))?.layouts[0]?.samples).toHaveLength(3);
  });

  test('the same bytes are one sample, however often they are added', async () => {
    const key = await begun([1]);
    expect(await addSamples(bed.services, TESTER, key, [file('again.pdf', await printPaper(note(1)))])).toEqual({ added: 0, known: 1 });
  });

  test('a sample that cannot be read is kept with the reason and disturbs nothing', async () => {
    const key = await begun([1]);
    await addSamples(bed.services, TESTER, key, [file('broken.pdf', Buffer.from('PK\x03\x04', 'latin1'))]);
    expect((await openWorkbench(bed.services, key)).samples[1]).toMatchObject({ fileName: 'broken.pdf', problem: expect.stringContaining('office file') });
    expect((await tallyDraft(bed.services, key)).samples).toHaveLength(1);
  });

  test('a second builder is told and overwrites nothing', async () => {
    const key = await begun([1]);
    const { definition, revision } = await workingKind(bed.services, key);
    expect(await keepKindDraft(bed.services, TESTER, key, { revision, definition: { ...definition, name: 'Mine' } })).toBe(2);
    await expect(keepKindDraft(bed.services, TESTER, key, { revision, definition: { ...definition, name: 'Theirs' } })).rejects.toThrow('Somebody else has changed this kind');
    expect((await workingKind(bed.services, key)).definition.name).toBe('Mine');
  });

  test('refuses what could never be read with, in a sentence, and keeps the draft as it was', async () => {
    const key = await begun([1]);
    const { definition, revision } = await workingKind(bed.services, key);
    const layout = { key: 'l', name: 'L', recognise: ['Goods'], locale: { decimal: '.', dates: 'dmy' }, tables: {} } as const;
    const attempts: [unknown, string][] = [
      [{ ...definition, layouts: [{ ...layout, fields: { number: [{ reader: 'pattern', pattern: '(' }] } }] }, 'The pattern “(” cannot be used'],
      [{ ...definition, layouts: [{ ...layout, fields: { number: [{ reader: 'zone', box: [1, 2, 3] }] } }] }, 'must NOT have fewer than 4 items'],
      [{ ...definition, checks: [{ check: 'formula', holds: 'nothing > 1', says: 'No.' }] }, 'names “nothing”, which is no field'],
      [{ ...definition, layouts: [{ ...layout, recognise: [], fields: {} }] }, 'nothing tells its papers from others'],
    ];
    for (const [attempt, why] of attempts) await expect(keepKindDraft(bed.services, TESTER, key, { revision, definition: attempt })).rejects.toThrow(why);
    expect((await workingKind(bed.services, key)).definition).toEqual(definition);
  });

  test('from an example as JSON, from a file, and thrown away again', async () => {
    const key = await createKind(bed.services, TESTER, { from: 'example', name: 'Slip', text: '{ "invoiceNo": "A-1", "issueDate": "2026-01-02", "total": "12.00", "paid": true, "rows": [{ "qty": 2 }] }' });
    const { definition } = await workingKind(bed.services, key);
    expect(definition.fields.map(({ key: name, label, type }) => [name, label, type])).toEqual([['invoice_no', 'Invoice no', 'identifier'], ['issue_date', 'Issue date', 'date'], ['total', 'Total', 'money'], ['paid', 'Paid', 'yes-no']]);
    expect(definition.tables[0]).toMatchObject({ key: 'rows', columns: [{ key: 'qty', type: 'number' }] });
    const copy = await createKind(bed.services, TESTER, { from: 'yaml', name: '', text: (await openWorkbench(bed.services, key)).yaml });
    expect(copy).toBe('slip-2');
    await dropDraft(bed.services, TESTER, copy);
    await expect(workingKind(bed.services, copy)).rejects.toThrow('There is no document kind');
    await expect(createKind(bed.services, TESTER, { from: 'example', name: 'x', text: '[1' })).rejects.toThrow('The example is not JSON');
  });

  test('confirmed values must fit their types', async () => {
    const key = await begun([1]);
    const [row] = await samplesOf(bed.services.store.db, key);
    const { definition } = await workingKind(bed.services, key);
    await expect(keepSample(bed.services, TESTER, definition, row!.id, row!.revision, { truth: { fields: { date: 'soon' }, tables: {} } })).rejects.toThrow('“soon” is not a date that exists');
    await expect(keepSample(bed.services, TESTER, definition, row!.id, 99, { heldBack: true })).rejects.toThrow('Somebody else has changed this sample');
  });
});

describe('soundings', () => {
  test('measure what the others would have taught, and set the thresholds they can promise', async () => {
    const key = await begun([1, 2, 3]);
    await teachKind(bed.services, TESTER, key);
    const id = await askSounding(bed.services, TESTER, key, { errorRate: 0.45, level: 0.8 });
    expect(await workSounding(bed.services, 'W', 60_000)).toBe(true);
    expect(await workSounding(bed.services, 'W', 60_000)).toBe(false);
    const sounding = await openSounding(bed.services, id);
    expect(sounding).toMatchObject({ state: 'done', done: 3, all: 3, result: { samples: 3, header: { all: 15 } } });
    expect(sounding.perSample.map((sample) => sample.fileName)).toEqual(['note-1.pdf', 'note-2.pdf', 'note-3.pdf']);
    const { set } = await takeThresholds(bed.services, TESTER, id);
    expect(set).toBeGreaterThan(0);
    expect((await workingKind(bed.services, key)).definition.fields.some((field) => field.threshold === 0.5)).toBe(true);
  });

  test('go on when a sample is removed meanwhile, and when a worker dies', async () => {
    const key = await begun([1, 2]);
    const id = await askSounding(bed.services, TESTER, key);
    expect((await claimSounding(bed.services.store.db, 'dead', 0))?.id).toBe(id);
    const [first] = await samplesOf(bed.services.store.db, key);
    await removeSample(bed.services, TESTER, first!.id);
    await workSounding(bed.services, 'W', 60_000);
    expect(await openSounding(bed.services, id)).toMatchObject({ state: 'done', done: 1, all: 1 });
  });

  test('need a confirmed sample', async () => {
    const key = await createKind(bed.services, TESTER, { from: 'empty', name: 'Empty' });
    await expect(askSounding(bed.services, TESTER, key)).rejects.toThrow('no confirmed sample to measure with');
    await expect(publishDraft(bed.services, TESTER, key, '')).rejects.toThrow('no fields yet');
  });
});

describe('documents and samples', () => {
  const arrive = async (name: string, bytes: Buffer, mediaType = 'application/pdf') => (await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: name, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name, mediaType, bytes }] })).documents[0]!;

  test('what a clerk corrects becomes a proposal, once', async () => {
    await loadScenario(bed.services);
    const document = await arrive('strange.pdf', await printStrangeBill(1));
    const kind = (await bed.services.kind('haulage-bill'))!;
    const { truth } = strangeBill(1);
    const readings: Readings = { fields: Object.fromEntries(kind.fields.map((field) => [field.key, truth.fields[field.key] ? typedReading(field, truth.fields[field.key]!, PLAIN_LOCALE, null) : NOTHING_READ])), tables: { lines: [] } };
    for (let time = 0; time < 2; time += 1) await inTransaction(bed.services.store.db, (tx) => proposeSample(tx, kind, document.id, readings, 'Clerk'));
    expect(await samplesOf(bed.services.store.db, 'haulage-bill')).toMatchObject([{ state: 'proposed', documentId: document.id, addedBy: 'Clerk', truth: { fields: truth.fields } }]);
    await expect(sampleFromDocument(bed.services, TESTER, 'haulage-bill', document.id)).rejects.toThrow('is a sample of this kind already');
  });

  test('a scan comes upright with its picture, its text and a PDF that can be searched', async () => {
    await loadScenario(bed.services);
    const scan = await scanPage(await printPaper(makePaper('bill', 11, 2)), 1, { dpi: 150, skew: 2, noise: 4, seed: 1 });
    const document = await arrive('scan.jpg', scan, 'image/jpeg');
    const [page] = await pagesOf(bed.services.store.db, document.sha256);
    expect(page).toMatchObject({ origin: 'picture', why: 'Read from its picture.' });
    expect(page!.words.every((word) => word.sure !== undefined)).toBe(true);
    const [read, came] = [await pictureOf(bed.services, document.sha256, 1, 'read'), await pictureOf(bed.services, document.sha256, 1, 'came')];
    expect([read.mediaType, came.mediaType, read.bytes.equals(came.bytes)]).toEqual(['image/png', 'image/png', false]);
    expect((await documentText(bed.services, document.id)).split('\n').length).toBeGreaterThan(10);
    expect((await documentSearchable(bed.services, document.id)).name).toBe('scan.searchable.pdf');
  }, 60_000);

  test('before and after says that nothing was read yet, where nothing was', async () => {
    await loadScenario(bed.services);
    expect(await beforeAfter(bed.services, 'haulage-bill', 10)).toEqual({ documents: [], difference: [] });
    rmSync(bed.services.workbookFolder, { recursive: true, force: true });
  });
});
