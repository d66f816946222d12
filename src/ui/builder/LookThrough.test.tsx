/** @jest-environment jsdom */
import { fireEvent, screen } from '@testing-library/react';
import type { PipelineDraftView } from '@/contracts/api';
import { PIPELINE_YAML } from '../../../tests/support/definitions';
import { showScreen } from '../../../tests/support/screen';
import { LookThrough } from './LookThrough';

const draft = { key: 'bills', yaml: '', revision: 1, published: { yaml: PIPELINE_YAML, version: 1 } } as unknown as PipelineDraftView;
const changed = PIPELINE_YAML.replace('2500.00', '9000.00');
const ids = Array.from({ length: 11 }, (_, index) => `D${index}`);
/** Every fourth document is a large bill: it takes another way with the draft. */
const tried = ({ yaml, documents }: { yaml: string; documents: string[] }) => ({
  mistakes: [], complaints: [], steps: [],
  documents: documents.map((id) => ({ id, fileName: id, straight: true, stopped: null, data: {}, steps: [{ step: 'size', line: null, state: 'done', short: Number(id.slice(1)) % 4 === 0 && yaml === changed ? 'Usual bill' : 'Large bill', text: Number(id.slice(1)) % 4 === 0 && yaml === changed ? 'usual' : 'large', writes: [] }] })),
});
const answers = { 'GET /runs?pipeline=bills&limit=100': { rows: [...ids, 'D0'].map((id) => ({ document: { id } })) }, 'POST /pipelines/bills/try': tried };

describe(LookThrough, () => {
  test('goes over past documents in small portions, each once, and shows those that would fare otherwise', async () => {
    const shown: (readonly string[])[] = [];
    const asked = showScreen(<LookThrough draft={draft} yaml={changed} onShow={(chosen) => shown.push(chosen)} />, answers);
    fireEvent.click(screen.getByRole('button', { name: 'Look through the last 100' }));
    await screen.findByText('11 of 11 looked through: 3 would fare otherwise.');
    fireEvent.click(screen.getByRole('button', { name: 'Show them' }));
    const portions = asked.filter(({ method }) => method === 'POST').map(({ body }) => body as { documents: string[]; asks: boolean; yaml: string });
    expect([shown, portions.map(({ documents, asks, yaml }) => [documents.length, asks, yaml === changed])]).toEqual([[['D0', 'D4', 'D8']], [[8, false, false], [8, false, true], [3, false, false], [3, false, true]]]);
  });
  test('says so when nothing would change', async () => {
    showScreen(<LookThrough draft={draft} yaml={PIPELINE_YAML} onShow={() => undefined} />, answers);
    fireEvent.click(screen.getByRole('button', { name: 'Look through the last 100' }));
    await screen.findByText('11 of 11 looked through: none of them would fare otherwise.');
  });
  test('and when no document has gone through yet', async () => {
    showScreen(<LookThrough draft={draft} yaml={changed} onShow={() => undefined} />, { ...answers, 'GET /runs?pipeline=bills&limit=100': { rows: [] } });
    fireEvent.click(screen.getByRole('button', { name: 'Look through the last 100' }));
    await screen.findByText('No document has gone through yet.');
  });
});
