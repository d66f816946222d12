import { stringify } from 'csv-stringify/sync';
import { eq } from 'drizzle-orm';
import type { Step } from '@/core/pipeline/definition';
import type { Question } from '@/core/pipeline/facts';
import { importFile } from '@/services/reference-lists';
import { describeRun } from '@/services/runs';
import { tryPipeline } from '@/services/try-out';
import { putList } from '@/store/queries/lists';
import { listRow } from '@/store/schema';
import { makeBill } from '../../demo/bills/bill';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { Steps } from '../../tests/support/steps';

let bed: TestBed;
let bench: Steps;
/** The lines of the bill that every run reads. */
const lines = makeBill(2).rows;

beforeAll(async () => {
  bed = await openTestBed('match');
  bench = new Steps(bed);
  await loadScenario(bed.services);
  await putList(bed.services.store.db, { key: 'matched', name: 'Matched', description: '', columns: [{ name: 'Line', type: 'identifier' }, { name: 'Text', type: 'text' }] });
  // The order says the same in capitals and with a word more; one line of it is open for less than is billed, and one was never billed.
  const ordered = [...lines.map((line, index) => [`M-${index}`, String(index + 1), `${line.description.toUpperCase()} agreed`, index === 0 ? '0.5' : line.quantity.toFixed()]), ['M-x', '99', 'Something else entirely', '1']];
  await importFile(bed.services, TESTER, { key: 'ordered', name: 'Ordered', description: '', keyColumn: 'Key' }, { name: 'o.csv', bytes: Buffer.from(stringify([['Key', 'Line', 'Text', 'Open', 'Order'], ...ordered.map((row) => [...row, 'A-1']), ['K', '1', 'Of another order', '1', 'A-2']])) });
});
afterAll(() => bed.close());

const match = (changes: Partial<Extract<Step, { do: 'match' }>> = {}): Step => ({ id: 'match', do: 'match', each: 'lines', list: 'ordered', column: 'Order', find: { text: 'A-1' }, compare: [{ ours: 'row.description', theirs: 'Text', by: 'text' }], bring: { order_line: 'Line' }, sure: 0.5, ...changes });
const write: Step = { id: 'rows', do: 'write-list', list: 'matched', each: 'lines', columns: { Line: 'row.order_line', Text: 'row.description' } };
const written = async (id: string) => (await bed.services.store.db.select({ cells: listRow.cells }).from(listRow).where(eq(listRow.runId, id))).map(({ cells }) => (cells as Record<string, { value: string | null } | string | null>)['Line']).map((cell) => (typeof cell === 'object' ? (cell?.value ?? null) : cell));

test('rows that are surely the same go through, and what they bring along is written', async () => {
  const id = await bench.run(match(), write);
  expect([(await bench.outcome(id)).state, (await bench.outcome(id)).texts[0], await written(id)]).toEqual(['finished', `${lines.length} of ${lines.length} matched.`, lines.map((_, index) => String(index + 1))]);
});

test('more than was ordered is asked about, with both sides; a person decides for each row', async () => {
  const id = await bench.run(match({ compare: [{ ours: 'row.description', theirs: 'Text', by: 'text' }, { ours: 'row.quantity', theirs: 'Open', by: 'at most' }] }), write);
  const task = await bench.openTask(id);
  const question = task.question as Extract<Question, { asks: 'match' }>;
  expect([task.doubts, question.match.lines[0]?.row, question.match.lines[0]?.differences.length, question.match.rows.some(({ Text }) => Text === 'Of another order')]).toEqual([1, 0, 1, false]);
  await expect(bench.answer(task.id, null, { values: { 0: '777' } })).rejects.toThrow('Row 1: there is no “777” to match with');
  await expect(bench.answer(task.id, null, { values: { 0: '1' } })).rejects.toThrow('Rows 1 and 2 are matched with the same one.');
  await bench.answer(task.id, null, { values: { 0: '' } });
  await bench.work();
  expect([(await bench.outcome(id)).state, await written(id), (await describeRun(bed.services, id)).steps[1]?.text]).toEqual(['finished', [null, ...lines.slice(1).map((_, index) => String(index + 2))], `Tester says: ${lines.length - 1} of ${lines.length} matched, with nothing row 1.`]);
});

test('records that a step gave are matched with too, and what is no list of records strands the run with a sentence', async () => {
  const given = (expression: string) => bench.run({ id: 'orders', do: 'set', values: { found: { expression } } }, { ...match({ among: 'note.found' }), list: undefined, column: undefined, find: undefined } as unknown as Step, write);
  const id = await given('[lines.{ "Text": description, "Line": 7 }]');
  const strange = await given('"no list at all"');
  expect([(await bench.outcome(id)).state, new Set(await written(id)), (await bench.outcome(strange)).failures]).toEqual(['finished', new Set(['7']), [expect.stringContaining('“no list at all” holds no list of records to match with')]]);
});

test('a try-out says what would be asked, and asks nobody', async () => {
  await bench.run(match());
  const yaml = JSON.stringify({ leadline: 'pipeline/1', key: bench.key, name: bench.key, steps: [{ id: 'read', do: 'read', kind: 'haulage-bill' }, match({ sure: 1 }), write] });
  const { documents } = await tryPipeline(bed.services, bench.key, yaml);
  expect(documents[0]?.steps.map(({ step, state }) => `${step} ${state}`)).toEqual(['read done', 'match would ask', 'rows would write']);
});
