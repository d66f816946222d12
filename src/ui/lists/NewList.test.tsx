/** @jest-environment jsdom */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { ListView } from '@/contracts/api';
import { Problem, showScreen } from '../../../tests/support/screen';
import { NewList } from './NewList';

const went: string[] = [];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push: (to: string) => went.push(to) }) }));

const connections = [{ key: 'office', name: 'Office', connector: 'database', connectorName: 'Database', settings: {}, offers: null, checkedAt: null, problem: null }];
const known: ListView = { key: 'meters', name: 'Meters', description: '', columns: [], rows: 0, keyColumn: 'No', origin: null, syncedAt: null, problem: null };
const give = (label: RegExp | string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
const choose = () => fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [new File(['A,B'], 'berth-meters.csv')] } });

describe(NewList, () => {
  test('takes its name from the file, sends it, and opens the list', async () => {
    const asked = showScreen(<NewList lists={[]} onClose={() => undefined} />, { 'GET /connections': connections, 'PUT /lists/berth-meters/file?name=berth+meters&keyColumn=Meter': { rows: 12 } });
    expect(screen.getByRole('button', { name: 'Make the list' })).toHaveProperty('disabled', true);
    choose();
    give('Column that tells rows apart', ' Meter ');
    fireEvent.click(screen.getByRole('button', { name: 'Make the list' }));
    await screen.findByText('berth meters: 12 rows.');
    expect([asked.find((one) => one.method === 'PUT')?.body instanceof FormData, went.at(-1)]).toEqual([true, '/lists/berth-meters']);
  });
  test('shows what does not fit, row by row, and stays open', async () => {
    showScreen(<NewList lists={[]} onClose={() => undefined} />, { 'GET /connections': connections, 'PUT /lists/berth-meters/file?name=berth+meters': new Problem('Row 3 has the same No “1” as row 2.') });
    choose();
    fireEvent.click(screen.getByRole('button', { name: 'Make the list' }));
    await screen.findByText('Row 3 has the same No “1” as row 2.');
  });
  test('does not put another list out of its place', async () => {
    const asked = showScreen(<NewList lists={[known]} onClose={() => undefined} />, { 'GET /connections': connections });
    choose();
    give(/^Name/, 'Meters');
    fireEvent.click(screen.getByRole('button', { name: 'Make the list' }));
    await screen.findByText(/There is a list “Meters” already/);
    await waitFor(() => expect(asked.some((one) => one.method === 'PUT')).toBe(false));
  });
});
