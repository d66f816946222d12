import ExcelJS from 'exceljs';
import { mkdirSync } from 'node:fs';
import { sql } from 'drizzle-orm';
import { advance } from '@/engine/advance';
import type { Readings } from '@/core/reading/reading';
import { inTransaction } from '@/store/database';
import { insertListRows } from '@/store/queries/lists';
import { claimRuns } from '@/store/queries/runs';
import { makeBill, type Oddity } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { KIND_YAML, PIPELINE_YAML } from '../../tests/support/definitions';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { describeKind, publish, tallyKind } from './definitions';
import { describePipeline } from './pipelines';
import { accept, deskQueue, keepDraft, openReview, setAside } from './desk';
import { describeDocument } from './documents';
import { exportList, listWorkbooks, readWorkbook, rowsOfList } from './lists';
import { originalByPass, passFor } from './passes';
import { receive } from './receive';
import { describeRun, tallyRuns } from './runs';
import { describeSources, removeSource, saveSource } from './sources';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('services');
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterEach(() => bed.close());

async function arrive(seed: number, oddity: Oddity = 'none'): Promise<string> {
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: `seed-${seed}`, type: 'test', sender: 'a@b.example', subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${seed}.pdf`, mediaType: 'application/pdf', bytes: await printBill(makeBill(seed, oddity)) }] });
  return documents[0]!.runId!;
}

async function runAll(): Promise<void> {
  for (;;) {
    const claims = await claimRuns(bed.services.store.db, 'W', 10, 60_000);
    if (claims.length === 0) return;
    for (const claim of claims) await advance(testEngine(bed.services), claim, new AbortController().signal);
  }
}

const actsOf = async (type: string) => ((await bed.services.store.db.execute(sql`SELECT act FROM audit WHERE object_type = ${type} ORDER BY id`)) as unknown as [{ act: string }[]])[0].map((row) => row.act);
const taskOf = async (run: string) => (await describeRun(bed.services, run)).steps.find((step) => step.taskId)!.taskId!;
const ALL = { offset: 0, limit: 50 };
const query = (changes = {}) => ({ filters: {}, sort: null, descending: false, ...changes });

describe('publishing', () => {
  test('the same text is the same version; another text is the next one, and runs stay on theirs', async () => {
    const run = await arrive(2);
    expect(await publish(bed.services, TESTER, 'pipeline', PIPELINE_YAML, 'again')).toEqual({ key: 'haulage-to-ledger', version: 1 });
    expect(await publish(bed.services, TESTER, 'pipeline', PIPELINE_YAML.replace('2500.00', '10.00'), 'lower')).toEqual({ key: 'haulage-to-ledger', version: 2 });
    await runAll();
    expect((await describeRun(bed.services, run)).pipeline.version).toBe(1);
    expect([(await describePipeline(bed.services, 'haulage-to-ledger')).version, await actsOf('pipeline')]).toEqual([2, ['published', 'published', 'published']]);
  });
  test('a broken file is refused with line and column, and nothing is published', async () => {
    await expect(publish(bed.services, TESTER, 'kind', KIND_YAML.replace('type: money', 'type: gold'), '')).rejects.toThrow(/Line \d+, column \d+: .*must be one of text, number, money/);
    expect((await describeKind(bed.services, 'haulage-bill')).version).toBe(1);
    await expect(describeKind(bed.services, 'nothing')).rejects.toThrow('no document kind “nothing”');
  });
});

describe('tallies', () => {
  test('the run tally has a cell per step that says how far each run is', async () => {
    const [straight, asked] = [await arrive(2), await arrive(7, 'does not add up')];
    await runAll();
    const later = await arrive(6);
    const { rows, steps, counts, total } = await tallyRuns(bed.services, {}, ALL);
    const cells = (id: string) => Object.fromEntries(rows.find((row) => row.id === id)!.cells.map((cell) => [cell.step, `${cell.state} ${cell.text}`.trim()]));
    expect([total, steps.map((step) => step.name)]).toEqual([3, ['Read', 'Check', 'Desk', 'Branch', 'Note', 'Note', 'List', 'Workbook']]);
    expect(cells(straight)).toMatchObject({ read: 'done read', check: 'done sure', review: 'passed straight', ledger: 'done 1 row' });
    expect([cells(straight)['large'], cells(straight)['usual']].sort()).toEqual(['done noted', 'not taken']);
    expect(cells(asked)).toMatchObject({ check: 'done look', review: 'waiting asked', size: 'ahead', ledger: 'ahead' });
    expect(new Set(Object.values(cells(later)))).toEqual(new Set(['ahead']));
    expect(counts).toEqual({ finished: 1, waiting: 1, queued: 1 });
    expect((await tallyRuns(bed.services, { state: 'waiting' }, ALL)).rows.map((row) => row.id)).toEqual([asked]);
  });

  test('the kind tally has the values of recent documents, with the layout each was read by', async () => {
    await arrive(2);
    await arrive(1);
    await runAll();
    const { documents } = await tallyKind(bed.services, 'haulage-bill', 5);
    expect(documents.map((document) => [document.layout, document.readings.fields['number']?.value])).toEqual([['tollan', makeBill(1).number], ['merrow', makeBill(2).number]]);
  });

  test('a run tells what went into each step and what came out', async () => {
    const run = await arrive(2);
    await runAll();
    const { steps } = await describeRun(bed.services, run);
    const step = (id: string) => steps.find((candidate) => candidate.id === id)!;
    expect(step('read')).toMatchObject({ input: [{ name: 'Pages', value: '1' }], text: expect.stringContaining('Recognised as a paper of Merrow Haulage') });
    expect(step('size').input).toEqual([{ name: 'total', value: makeBill(2).total.toFixed(2) }]);
    expect(step('ledger').input[0]?.value).toContain('Bill MH-104002 · Date');
    expect(step('workbook').text).toMatch(/^Wrote \d+ rows to workbook Haulage ledger\.xlsx/);
  });
});

describe('the desk', () => {
  test('shows what waits, oldest first, with neighbours, and keeps a draft for one hand at a time', async () => {
    const runs = [await arrive(7, 'does not add up'), await arrive(15, 'wrong row')];
    await runAll();
    const [first, second] = await Promise.all(runs.map(taskOf));
    expect((await deskQueue(bed.services)).map((task) => [task.id, task.doubts])).toEqual([[first, 1], [second, 3]]);
    const review = await openReview(bed.services, first!);
    expect([review.previous, review.next, review.task.revision, review.doubts.map((doubt) => doubt.path)]).toEqual([null, second, 0, ['total']]);

    const changed: Readings = { ...review.readings, fields: { ...review.readings.fields, total: { ...review.readings.fields['total']!, value: '1.00', text: '1.00', reader: 'person', confidence: 1 } } };
    expect(await keepDraft(bed.services, TESTER, first!, { revision: 0, readings: changed })).toBe(1);
    await expect(keepDraft(bed.services, TESTER, first!, { revision: 0, readings: changed })).rejects.toThrow('Somebody else has changed');
    expect((await openReview(bed.services, first!)).readings.fields['total']?.value).toBe('1.00');
  });

  test('refuses values that are not in the form in which they are kept', async () => {
    const run = await arrive(7, 'does not add up');
    await runAll();
    const task = await taskOf(run);
    const { readings } = await openReview(bed.services, task);
    const with_ = (value: string): Readings => ({ ...readings, fields: { ...readings.fields, total: { ...readings.fields['total']!, value, reader: 'person' } } });
    await expect(accept(bed.services, TESTER, task, { revision: 0, readings: with_('1,234.5'), note: 'x' })).rejects.toThrow('should be sent as “1234.50”');
    await expect(accept(bed.services, TESTER, task, { revision: 0, readings: with_('much'), note: 'x' })).rejects.toThrow('Total: “much”');
  });

  test('what fails can be accepted with a reason; who did what is on record', async () => {
    const run = await arrive(7, 'does not add up');
    await runAll();
    const task = await taskOf(run);
    await setAside(bed.services, TESTER, task, 'later');
    await expect(setAside(bed.services, TESTER, task, null)).rejects.toThrow();
    const { readings, task: { revision } } = await openReview(bed.services, task);
    await accept(bed.services, TESTER, task, { revision, readings, note: 'agreed by telephone' });
    await runAll();
    expect((await describeRun(bed.services, run)).steps.find((step) => step.id === 'review')?.text).toBe('Accepted by Tester as it was: agreed by telephone.');
    expect(await actsOf('task')).toEqual(['set aside', 'accepted']);
  });
});

describe('lists', () => {
  const rows = [['A', '9.00', 'plain'], ['B', '10.00', '=HYPERLINK("x")'], ['C', '-7.50', 'with "quotes", and\na break']] as const;
  beforeEach(async () => {
    const { documentDetail } = await describeRun(bed.services, await arrive(2));
    await inTransaction(bed.services.store.db, (tx) => insertListRows(tx, { listKey: 'haulage-ledger', deliveryKey: 'd', documentId: documentDetail.id, runId: documentDetail.run!.id }, rows.map(([Bill, Total, Pay]) => ({ cells: { Bill, Total, Pay }, places: { Total: { page: 1, box: [1, 2, 3, 4] } } }))));
  });
  const bills = async (changes: object) => (await rowsOfList(bed.services, 'haulage-ledger', query(changes), ALL)).rows.map((row) => row.cells['Bill']);

  test('are sorted as what they are: amounts by size, text by letter', async () => {
    expect([await bills({ sort: 'Total' }), await bills({ sort: 'Total', descending: true }), await bills({ sort: 'Bill' })]).toEqual([['C', 'A', 'B'], ['B', 'A', 'C'], ['A', 'B', 'C']]);
  });
  test('are filtered by part of a value, taken literally; unknown columns are passed over', async () => {
    expect([await bills({ filters: { Total: '.00' } }), await bills({ filters: { Pay: '%' } }), await bills({ filters: { 'x"); DROP TABLE list; --': '1' } })]).toEqual([['B', 'A'], [], ['C', 'B', 'A']]);
  });
  test('are exported with quotes doubled, formulas made harmless and negative amounts left alone', async () => {
    const text = (await exportList(bed.services, 'haulage-ledger', query({ sort: 'Bill' }), 'csv')).bytes.toString();
    expect(text).toContain('B,,,,,10.00,"\'=HYPERLINK(""x"")",');
    expect(text).toContain('C,,,,,-7.50,"with ""quotes"", and\na break",');
    const workbook = new ExcelJS.Workbook();
    await workbook.xlsx.load((await exportList(bed.services, 'haulage-ledger', query({ sort: 'Bill' }), 'xlsx')).bytes as never);
    expect(workbook.worksheets[0]?.getRow(4).getCell(7).value).toBe(-7.5);
  });
  test('a row leads to its document, and the document to its row', async () => {
    const [row] = (await rowsOfList(bed.services, 'haulage-ledger', query(), ALL)).rows;
    expect((await describeDocument(bed.services, row!.document!.id)).written.map((written) => written.row)).toContain(row!.id);
  });
  test('workbooks are handed out by name only', async () => {
    await runAll();
    expect((await listWorkbooks(bed.services)).map((workbook) => workbook.name)).toEqual(['Haulage ledger.xlsx']);
    expect((await readWorkbook(bed.services, 'Haulage ledger.xlsx')).bytes.subarray(0, 2).toString()).toBe('PK');
    await expect(readWorkbook(bed.services, '../secret.key')).rejects.toThrow('no workbook');
  });
});

describe('sources', () => {
  test('are saved, changed and removed; the cursor outlives a change, documents outlive the source', async () => {
    const input = { key: 'scans', name: 'Scans', connector: 'folder', settings: { path: '/tmp' }, secret: null, pipeline: 'haulage-to-ledger', enabled: true };
    await saveSource(bed.services, TESTER, input);
    await bed.services.store.db.execute(sql`UPDATE source SET \`cursor\` = '{"at":1}'`);
    await saveSource(bed.services, TESTER, { ...input, name: 'Scanner', enabled: false });
    expect(await describeSources(bed.services)).toMatchObject([{ name: 'Scanner', enabled: false, watched: false, settings: { path: '/tmp', doneFolder: 'taken' } }]);
    const [rows] = (await bed.services.store.db.execute(sql`SELECT \`cursor\` AS kept FROM source`)) as unknown as [{ kept: string }[]];
    expect(rows[0]?.kept).toBe('{"at":1}');
    await removeSource(bed.services, TESTER, 'scans');
    await expect(removeSource(bed.services, TESTER, 'scans')).rejects.toThrow('no source “scans”');
    await expect(saveSource(bed.services, TESTER, { ...input, connector: 'pigeon' })).rejects.toThrow('no connector “pigeon”. Known: mailbox, folder');
  });
});

describe('an address of an original', () => {
  const partsOf = (address: string) => {
    const url = new URL(address);
    return { id: url.pathname.split('/').at(-1) ?? '', until: Number(url.searchParams.get('until')), proof: url.searchParams.get('proof') ?? '' };
  };
  test('leads to the document it was made for, until it is over', async () => {
    const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: 'haulage-to-ledger' }, { dedupeKey: 'pass', type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: 'pass.txt', mediaType: 'text/plain', bytes: Buffer.from('A paper with a pass.') }] });
    const [one] = documents;
    const { id, until, proof } = partsOf(passFor(bed.services, one!.id));
    expect([id, (await originalByPass(bed.services, id, { until, proof })).bytes.toString()]).toEqual([one!.id, 'A paper with a pass.']);
    const refused = 'holds no longer';
    await expect(originalByPass(bed.services, id, { until: until + 1, proof })).rejects.toThrow(refused);
    await expect(originalByPass(bed.services, id, { until, proof: `${proof.slice(0, -1)}_` })).rejects.toThrow(refused);
    await expect(originalByPass(bed.services, '01KA0000000000000000000000', { until, proof })).rejects.toThrow(refused);
    const over = Math.floor(Date.now() / 1000) - 1;
    await expect(originalByPass(bed.services, id, { until: over, proof: bed.services.secrets().proof(`original ${id} until ${over}`) })).rejects.toThrow(refused);
  });
});
