import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { stringify } from 'yaml';
import type { Step } from '@/core/pipeline/definition';
import { publish } from '@/services/definitions';
import { rowsOfList } from '@/services/lists';
import { describeOlderRuns, moveRuns } from '@/services/move-runs';
import { runById } from '@/store/queries/runs';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { loadScenario, TESTER } from '../../tests/support/scenario';
import { READ, Steps } from '../../tests/support/steps';

let bed: TestBed;
let steps: Steps;
beforeAll(async () => {
  bed = await openTestBed('columns');
  steps = new Steps(bed);
  await loadScenario(bed.services);
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterAll(() => bed.close());

describe('a target that lost a column between try-out and run', () => {
  const toList: Step = { id: 'w', do: 'write-list', list: 'haulage-ledger', columns: { Haulier: 'haulier', Ghost: 'number' } };
  const rows = async () => (await rowsOfList(bed.services, 'haulage-ledger', { filters: {}, sort: null, descending: false }, { offset: 0, limit: 50 })).rows;
  test('is asked about by name; this time it may be written without', async () => {
    const id = await steps.run(toList);
    const asked = await steps.openTask(id);
    expect([asked.reason, (asked.question as { columns?: string[] }).columns, (await rows()).length]).toEqual([expect.stringContaining('has no column “Ghost”'), ['Ghost'], 0]);
    await steps.answer(asked.id, 'without');
    await steps.work();
    expect([(await steps.outcome(id)).state, (await rows()).map(({ cells }) => cells)]).toEqual(['finished', [{ Haulier: 'Merrow Haulage' }]]);
  });
  test('goes on together with all who wait for it, when it is there', async () => {
    const ghost: Step = { id: 'w', do: 'write-csv', file: 'Lost.csv', columns: { Bill: 'number' } };
    await steps.run(ghost);
    const file = path.join(bed.services.workbookFolder, 'Lost.csv');
    writeFileSync(file, readFileSync(file, 'utf8').replace('Bill,', 'Other,'));
    const both = [await steps.run(ghost), await steps.run(ghost)];
    writeFileSync(file, readFileSync(file, 'utf8').replace('Other,', 'Bill,'));
    await steps.answer((await steps.openTask(both[0]!)).id, 'again');
    await steps.work();
    expect([...(await Promise.all(both.map((id) => steps.outcome(id)))).map(({ state }) => state), readFileSync(file, 'utf8').trim().split('\r\n').length]).toEqual(['finished', 'finished', 4]);
  });
  test('or the waiting run is moved to a version that does not want it', async () => {
    const id = await steps.run(toList);
    const { pipelineKey } = (await runById(bed.services.store.db, id))!;
    await publish(bed.services, TESTER, 'pipeline', stringify({ leadline: 'pipeline/1', key: pipelineKey, name: pipelineKey, steps: [READ, { ...toList, columns: { Bill: 'number' } }] }), 'without');
    expect(await describeOlderRuns(bed.services, pipelineKey)).toEqual({ version: 2, movable: 1, stuck: [] });
    expect(await moveRuns(bed.services, TESTER, pipelineKey)).toBe(1);
    await steps.answer((await steps.openTask(id)).id, 'again');
    await steps.work();
    expect([(await steps.outcome(id)).state, (await runById(bed.services.store.db, id))?.pipelineVersion, await moveRuns(bed.services, TESTER, pipelineKey)]).toEqual(['finished', 2, 0]);
  });
});
