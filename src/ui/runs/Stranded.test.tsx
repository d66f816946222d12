/** @jest-environment jsdom */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { StrandedView } from '@/contracts/api';
import { Problem, showScreen } from '../../../tests/support/screen';
import { Stranded } from './Stranded';

const group: StrandedView = { pipeline: 'haulage', pipelineName: 'Haulage', step: 'workbook', stepName: 'Workbook', code: 'file-locked', message: 'The workbook is open in another program', runs: 12, since: '2026-03-12T00:00:00Z' };

describe(Stranded, () => {
  test('says how many, where and why, and sets all of them going', async () => {
    const asked = showScreen(<Stranded />, { 'GET /stranded': [group], 'POST /stranded/refloat': { runs: 12 } });
    await screen.findByText('12 runs');
    expect(screen.getByText('The workbook is open in another program')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Refloat all 12' }));
    await screen.findByText('12 refloated; they go on from where they stood.');
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({ pipeline: 'haulage', step: 'workbook', code: 'file-locked' });
  });
  test('gives up only with a reason', async () => {
    const asked = showScreen(<Stranded />, { 'GET /stranded': [{ ...group, runs: 1 }], 'POST /stranded/give-up': { runs: 1 } });
    fireEvent.click(await screen.findByRole('button', { name: 'Give up' }));
    const dialog = await screen.findByRole('dialog');
    fireEvent.click([...dialog.querySelectorAll('button')].find((button) => button.textContent === 'Give up')!);
    await screen.findByText('Please say why, in a few words.');
    fireEvent.change(screen.getByLabelText('Reason'), { target: { value: 'paid by hand' } });
    fireEvent.click([...dialog.querySelectorAll('button')].find((button) => button.textContent === 'Give up')!);
    await waitFor(() => expect(asked.find((one) => one.path === '/stranded/give-up')?.body).toMatchObject({ reason: 'paid by hand' }));
  });
  test('shows nothing where nothing is stranded, and says why something could not be done', async () => {
    showScreen(<Stranded />, { 'GET /stranded': [group], 'POST /stranded/refloat': new Problem('The database is away.') });
    fireEvent.click(await screen.findByRole('button', { name: 'Refloat all 12' }));
    await screen.findByText('The database is away.');
  });
});
