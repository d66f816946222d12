/** @jest-environment jsdom */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { QuestionView } from '@/contracts/api';
import { showScreen } from '../../../tests/support/screen';
import { QuestionDesk } from './QuestionDesk';

const went: string[] = [];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push: (to: string) => went.push(to) }) }));

const option = (value: string, label: string, share: number, reasons: readonly string[] = []) => ({ value, label, share, reasons });
const view: QuestionView = {
  task: { id: 'T', title: 'Which kind is it?', state: 'open', doubts: 1, question: true, reason: 'It looks most like Bill (60 of 100).', document: { id: 'D', fileName: 'letter.pdf', sender: 'a@b.example', subject: null }, openedAt: '2026-03-12T00:00:00Z', note: null, revision: 0, runId: 'R', closedBy: null },
  question: { asks: 'kind', text: 'Which kind of document is this?', options: [option('bill', 'Bill', 0.6, ['the sender has @b.example', 'other words than on its samples']), option('note', 'Delivery note', 0.2), option('order', 'Order', 0)] },
  pages: [], previous: null, next: 'T2',
};
const answers = { 'GET /kinds': [{ key: 'bill', name: 'Bill' }, { key: 'order', name: 'Order' }], 'POST /tasks/T/answer': null };

describe(QuestionDesk, () => {
  test('offers the likely kinds with what speaks for them, and one key answers', async () => {
    const asked = showScreen(<QuestionDesk view={view} />, answers);
    expect(screen.getAllByRole('button', { name: /of 100$/ }).map((button) => button.textContent)).toEqual(['1Billthe sender has @b.example60 of 100', '2Delivery notenothing speaks for it20 of 100']);
    fireEvent.keyDown(window, { key: '2' });
    await screen.findByText('Answered; the run goes on.');
    expect([asked.find((one) => one.method === 'POST')?.body, went.at(-1)]).toEqual([{ value: 'note' }, '/desk/T2']);
  });
  test('a key beyond the offers answers nothing, and refusing wants a reason', async () => {
    const asked = showScreen(<QuestionDesk view={view} />, answers);
    fireEvent.keyDown(window, { key: '7' });
    fireEvent.keyDown(window, { key: 'r' });
    await screen.findByRole('dialog');
    fireEvent.keyDown(window, { key: '1' });
    await waitFor(() => expect(asked.filter((one) => one.method === 'POST')).toEqual([]));
  });
});

describe('other questions', () => {
  const asking = (question: QuestionView['question'], title = 'A question'): QuestionView => ({ ...view, question, task: { ...view.task, title } });
  const bodyOf = (asked: ReturnType<typeof showScreen>) => asked.find((one) => one.method === 'POST')?.body;

  test('an approval shows the values first; rejecting asks why', async () => {
    const asked = showScreen(<QuestionDesk view={asking({ asks: 'approval', text: 'Pay this?', facts: [{ name: 'Total', value: '99.00' }], rejected: 'stop' }, 'Approve')} />, answers);
    expect([screen.getByText('Total'), screen.getByText('99.00'), screen.getByText('Pay this?')].every(Boolean)).toBe(true);
    fireEvent.keyDown(window, { key: '2' });
    fireEvent.change(await screen.findByLabelText('Reason'), { target: { value: 'Not ordered' } });
    fireEvent.click(screen.getByRole('button', { name: 'Reject' }));
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual({ value: 'rejected', note: 'Not ordered' });
  });
  test('a small form says what is still needed, and sends its answers', async () => {
    const asked = showScreen(<QuestionDesk view={asking({ asks: 'form', text: '', answers: [{ key: 'berth', label: 'Berth', type: 'text', required: true }, { key: 'price', label: 'Price', type: 'money' }] })} />, answers);
    expect(screen.getByText('Still needed: Berth')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Berth'), { target: { value: 'A2' } });
    fireEvent.click(screen.getByRole('button', { name: 'Answer' }));
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual({ values: { berth: 'A2' } });
  });
  test('a row of a list is taken by its number, or the run goes on without', async () => {
    const question = { asks: 'row', text: '“Merow” is not in the list', list: 'hauliers', options: [{ value: 'H-1', label: 'H-1', reasons: ['Name Merrow'] }] } as const;
    const asked = showScreen(<QuestionDesk view={asking(question)} />, { ...answers, 'GET /lists/hauliers/rows?limit=200': { list: { keyColumn: 'No' }, rows: [{ cells: { No: 'H-1' } }, { cells: { No: 'H-2', Name: 'Tollan' } }] } });
    fireEvent.click(screen.getByRole('button', { name: 'None of them; go on without' }));
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual({ value: '' });
  });
  test.each([['Use it this time', 'once'], ['Keep it, for all that wait', 'always']] as const)('a key can be given: %s', async (button, value) => {
    const asked = showScreen(<QuestionDesk view={asking({ asks: 'supply', text: 'No key', about: 'connection:app', credential: 'app' })} />, answers);
    expect((screen.getByRole('button', { name: button }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Or give the key here'), { target: { value: 'herring' } });
    fireEvent.click(screen.getByRole('button', { name: button }));
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual({ value, values: { secret: 'herring' } });
  });
  test('rows that are not sure stand open, one key gives them another partner, and one answers', async () => {
    const pair = { score: 0.6, sure: false, reasons: ['text is 60 of 100 alike'], differences: ['quantity is 5, at most 4 is expected'], near: [{ row: 0, score: 0.6 }, { row: 1, score: 0.5 }], place: null };
    const match = { of: 'lines', bring: { line: 'line' }, heads: [{ ours: 'text', theirs: 'name', shared: false }], rows: [{ name: 'Rope 12 mm', line: '10' }, { name: 'Rope 14 mm', line: '20' }], lines: [{ ...pair, row: 0, cells: ['Rope'] }, { ...pair, row: 1, sure: true, differences: [], cells: ['Line 14'] }] };
    const asked = showScreen(<QuestionDesk view={asking({ asks: 'match', text: '1 of 2 rows is not sure.', match }, 'Which rows belong together?')} />, answers);
    expect([screen.getByText('quantity is 5, at most 4 is expected'), screen.getByLabelText('Row 1 belongs to'), screen.queryByLabelText('Row 2 belongs to')].map(Boolean)).toEqual([true, true, false]);
    fireEvent.keyDown(screen.getByLabelText('Row 1 belongs to'), { key: '2' });
    expect(screen.getByText('1 row belongs to nothing.')).toBeTruthy();
    fireEvent.keyDown(window, { key: 'a' });
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual({ values: { 0: '1', 1: '' } });
  });
  test.each([
    ['1', { asks: 'delivery', text: 'Look there', key: 'R/post', target: 'mail' }, { value: 'arrived' }],
    ['2', { asks: 'delivery', text: 'Look there', key: 'R/post', target: 'mail' }, { value: 'again' }],
    ['1', { asks: 'supply', text: 'No key', about: 'connection:app' }, { value: 'again' }],
    ['2', { asks: 'supply', text: 'No column', about: 'column:x', columns: ['Ghost'] }, { value: 'without' }],
  ] as const)('key %s answers %j', async (key, question, body) => {
    const asked = showScreen(<QuestionDesk view={asking(question)} />, answers);
    fireEvent.keyDown(window, { key });
    await screen.findByText('Answered; the run goes on.');
    expect(bodyOf(asked)).toEqual(body);
  });
});
