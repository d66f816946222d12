import { eq } from 'drizzle-orm';
import { parsePipeline } from '@/core/definition/parse';
import { pipelineText } from '@/core/definition/write';
import { claimRuns, insertRun } from '@/store/queries/runs';
import { newId } from '@/settings/identifier';
import { pipelineDraft, run } from '@/store/schema';
import { PIPELINE_YAML } from '../../tests/support/definitions';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { publish } from './definitions';
import { beginPipeline, dropPipelineDraft, keepPipelineDraft, openPipelineDraft, publishPipelineDraft } from './pipeline-drafts';
import { describePipeline, describePipelines, pausePipeline, rankPipeline } from './pipelines';
import { tryPipeline } from './try-out';

let bed: TestBed;
beforeEach(async () => {
  bed = await openTestBed('drafts');
  await loadScenario(bed.services);
});
afterEach(() => bed.close());
const KEY = 'haulage-to-ledger';

describe('a draft of a pipeline', () => {
  test('begins as what is published, is kept, published, and is gone then', async () => {
    expect(await openPipelineDraft(bed.services, KEY)).toEqual({ key: KEY, yaml: PIPELINE_YAML, revision: 0, updatedBy: null, published: { version: 1, yaml: PIPELINE_YAML } });
    const yaml = PIPELINE_YAML.replace('2500.00', '2600.00');
    expect(await keepPipelineDraft(bed.services, TESTER, KEY, { yaml, revision: 0 })).toEqual({ revision: 1 });
    expect(await openPipelineDraft(bed.services, KEY)).toMatchObject({ yaml, revision: 1, updatedBy: 'Tester' });
    expect((await describePipeline(bed.services, KEY)).hasDraft).toBe(true);
    expect(await publishPipelineDraft(bed.services, TESTER, KEY, { yaml, note: 'more' })).toEqual({ key: KEY, version: 2 });
    expect(await bed.services.store.db.select().from(pipelineDraft)).toEqual([]);
  });
  test('of two builders the second is told who was before, and nothing is overwritten', async () => {
    await keepPipelineDraft(bed.services, TESTER, KEY, { yaml: PIPELINE_YAML, revision: 0 });
    await keepPipelineDraft(bed.services, { name: 'Ebba' }, KEY, { yaml: `${PIPELINE_YAML}\n`, revision: 1 });
    await expect(keepPipelineDraft(bed.services, TESTER, KEY, { yaml: 'mine', revision: 1 })).rejects.toThrow('Ebba has changed this draft in the meantime');
    expect((await openPipelineDraft(bed.services, KEY)).yaml).toBe(`${PIPELINE_YAML}\n`);
    await dropPipelineDraft(bed.services, TESTER, KEY);
    await expect(keepPipelineDraft(bed.services, TESTER, KEY, { yaml: 'mine', revision: 2 })).rejects.toThrow('was published or thrown away');
  });
  test('that is unfinished is kept and tried, and is not published', async () => {
    const { key } = await beginPipeline(bed.services, TESTER, 'Øre & more', { from: 'empty' });
    expect([key, (await beginPipeline(bed.services, TESTER, 'Øre & more', { from: 'empty' })).key]).toEqual(['re-more', 're-more-2']);
    const unfinished = pipelineText({ leadline: 'pipeline/1', key, name: 'Øre', steps: [{ id: 'who', do: 'look-up', list: '', find: '' }] });
    await keepPipelineDraft(bed.services, TESTER, key, { yaml: unfinished, revision: 1 });
    const tried = await tryPipeline(bed.services, key, unfinished);
    expect([tried.mistakes, tried.complaints.map(({ text }) => text)]).toEqual([[], ['Choose a list to look in.', 'Choose a value.']]);
    await expect(publishPipelineDraft(bed.services, TESTER, key, { yaml: unfinished, note: '' })).rejects.toThrow(/Line \d+, column \d+/);
    expect((await describePipelines(bed.services)).find((one) => one.key === key)).toMatchObject({ version: null, hasDraft: true, name: 'Øre' });
  });
  test.each([
    ['a kind', { from: 'kind', kind: 'haulage-bill' }, ['read', 'check', 'desk']],
    ['what arrives', { from: 'sorting' }, ['sort', 'read', 'check', 'desk']],
    ['another pipeline', { from: 'copy', pipeline: KEY }, ['read', 'check', 'desk', 'branch', 'write-list', 'write-workbook']],
    ['a file', { from: 'yaml', text: PIPELINE_YAML }, ['read', 'check', 'desk', 'branch', 'write-list', 'write-workbook']],
  ] as const)('begins from %s', async (_, start, steps) => {
    const { key } = await beginPipeline(bed.services, TESTER, 'New', start);
    const parsed = parsePipeline((await openPipelineDraft(bed.services, key)).yaml, 'draft');
    expect(parsed.ok && [parsed.definition.key, parsed.definition.name, parsed.definition.steps.map((step) => step.do)]).toEqual(['new', 'New', steps]);
  });
  test('cannot begin from what is not there', async () => {
    await expect(beginPipeline(bed.services, TESTER, 'New', { from: 'kind', kind: 'ghost' })).rejects.toThrow('no published kind “ghost”');
    await expect(beginPipeline(bed.services, TESTER, 'New', { from: 'yaml', text: 'steps: [' })).rejects.toThrow(/Line 1/);
  });
});

describe('who gets a worker', () => {
  const queue = async (pipelineKey: string, count: number) => {
    for (let index = 0; index < count; index += 1) await insertRun(bed.services.store.db, { id: newId(), documentId: newId(), pipelineKey, pipelineVersion: 1 });
  };
  const claimed = async (most: number) => (await claimRuns(bed.services.store.db, 'W', most, 60_000)).map((claim) => claim.pipelineKey).sort();
  beforeEach(async () => {
    await publish(bed.services, TESTER, 'pipeline', PIPELINE_YAML.replace(/^key: .*/m, 'key: other'), 'test');
  });
  test('a burst in one pipeline leaves the other its share', async () => {
    await queue(KEY, 50);
    await queue('other', 3);
    expect(await claimed(8)).toEqual([...Array<string>(5).fill(KEY), 'other', 'other', 'other'].slice(0, 8));
  });
  test('a pipeline that is paused gets none until it is let go on', async () => {
    await queue(KEY, 2);
    await pausePipeline(bed.services, TESTER, KEY, true);
    expect([await claimed(4), (await describePipeline(bed.services, KEY)).paused?.by]).toEqual([[], 'Tester']);
    await pausePipeline(bed.services, TESTER, KEY, false);
    expect(await claimed(4)).toEqual([KEY, KEY]);
    await expect(pausePipeline(bed.services, TESTER, 'ghost', true)).rejects.toThrow('no published pipeline “ghost”');
  });
  test('priority doubles the share', async () => {
    await queue(KEY, 20);
    await queue('other', 20);
    await rankPipeline(bed.services, TESTER, 'other', 1);
    const got = await claimed(9);
    expect([got.filter((key) => key === KEY).length, got.filter((key) => key === 'other').length]).toEqual([3, 6]);
    expect((await bed.services.store.db.select().from(run).where(eq(run.state, 'working'))).length).toBe(9);
  });
});
