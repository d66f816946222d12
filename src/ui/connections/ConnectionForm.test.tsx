/** @jest-environment jsdom */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ConnectionView } from '@/contracts/api';
import { Problem, showScreen, type Answers } from '../../../tests/support/screen';
import { ConnectionForm } from './ConnectionForm';

const kept: ConnectionView = { key: 'office', name: 'Office', connector: 'database', connectorName: 'Database', settings: { host: 'db.example', port: 3306, user: 'leadline', database: 'office', perMinute: 60 }, offers: null, checkedAt: null, problem: null, paused: null };
const open = (answers: Answers, connection: ConnectionView | null = null) => {
  const closed: true[] = [];
  return { closed, asked: showScreen(<ConnectionForm connection={connection} onClose={() => closed.push(true)} />, answers) };
};
const fill = (label: string | RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
const choose = (label: string, option: string) => {
  fireEvent.mouseDown(screen.getByLabelText(label));
  fireEvent.click(within(screen.getByRole('listbox')).getByText(option));
};

test.each([
  ['Application or service (HTTP)', ['Address', 'The key goes as', 'Header or user name', 'Path to try', 'Keeps idempotency keys', 'Key']],
  ['Outgoing mail (SMTP)', ['Server', 'Port', 'User', 'TLS from the start', 'Mails come from', 'Password']],
  ['Database (MariaDB, MySQL)', ['Host', 'Port', 'User', 'Database', 'Password']],
  ['Tools (Model Context Protocol)', ['Address', 'Key']],
] as const)('%s is asked for what it needs', (sort, labels) => {
  open({});
  choose('What', sort);
  expect([...labels, 'Calls a minute, at most', 'Calls at once, at most'].filter((label) => screen.queryAllByLabelText(new RegExp(`^${label}`)).length === 0)).toEqual([]);
});

test('numbers and yes or no are sent as such, what is empty is left out, and the key comes from the name', async () => {
  const { asked, closed } = open({ 'PUT /connections/our-ledger': { found: 'It answers.' } });
  choose('What', 'Application or service (HTTP)');
  fill(/^Name/, 'Our ledger');
  fill(/^Address/, 'https://ledger.example');
  fill('Calls a minute, at most', '90');
  choose('Keeps idempotency keys', 'no');
  fill('Key', 'herring');
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(closed.length).toBe(1));
  expect(asked.find(({ method }) => method === 'PUT')?.body).toEqual({ name: 'Our ledger', connector: 'http', settings: { url: 'https://ledger.example', auth: 'bearer', checkPath: '/', keepsKeys: false, perMinute: 90 }, secret: 'herring' });
});

test('trying says what was found or why not, keeps the form open, and a password that is not typed stays as it is', async () => {
  let wrong = true;
  const { asked, closed } = open({ 'POST /connections/office/try': () => (wrong ? new Problem('db.example:3306 cannot be reached.') : { found: 'The database answers.' }) }, kept);
  expect((screen.getByLabelText(/^Host/) as HTMLInputElement).value).toBe('db.example');
  fireEvent.click(screen.getByRole('button', { name: 'Try it' }));
  expect((await screen.findByRole('alert')).textContent).toBe('db.example:3306 cannot be reached.');
  wrong = false;
  fireEvent.click(screen.getByRole('button', { name: 'Try it' }));
  await screen.findByText('The database answers.');
  expect([closed.length, asked.at(-1)?.body]).toEqual([0, { name: 'Office', connector: 'database', settings: { host: 'db.example', port: 3306, user: 'leadline', database: 'office', perMinute: 60 }, secret: null }]);
});

test('it is removed only when that is said twice', async () => {
  const { asked, closed } = open({ 'DELETE /connections/office': null }, kept);
  fireEvent.click(screen.getByRole('button', { name: 'Remove' }));
  expect(asked).toEqual([]);
  fireEvent.click(screen.getByRole('button', { name: 'Remove the connection' }));
  await waitFor(() => expect(closed.length).toBe(1));
  expect(asked.map(({ method, path }) => `${method} ${path}`)).toEqual(['DELETE /connections/office']);
});
