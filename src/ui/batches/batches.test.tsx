/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import type { BatchLook, BatchResults, BatchView } from '@/contracts/batches';
import { showScreen } from '../../../tests/support/screen';
import { Batches } from './Batches';
import { Results } from './Results';
import { WhatWaits } from './WhatWaits';
import { forecastWords, roughTime, standing } from './words';

const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push }) }));
beforeEach(() => push.mockClear());

const look: BatchLook = { watched: false, expected: { ms: 400_000, costs: [{ amount: '16.00', currency: 'EUR' }], asked: 40, from: 200 }, items: [1, 2, 3, 4].map((number) => ({ ref: `bill-${number}.pdf`, name: number === 4 ? 'letter.pdf' : `bill-${number}.pdf`, size: 2_400, at: null })) };
const batch: BatchView = { id: 'B1', name: 'Folder “scans”', pipeline: { key: 'p', name: 'Haulage' }, place: 'folder', state: 'paused', released: 2, items: { all: 1_000, waiting: 998, taken: 2, failed: 0 }, problem: null, begunAt: '2026-03-12T00:00:00Z', begunBy: 'Office' };

describe('words', () => {
  test.each([[400, '1 s'], [89_000, '89 s'], [90_000, '2 min'], [3_600_000, '60 min'], [9_000_000, '2.5 h']])('%d ms is %s', (ms, words) => expect(roughTime(ms)).toBe(words));
  test('a forecast says time, money and how often somebody is needed', () => {
    expect(forecastWords(look.expected!)).toEqual(['about 7 min of work', 'about 16.00 EUR for services', 'somebody is asked about 40 of them']);
    expect(forecastWords({ ms: 1, costs: [], asked: 0, from: 1 })).toEqual(['about 1 s of work', 'no service is paid', 'nobody is likely to be asked']);
  });
  test('a batch says how it stands', () => {
    expect(standing(batch)).toBe('2 of 1000 taken; the first 2 are through');
    expect(standing({ ...batch, items: { ...batch.items, waiting: 999, taken: 1 } })).toBe('1 of 1000 taken');
    expect(standing({ ...batch, state: 'ended' })).toBe('2 of 1000 taken; the rest was left where it is');
  });
});

describe(WhatWaits, () => {
  const asked = { from: { folder: '/scans' }, pipeline: 'p' };
  const show = (changes: Partial<BatchLook> = {}) => showScreen(<WhatWaits look={{ ...look, ...changes }} asked={asked} />, { 'POST /batches': { id: 'B1' } });
  test('begins with the first two of what was chosen, by name or one by one', async () => {
    const requests = show();
    expect(screen.getByText('4 of 4 chosen')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Name contains'), { target: { value: 'bill' } });
    fireEvent.click(screen.getByLabelText('bill-2.pdf'));
    expect(screen.getByText('2 of 4 chosen')).toBeTruthy();
    expect(screen.getByText('about 8.00 EUR for services')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Begin with the first 2' }));
    await screen.findByText('2 of 4 chosen');
    expect(requests[0]?.body).toEqual({ ...asked, refs: ['bill-1.pdf', 'bill-3.pdf'], first: 2 });
    expect(push).toHaveBeenCalledWith('/batches/B1');
  });
  test('takes all of them without naming each', async () => {
    const requests = show();
    fireEvent.click(screen.getByRole('button', { name: 'Take all 4 at once' }));
    await screen.findByText('4 of 4 chosen');
    expect(requests[0]?.body).toEqual({ ...asked, refs: null, first: null });
  });
  test('with nothing chosen nothing begins', () => {
    show();
    fireEvent.click(screen.getByLabelText('All of them'));
    expect([screen.getByText('0 of 4 chosen'), (screen.getByRole('button', { name: 'Take all 0 at once' }) as HTMLButtonElement).disabled]).toEqual([expect.anything(), true]);
  });
  test('a place that is watched says why it cannot be begun', () => {
    show({ watched: true });
    expect([screen.getByRole('alert').textContent, (screen.getByRole('button', { name: /^Begin/ }) as HTMLButtonElement).disabled]).toEqual([expect.stringContaining('Switch it off under Connections first'), true]);
  });
  test('a pipeline without a past says so, and an empty place too', () => {
    show({ expected: null });
    expect(screen.getByText(/nobody knows what they will take/)).toBeTruthy();
    show({ items: [] });
    expect(screen.getByText('Nothing waits there')).toBeTruthy();
  });
});

test('the list of batches tells what stopped one', async () => {
  showScreen(<Batches />, { 'GET /batches': [{ ...batch, state: 'under way', problem: 'The folder is away.' }] });
  await screen.findByText('The folder is away.');
  expect(screen.getByRole('link', { name: 'Folder “scans”' }).getAttribute('href')).toBe('/batches/B1');
});

describe(Results, () => {
  const row = (number: number, changes: Partial<BatchResults['rows'][number]> = {}): BatchResults['rows'][number] => ({ number, name: `bill-${number}.pdf`, item: 'taken', problem: null, values: { total: `${number}.00` }, document: { id: `D${number}`, fileName: `bill-${number}.pdf`, kind: 'bill', repeatOf: null, run: { id: `R${number}`, state: 'finished', stopped: null } }, ...changes });
  const results: BatchResults = { columns: [{ key: 'total', label: 'Total' }], total: 4, offset: 0, rows: [row(1), row(2), row(3, { item: 'failed', document: null, problem: 'It is gone.' }), row(4, { item: 'waiting', document: null, values: {} })] };
  test('shows values, and what became of those that gave none', () => {
    render(<Results results={results} chosen="D1" onChoose={() => undefined} />);
    for (const text of ['1.00', '2.00', 'It is gone.', 'not taken', 'not taken yet']) expect(screen.getByText(text)).toBeTruthy();
  });
  test('arrow keys go from document to document, and not beyond', () => {
    const chosen: string[] = [];
    render(<Results results={results} chosen="D1" onChoose={(id) => chosen.push(id)} />);
    const table = screen.getByRole('group', { name: /^Results/ });
    for (const key of ['ArrowUp', 'ArrowDown']) fireEvent.keyDown(table, { key });
    expect(chosen).toEqual(['D2']);
  });
});
