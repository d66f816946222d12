/** @jest-environment jsdom */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ConnectionView, KeepingView } from '@/contracts/api';
import type { ListenerView } from '@/contracts/listeners';
import { Problem, showScreen } from '../../../tests/support/screen';
import { Asked } from './Asked';
import { Keeping } from './Keeping';
import { ListenerForm } from './ListenerForm';
import { Listeners } from './Listeners';

const listener: ListenerView = { key: 'books', name: 'The books', url: 'https://books.example/hook', types: ['leadline.run.stranded'], enabled: true, problem: null, toldAt: null, told: 7, due: 2, givenUp: 0 };
const ledger: ConnectionView = { key: 'ledger', name: 'Ledger', connector: 'http', connectorName: 'Application', settings: { url: 'https://ledger.example' }, offers: null, checkedAt: null, problem: null, paused: null };

describe(Asked, () => {
  test('a connection is paused and let go on, and says who paused it', async () => {
    const asked = showScreen(<Asked />, { 'GET /connections': [ledger, { ...ledger, key: 'mail', name: 'Mail', paused: { at: '2026-03-12T00:00:00Z', by: 'Office' } }], 'PUT /connections/ledger/paused': null, 'PUT /connections/mail/paused': null });
    fireEvent.click(await screen.findByRole('button', { name: 'Pause' }));
    await screen.findByText('“Ledger” is not asked any more; runs that need it wait.');
    expect(screen.getByText(/Paused by Office/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Let it go on' }));
    await waitFor(() => expect(asked.filter(({ method }) => method === 'PUT').map(({ body }) => body)).toEqual([{ paused: true }, { paused: false }]));
  });
});

describe(Listeners, () => {
  test('tells what each hears of, how much it was told, and what is the matter', async () => {
    showScreen(<Listeners />, { 'GET /listeners': [listener, { ...listener, key: 'two', name: 'Two', types: [], problem: 'It answered 500' }] });
    await screen.findByText('https://books.example/hook hears of stranded runs');
    expect([screen.getByText('https://books.example/hook hears of everything'), screen.getAllByText('Told 7, 2 on the way'), screen.getByRole('alert').textContent]).toEqual([expect.anything(), expect.anything(), 'It answered 500']);
  });
  test('without any it says what one is', async () => {
    showScreen(<Listeners />, { 'GET /listeners': [] });
    await screen.findByText(/A listener is a program of yours that is told/);
  });
  test('what it was told can be told again', async () => {
    const asked = showScreen(<Listeners />, { 'GET /listeners': [listener], 'GET /listeners/books/tellings': [{ id: 'N', type: 'leadline.run.stranded', run: 'R', fileName: 'bill.pdf', at: '2026-03-12T00:00:00Z', state: 'due', attempts: 3, toldAt: null, nextAt: '2026-03-12T00:00:00Z', failure: 'It answered 503' }], 'POST /listeners/books/replay': { count: 1 } });
    fireEvent.click(await screen.findByRole('button', { name: 'What it heard' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect([await dialog.findByText('bill.pdf'), dialog.getByText('It answered 503'), dialog.getByText(/tried 3 times/)]).toHaveLength(3);
    fireEvent.click(dialog.getByRole('button', { name: 'Tell it again' }));
    await screen.findByText('1 event is told again, with the ids of the first time.');
    const { since } = asked.find(({ path }) => path.endsWith('/replay'))?.body as { since: string };
    expect(Math.abs(Date.now() - Date.parse(since) - 24 * 3_600_000)).toBeLessThan(60_000);
  });
});

describe(ListenerForm, () => {
  const fill = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
  test('a secret that is made is shown once, to be copied', async () => {
    const onClose = jest.fn();
    const asked = showScreen(<ListenerForm listener={null} onClose={onClose} />, { 'PUT /listeners/the-books': { secret: 'whsec_abc' } });
    fill('Name', 'The books');
    fill('Address that takes the events', 'https://books.example/hook');
    fireEvent.click(screen.getByLabelText('A run has finished'));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('whsec_abc');
    expect(asked[0]?.body).toEqual({ name: 'The books', url: 'https://books.example/hook', types: ['leadline.run.stranded', 'leadline.task.opened'], secret: null, enabled: true });
    fireEvent.click(screen.getByRole('button', { name: 'I have it' }));
    await waitFor(() => expect(onClose).toHaveBeenCalled());
  });
  test('one that hears of nothing is not saved; a wrong secret is told', async () => {
    showScreen(<ListenerForm listener={listener} onClose={() => undefined} />, { 'PUT /listeners/books': new Problem('A secret of a webhook begins with “whsec_”.') });
    fireEvent.click(screen.getByLabelText('A run is stranded'));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Choose at least one thing it is told of.');
    fireEvent.click(screen.getByLabelText('A run is stranded'));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('A secret of a webhook begins with “whsec_”.');
  });
});

describe(Keeping, () => {
  const rule: KeepingView = { papersDays: null, factsDays: null, due: { documents: 0, bytes: 0, runs: 0 } };
  const choose = async (label: string, option: string) => {
    fireEvent.mouseDown(await screen.findByRole('combobox', { name: label }));
    fireEvent.click(screen.getByRole('option', { name: option }));
  };
  test('says what another rule would delete before it is set, and asks once', async () => {
    const asked = showScreen(<Keeping />, { 'GET /keeping': rule, 'GET /keeping?papersDays=90': { papersDays: 90, factsDays: null, due: { documents: 12, bytes: 3_400_000, runs: 0 } }, 'PUT /keeping': null });
    await choose('Originals and pages', '90 days');
    await screen.findByText('This deletes the pages of 12 documents (3 MB).');
    fireEvent.click(screen.getByRole('button', { name: 'Set' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Set and delete' }));
    await waitFor(() => expect(asked.find(({ method }) => method === 'PUT')?.body).toEqual({ papersDays: 90, factsDays: null }));
  });
  test('nothing is changed by looking', async () => {
    const asked = showScreen(<Keeping />, { 'GET /keeping': rule, 'GET /keeping?factsDays=365': { ...rule, factsDays: 365 } });
    await choose('What was read and done', 'a year');
    fireEvent.click(await screen.findByRole('button', { name: 'Leave as it was' }));
    expect([screen.queryByRole('button', { name: 'Set' }), asked.some(({ method }) => method === 'PUT')]).toEqual([null, false]);
  });
});
