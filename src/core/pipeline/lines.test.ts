import { DEFAULT_BUDGET } from '@/core/resilience/backoff';
import type { Readings } from '@/core/reading/reading';
import { typedReading } from '@/core/reading/edit';
import type { PipelineDefinition } from './definition';
import type { StepFact, StepResult } from './facts';
import { knownSoFar, planNext, stepsNotTaken } from './planner';
import { valueAt } from './values';

const pipeline: PipelineDefinition = {
  leadline: 'pipeline/1', key: 'lines', name: 'Lines',
  steps: [{ id: 'read', do: 'read', kind: 'note' }, { id: 'lines', do: 'each', of: 'items', steps: [{ id: 'find', do: 'look-up', list: 'goods', find: 'row.item' }, { id: 'put', do: 'write-list', list: 'found', columns: { Item: 'find.Code' } }] }, { id: 'end', do: 'set', values: { all: 'done' } }],
};
const text = (value: string) => typedReading({ key: 'item', label: 'Item', type: 'text' }, value, { decimal: '.', dates: 'dmy' }, null);
const readings: Readings = { fields: {}, tables: { items: [{ item: text('rope') }, { item: text('tar') }, { item: text('oil') }] } };
const done = (result: StepResult): StepFact => ({ state: 'done', result });
const read = done({ made: 'answer', task: '', by: 'x', readings, changed: [] });
const begun: [string, StepFact][] = [['read', read], ['lines', done({ made: 'lines', of: 'items', lines: 3 })]];
const found = (code: string): StepFact => done({ made: 'row', list: 'goods', values: { Code: code } });
const put = done({ made: 'rows', target: 'found', rows: 1, left: 0 });
const busy: StepFact = { state: 'failed', failure: { code: 'service-busy', message: '' }, attempts: 1, spentMs: 0 };
const refused: StepFact = { state: 'failed', failure: { code: 'no-such-list', message: '' }, attempts: 1, spentMs: 0 };
const asked: StepFact = { state: 'waiting', task: 'T' };
const plan = (facts: [string, StepFact][], resting: string[] = []) => {
  const next = planNext(pipeline, new Map([...begun, ...facts]), DEFAULT_BUDGET, new Set(resting));
  return 'id' in next ? `${next.next} ${next.id}` : next.next;
};

describe('steps for each line', () => {
  test('are done line by line, each with facts of its own', () => {
    expect([plan([]), plan([['find#0', found('R')]]), plan([['find#0', found('R')], ['put#0', put]])]).toEqual(['do find#0', 'do put#0', 'do find#1']);
  });
  test('a line that failed, rests or waits for somebody holds up no other', () => {
    expect([plan([['find#0', refused]]), plan([['find#0', busy]], ['find#0']), plan([['find#0', asked]])]).toEqual(['do find#1', 'do find#1', 'do find#1']);
  });
  test('when nothing else can be done: try again, then rest, then wait, and strand last', () => {
    const others: [string, StepFact][] = [['find#1', found('T')], ['put#1', put], ['find#2', refused]];
    expect([plan([['find#0', busy], ...others]), plan([['find#0', busy], ...others], ['find#0']), plan([['find#0', asked], ...others]), plan([['find#0', found('R')], ['put#0', put], ...others])]).toEqual(['retry find#0', 'rest find#0', 'wait for a person find#0', 'stranded find#2']);
  });
  test('only failed lines are repeated when the run is refloated', () => {
    const after: [string, StepFact][] = [['find#0', found('R')], ['put#0', put], ['find#1', found('T')], ['put#1', put]];
    expect(plan(after)).toBe('do find#2');
  });
  test('a line that was stopped on purpose is done, and the step after the lines follows', () => {
    expect(plan([['find#0', done({ made: 'stop', reason: 'not ours' })], ['find#1', found('T')], ['put#1', put], ['find#2', found('O')], ['put#2', put]])).toBe('do end');
  });
  test('know their row and what their own line gave, and nothing of other lines', () => {
    const facts = new Map([...begun, ['find#0', found('R')] as const, ['find#1', found('T')] as const]);
    const known = knownSoFar(pipeline, facts, { step: { id: 'put' } as never, line: 1 });
    const document = { id: '', fileName: '', receivedAt: '', sender: null };
    expect([valueAt('row.item', { known, document }).value, valueAt('find.Code', { known, document }).value]).toEqual(['tar', 'T']);
    expect(valueAt('find.Code', { known: knownSoFar(pipeline, facts), document }).value).toBeNull();
  });
  test('ten thousand of them are gone through once each, though the first one waits for somebody', () => {
    const facts = new Map<string, StepFact>([['read', read], ['lines', done({ made: 'lines', of: 'items', lines: 10_000 })], ['find#0', asked]]);
    let [count, last] = [0, ''];
    for (;;) {
      const next = planNext(pipeline, facts, DEFAULT_BUDGET);
      if (next.next !== 'do') {
        expect(next).toMatchObject({ next: 'wait for a person', id: 'find#0' });
        break;
      }
      facts.set(next.id, next.step.id === 'find' ? found('X') : put);
      [count, last] = [count + 1, next.id];
    }
    expect([count, last]).toEqual([2 * 9_999, 'put#9999']);
    facts.set('find#0', found('X'));
    expect(planNext(pipeline, facts, DEFAULT_BUDGET)).toMatchObject({ next: 'do', id: 'put#0' });
  });
  test('count as taken', () => expect([...stepsNotTaken(pipeline, new Map(begun))]).toEqual([]));
  test('a step that is switched off is passed over', () => {
    const off: PipelineDefinition = { ...pipeline, steps: pipeline.steps.map((step) => (step.id === 'lines' ? { ...step, off: true } : step)) };
    expect(planNext(off, new Map([['read', read]]), DEFAULT_BUDGET)).toMatchObject({ next: 'do', id: 'end' });
  });
  test('a paused step comes back with what it left for itself', () => {
    expect(planNext(pipeline, new Map([['read', { state: 'paused', memory: { job: 'J1' } } as const]]), DEFAULT_BUDGET)).toMatchObject({ next: 'do', id: 'read', memory: { job: 'J1' } });
    expect(planNext(pipeline, new Map([['read', { state: 'paused', memory: {} } as const]]), DEFAULT_BUDGET, new Set(['read']))).toMatchObject({ next: 'rest' });
  });
});
