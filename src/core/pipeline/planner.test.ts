import fc from 'fast-check';
import { billPipeline } from '../../../tests/support/definitions';
import { DEFAULT_BUDGET } from '@/core/resilience/backoff';
import { eachStep } from './definition';
import type { StepFact, StepResult } from './facts';
import { knownSoFar, planNext, stepsNotTaken } from './planner';
import { sentenceText } from './catalogue';

const pipeline = billPipeline();
const done = (result: StepResult): StepFact => ({ state: 'done', result });
const rows = done({ made: 'rows', target: 'x', rows: 1, left: 0 });
const before: [string, StepFact][] = [
  ['read', done({ made: 'notes', values: {} })],
  ['check', done({ made: 'findings', findings: [], doubts: [], trusted: true })],
  ['review', done({ made: 'no question' })],
];
const plan = (...facts: [string, StepFact][]) => planNext(pipeline, new Map(facts), DEFAULT_BUDGET);

describe(planNext, () => {
  test('begins with the first step', () => {
    expect(plan()).toMatchObject({ next: 'do', step: { id: 'read' }, attempt: 1 });
  });
  test('goes into the way that was chosen and past the others', () => {
    expect(plan(...before, ['size', done({ made: 'choice', way: 0, name: 'Large bill' })])).toMatchObject({ next: 'do', step: { id: 'large' } });
    expect(plan(...before, ['size', done({ made: 'choice', way: 'else', name: 'Usual bill' })])).toMatchObject({ next: 'do', step: { id: 'usual' } });
  });
  test('waits where a person was asked', () => {
    expect(plan(...before.slice(0, 2), ['review', { state: 'waiting', task: 'T1' }])).toMatchObject({ next: 'wait for a person', task: 'T1' });
  });
  test('tries a transient failure again and counts the attempts', () => {
    const failed: StepFact = { state: 'failed', failure: { code: 'file-locked', message: 'open' }, attempts: 2, spentMs: 10 };
    expect(plan(['read', failed])).toMatchObject({ next: 'retry', attempt: 3 });
  });
  test.each([
    ['a refusal', { code: 'no-such-list', message: '' }, 1, 0],
    ['a defect', { code: 'defect', message: '' }, 1, 0],
    ['used-up attempts', { code: 'service-busy', message: '' }, DEFAULT_BUDGET.attempts, 0],
    ['used-up time', { code: 'service-busy', message: '' }, 2, DEFAULT_BUDGET.totalMs],
    ['a workbook that was open for five days', { code: 'file-locked', message: '' }, 700, 5 * 86_400_000],
  ] as const)('strands the run at %s', (_, failure, attempts, spentMs) => {
    expect(plan(['read', { state: 'failed', failure, attempts, spentMs }])).toMatchObject({ next: 'stranded', step: { id: 'read' } });
  });
  test.each(['file-locked', 'no-space'] as const)('has patience with %s, which somebody ends: hours and many attempts strand nothing', (code) => {
    expect(plan(['read', { state: 'failed', failure: { code, message: '' }, attempts: 40, spentMs: 6 * 3_600_000 }])).toMatchObject({ next: 'retry', attempt: 41 });
  });
  test('finishes after the last step, and early where it was stopped', () => {
    expect(plan(...before, ['size', done({ made: 'choice', way: 'else', name: '' })], ['usual', done({ made: 'notes', values: {} })], ['ledger', rows], ['workbook', rows])).toEqual({ next: 'finished', stopped: null });
    expect(plan(...before.slice(0, 2), ['review', done({ made: 'stop', reason: 'Refused' })])).toEqual({ next: 'finished', stopped: 'Refused' });
  });

  test('whatever the order of events, each step is done at most once and none is skipped', () => {
    fc.assert(fc.property(fc.boolean(), fc.array(fc.boolean(), { maxLength: 60 }), (large, crashes) => {
      const facts = new Map<string, StepFact>();
      const recorded: string[] = [];
      for (let turn = 0; turn < 200; turn += 1) {
        const next = planNext(pipeline, facts, DEFAULT_BUDGET);
        if (next.next === 'finished') break;
        if (next.next !== 'do') throw new Error(`unexpected ${next.next}`);
        // A crash before the fact is recorded: the planner must ask for the same step again.
        if (crashes[turn]) continue;
        recorded.push(next.step.id);
        facts.set(next.step.id, next.step.do === 'branch' ? done({ made: 'choice', way: large ? 0 : 'else', name: '' }) : rows);
      }
      expect(recorded).toEqual(['read', 'check', 'review', 'size', large ? 'large' : 'usual', 'ledger', 'workbook']);
    }));
  });
});

describe(knownSoFar, () => {
  test('later facts add to earlier ones, in the order of the steps', () => {
    const facts = new Map<string, StepFact>([...before, ['size', done({ made: 'choice', way: 'else', name: '' })], ['usual', done({ made: 'notes', values: { pay: 'soon' } })]]);
    expect(knownSoFar(pipeline, facts)).toMatchObject({ trusted: true, notes: { pay: 'soon' } });
  });
});

describe(stepsNotTaken, () => {
  test('knows the other way once the choice is made, and not before', () => {
    expect([...stepsNotTaken(pipeline, new Map(before))]).toEqual([]);
    expect([...stepsNotTaken(pipeline, new Map([...before, ['size', done({ made: 'choice', way: 0, name: '' })]]))]).toEqual(['usual']);
  });
});

describe('a pipeline read aloud', () => {
  test('each step is a plain sentence', () => {
    expect([...eachStep(pipeline.steps)].map(({ step }) => sentenceText(step, (_, key) => key))).toEqual([
      'Read the pages as haulage-bill',
      'Check it by the rules of its kind',
      'Ask the desk to review it, if a check fails or a value is not sure enough',
      'Choose a way: Large bill if total is above 2500.00; Usual bill',
      'Note pay = “after the chair has signed”',
      'Note pay = “with the next round”',
      'Write one row to the list haulage-ledger',
      'Write to the workbook Haulage ledger.xlsx: one row on Bills; a row for each of its lines on Lines; one row, unless its Haulier is there on Hauliers',
    ]);
  });
});
