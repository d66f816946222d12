import { stringify } from 'yaml';
import { eq } from 'drizzle-orm';
import { advance } from '@/engine/advance';
import { parsePipeline } from '@/core/definition/parse';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import { claimRuns, runById } from '@/store/queries/runs';
import { putList } from '@/store/queries/lists';
import { list, listRow, run } from '@/store/schema';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { LEDGER } from '../../demo/ledger';
import { PIPELINE_YAML } from '../../tests/support/definitions';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { testEngine } from '../../tests/support/engine';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { publish, publishPipeline } from './definitions';
import { openTask } from './desk';
import { answerQuestion } from './questions';
import { receive } from './receive';
import { describeRun, describeStranded, giveUpGroup, refloatGroup, retryNow } from './runs';
import { tryPipeline } from './try-out';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('pipelines');
  await loadScenario(bed.services);
});
afterEach(() => bed.close());

const never = new AbortController().signal;
const parsed = parsePipeline(PIPELINE_YAML);
const haulage = parsed.ok ? parsed.definition : (undefined as never);
const short = (changes: Partial<PipelineDefinition> = {}): string => stringify({ ...haulage, steps: haulage.steps.filter((step) => step.id !== 'workbook'), ...changes });

async function arrive(seed: number, pipelineKey = 'haulage-to-ledger'): Promise<string> {
  const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey }, { dedupeKey: `seed-${seed}-${pipelineKey}`, type: 'test', sender: null, subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${seed}.pdf`, mediaType: 'application/pdf', bytes: await printBill(makeBill(seed)) }] });
  return documents[0]!.runId!;
}

async function work(): Promise<void> {
  for (const claim of await claimRuns(bed.services.store.db, 'W', 20, 60_000)) await advance(testEngine(bed.services), claim, never);
}
const stateOf = async (id: string) => (await runById(bed.services.store.db, id))?.state;

const chosen = (value: string) => ({ value, values: {}, note: null });

describe('stranded runs', () => {
  test('are grouped by where and why, set going together, and given up together', async () => {
    await publish(bed.services, TESTER, 'pipeline', short(), 'no workbook');
    await bed.services.store.db.delete(list);
    const ids = [await arrive(2), await arrive(6), await arrive(8)];
    await work();
    expect(await describeStranded(bed.services)).toEqual([expect.objectContaining({ pipelineName: 'Haulage to ledger', step: 'ledger', stepName: 'List', code: 'no-such-list', runs: 3 })]);
    const group = { pipelineKey: 'haulage-to-ledger', atStep: 'ledger', code: 'no-such-list' };
    expect(await giveUpGroup(bed.services, TESTER, { ...group, code: 'another' }, 'no')).toBe(0);
    await putList(bed.services.store.db, LEDGER);
    expect(await refloatGroup(bed.services, TESTER, group)).toBe(3);
    await work();
    expect([await Promise.all(ids.map(stateOf)), (await bed.services.store.db.select().from(listRow)).length, await describeStranded(bed.services)]).toEqual([['finished', 'finished', 'finished'], 3, []]);
  });
});

describe(retryNow, () => {
  test('makes the next attempt due, and only of a run that waits for one', async () => {
    const id = await arrive(2);
    await expect(retryNow(bed.services, TESTER, id)).rejects.toThrow('does not wait for another attempt');
    await bed.services.store.db.update(run).set({ dueAt: '2199-01-01 00:00:00' }).where(eq(run.id, id));
    await work();
    expect(await stateOf(id)).toBe('queued');
    await retryNow(bed.services, TESTER, id);
    await publish(bed.services, TESTER, 'pipeline', short(), 'later versions do not matter to it');
    expect((await claimRuns(bed.services.store.db, 'W', 5, 60_000)).map((claim) => claim.runId)).toEqual([id]);
  });
});

describe(tryPipeline, () => {
  test('shows what each step would make of recent documents, and writes nothing', async () => {
    await arrive(2);
    await arrive(4);
    const tried = await tryPipeline(bed.services, 'haulage-to-ledger', PIPELINE_YAML);
    expect([tried.mistakes, tried.complaints, tried.documents.map((document) => [document.fileName, document.straight])]).toEqual([[], [], [['4.pdf', true], ['2.pdf', true]]]);
    const ledger = tried.documents[1]!.steps.find((step) => step.step === 'ledger');
    expect(ledger).toMatchObject({ state: 'would write', writes: [{ target: 'haulage-ledger', rows: [{ Bill: { value: 'MH-104002' } }] }] });
    expect(await bed.services.store.db.select().from(listRow)).toEqual([]);
  });
  test('says where a text is no pipeline, and what would go wrong with one that is', async () => {
    expect((await tryPipeline(bed.services, 'haulage-to-ledger', 'leadline: pipeline/1\nkey: x\n  name: [')).mistakes[0]).toMatchObject({ line: expect.any(Number), column: expect.any(Number) });
    const { complaints } = await tryPipeline(bed.services, 'haulage-to-ledger', PIPELINE_YAML.replace('Bill: number, Date', 'Bill: nummer, Date'));
    expect(complaints.map((complaint) => `${complaint.step}: ${complaint.text}`)).toEqual(expect.arrayContaining([expect.stringContaining('ledger: No kind that is read here has a field “nummer”.')]));
  });
  test('a pipeline is published under its own key only', async () => {
    await expect(publishPipeline(bed.services, TESTER, 'haulage-to-ledger', PIPELINE_YAML.replace('key: haulage-to-ledger', 'key: other'), '')).rejects.toThrow('the text says “other”');
    expect(await publishPipeline(bed.services, TESTER, 'haulage-to-ledger', short(), 'less')).toEqual({ key: 'haulage-to-ledger', version: 2 });
  });
});

describe('a sorting step', () => {
  const sorting = (kinds?: readonly string[]): string => stringify({ leadline: 'pipeline/1', key: 'post', name: 'Post', steps: [{ id: 'sort', do: 'sort', ...(kinds ? { kinds } : {}) }, { id: 'read', do: 'read' }] });

  test('asks the desk which kind it is where nothing tells, and the run goes on with the answer', async () => {
    await publish(bed.services, TESTER, 'kind', 'leadline: kind/1\nkey: letters\nname: Letters\nfields:\n  - { key: subject, label: Subject, type: text }\n', 'test');
    await publish(bed.services, TESTER, 'pipeline', sorting(['letters']), 'test');
    const id = await arrive(2, 'post');
    await work();
    const step = (await describeRun(bed.services, id)).steps.find((one) => one.state === 'waiting');
    const task = await openTask(bed.services, step!.taskId!);
    expect('question' in task && task.question.asks === 'kind' && task.question.options.map((option) => option.value)).toEqual(['letters']);
    await expect(answerQuestion(bed.services, TESTER, step!.taskId!, chosen('nonsense'))).rejects.toThrow('no published kind “nonsense”');
    // The right kind may be one that was not even offered.
    await answerQuestion(bed.services, TESTER, step!.taskId!, chosen('haulage-bill'));
    await work();
    const { state, steps } = await describeRun(bed.services, id);
    expect([state, steps[0]?.text, steps[1]?.text]).toEqual(['finished', 'Tester says: Haulage bill.', expect.stringContaining('Recognised as a paper of Merrow Haulage')]);
  });
  test('goes on by itself where the layout tells', async () => {
    await publish(bed.services, TESTER, 'pipeline', sorting(), 'test');
    const id = await arrive(2, 'post');
    await work();
    expect((await describeRun(bed.services, id)).steps[0]?.text).toBe('Sorted as Haulage bill: laid out as Merrow Haulage.');
  });
});
