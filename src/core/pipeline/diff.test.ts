import { billPipeline } from '../../../tests/support/definitions';
import { diffPipelines } from './diff';
import { insertStep, newStep, nudgeStep, removeStep, replaceStep } from './edit';
import type { Step } from './definition';

const pipeline = billPipeline();
const texts = (after: typeof pipeline) => diffPipelines(pipeline, after).map(({ text }) => text);

describe(diffPipelines, () => {
  test('nothing, where nothing is different', () => expect(diffPipelines(pipeline, billPipeline())).toEqual([]));
  test('steps that were added, taken out and changed, each in its own sentence', () => {
    const added = insertStep(removeStep(pipeline, 'workbook'), { of: null, way: null, index: 2 }, newStep(pipeline, 'wait'));
    const changed = replaceStep(added, 'review', { id: 'review', do: 'desk', when: { value: 'total', is: 'above', than: '9' } });
    expect(texts(changed)).toEqual([
      'Added: Wait 1 hour.',
      '“Ask the desk to review it, if a check fails or a value is not sure enough” is now “Ask the desk to review it, if total is above 9”.',
      expect.stringMatching(/^Taken out: Write to the workbook/),
    ]);
  });
  test('a change that the sentence does not show names its part', () => {
    const ledger = { ...(pipeline.steps.find((step) => step.id === 'ledger') as Extract<Step, { do: 'write-list' }>), columns: { Bill: 'number' } };
    expect(texts(replaceStep(pipeline, 'ledger', ledger))).toEqual(['Write one row to the list haulage-ledger: other columns.']);
  });
  test('a step that changed places with another has moved; those that slid have not', () => {
    expect(texts(nudgeStep(pipeline, 'workbook', -1))).toEqual([expect.stringMatching(/^Moved: /), expect.stringMatching(/^Moved: /)]);
    expect(diffPipelines(pipeline, insertStep(pipeline, { of: null, way: null, index: 0 }, newStep(pipeline, 'sort'))).map(({ what }) => what)).toEqual(['added']);
  });
  test('a new name', () => expect(texts({ ...pipeline, name: 'Bills' })).toEqual(['It is called “Bills” instead of “Haulage to ledger”.']));
});
