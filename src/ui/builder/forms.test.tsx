/** @jest-environment jsdom */
import { fireEvent, render, screen, within } from '@testing-library/react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState } from 'react';
import { billKind, billPipeline } from '../../../tests/support/definitions';
import { CATALOGUE, STEP_KINDS, type Surroundings } from '@/core/pipeline/catalogue';
import type { Step } from '@/core/pipeline/definition';
import { newStep } from '@/core/pipeline/edit';
import { BuilderProvider, type BuilderView } from './context';
import { StepForm } from './StepForm';

const around: Surroundings = {
  kinds: [billKind()], pipelines: [{ key: 'other', name: 'Another pipeline', starts: [] }],
  lists: [{ key: 'ledger', name: 'Ledger', columns: ['Bill', 'Total'], results: true }, { key: 'open', name: 'Open orders', columns: ['Order', 'Text'], results: false }],
  connections: [
    { key: 'app', name: 'App', connector: 'http', operations: [{ method: 'POST', path: '/bills', summary: 'Enter a bill', body: ['vendor', 'total'] }] },
    { key: 'db', name: 'Office', connector: 'database', tables: [{ name: 'bill', columns: [{ name: 'number' }, { name: 'leadline_key' }] }] },
    { key: 'tools', name: 'Tools', connector: 'mcp', tools: [{ name: 'enter', about: 'Enter a line', inputs: ['what'] }] },
  ],
};
const document = { id: 'D', fileName: 'note.pdf', straight: true, stopped: null, steps: [], data: { total: '120.00', orders: { lines: '[{"item":"T1","text":"Rope"}]' }, lines: [{ description: 'Rope' }] } };

/** The form of a step as the builder holds it; returns every step that it became. */
function formOf(first: Step): Step[] {
  const steps: Step[] = [first];
  function Holder() {
    const [step, setStep] = useState(first);
    const pipeline = { ...billPipeline(), steps: [{ id: 'read', do: 'read', kind: 'haulage-bill' } as const, step] };
    const view: BuilderView = { pipeline, around, documents: [document], document: 'D' };
    return <BuilderProvider value={view}><StepForm step={step} onChange={(next) => { steps.push(next); setStep(next); }} /></BuilderProvider>;
  }
  render(<QueryClientProvider client={new QueryClient()}><Holder /></QueryClientProvider>);
  return steps;
}
const choose = (label: string, option: string | RegExp) => {
  fireEvent.mouseDown(screen.getByLabelText(label));
  fireEvent.click(within(screen.getByRole('listbox')).getByRole('option', { name: option }));
};
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });

test.each(STEP_KINDS)('the form of “%s” has a field for each of its labelled parts', (kind) => {
  formOf(newStep(billPipeline(), kind));
  const labels = CATALOGUE[kind].form.flatMap((part) => ('label' in part && !['columns', 'several kinds', 'operation', 'condition', 'switch'].includes(part.is) ? [part.label] : []));
  expect(labels.filter((label) => screen.queryAllByLabelText(label).length === 0)).toEqual([]);
  expect(screen.getByLabelText('A remark for whoever reads this next')).toBeTruthy();
});

describe('what is compared when rows are matched', () => {
  const match: Step = { id: 'm', do: 'match', each: 'lines', among: 'orders.lines', compare: [{ ours: 'row.description', theirs: 'text', by: 'text' }], bring: { line: 'line' } };
  test('columns of the records that would be matched with are offered', () => {
    const steps = formOf(match);
    const theirs = screen.getByLabelText('as their column');
    fireEvent.change(theirs, { target: { value: 'ite' } });
    fireEvent.click(screen.getByRole('option', { name: 'item' }));
    expect((steps.at(-1) as typeof match).compare).toEqual([{ ours: 'row.description', theirs: 'item', by: 'text' }]);
  });
  test('amounts can be apart by something, texts cannot, and the last comparison stays', () => {
    const steps = formOf(match);
    expect((screen.getByRole('button', { name: 'Take out' }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Another comparison' }));
    expect(screen.queryByLabelText('give or take')).toBeNull();
    fireEvent.mouseDown(screen.getAllByLabelText('is')[1] as HTMLElement);
    fireEvent.click(screen.getByRole('option', { name: 'at most as much' }));
    type('give or take', '0.5');
    expect((steps.at(-1) as typeof match).compare[1]).toEqual({ ours: '', theirs: '', by: 'at most', tolerance: '0.5' });
    fireEvent.click(screen.getAllByRole('button', { name: 'Take out' })[0] as HTMLElement);
    expect((steps.at(-1) as typeof match).compare.map(({ by }) => by)).toEqual(['at most']);
  });
  test('what is brought along is written a line each, and a line without a place is told', () => {
    const steps = formOf(match);
    const bring = screen.getByLabelText('Bring along from the row that is found');
    fireEvent.change(bring, { target: { value: 'line = line\norder' } });
    fireEvent.blur(bring);
    expect([screen.getByText('“order” needs a name, an equals sign and a place'), steps.length]).toEqual([expect.anything(), 1]);
    fireEvent.change(bring, { target: { value: 'line = line\norder = order' } });
    fireEvent.blur(bring);
    expect((steps.at(-1) as typeof match).bring).toEqual({ line: 'line', order: 'order' });
  });
});

describe('what a target or a service says of itself', () => {
  test('an operation fills method, path and the names of the body, and keeps what was mapped', () => {
    const steps = formOf({ id: 's', do: 'send', connection: 'app', method: 'PUT', path: '/', body: { total: 'total' } });
    choose('What it says it can do', /POST \/bills: Enter a bill/);
    expect(steps.at(-1)).toEqual({ id: 's', do: 'send', connection: 'app', method: 'POST', path: '/bills', body: { vendor: '', total: 'total' } });
  });
  test('a tool fills the names of what it is given', () => {
    const steps = formOf({ id: 't', do: 'tool', connection: 'tools', tool: '' });
    choose('Tool', /enter: Enter a line/);
    expect(steps.at(-1)).toEqual({ id: 't', do: 'tool', connection: 'tools', tool: 'enter', input: { what: '' } });
  });
  test('tables of a database are offered, and then their columns but the key’s', () => {
    const steps = formOf({ id: 'w', do: 'write-table', connection: 'db', table: '', keyColumn: 'leadline_key', columns: {} });
    const table = screen.getByLabelText('Table');
    fireEvent.change(table, { target: { value: 'bi' } });
    fireEvent.click(screen.getByRole('option', { name: 'bill' }));
    expect(steps.at(-1)).toMatchObject({ table: 'bill' });
    expect(within(screen.getByRole('group', { name: 'Columns' })).getByText('number')).toBeTruthy();
    expect(within(screen.getByRole('group', { name: 'Columns' })).queryByText('leadline_key')).toBeNull();
  });
});

describe('lists of parts', () => {
  test('a question’s answers are named, typed, given options, and marked as needed', () => {
    const steps = formOf({ id: 'a', do: 'ask', title: 'Which?', answers: [{ key: 'berth', label: 'Berth', type: 'text' }] });
    fireEvent.click(screen.getByRole('button', { name: 'Another answer' }));
    fireEvent.mouseDown(screen.getAllByLabelText('Is a')[1] as HTMLElement);
    fireEvent.click(screen.getByRole('option', { name: 'choice' }));
    const options = screen.getByLabelText('Options, with commas');
    fireEvent.change(options, { target: { value: 'north, south, north,' } });
    fireEvent.blur(options);
    fireEvent.click(screen.getAllByLabelText('needed')[1] as HTMLElement);
    expect((steps.at(-1) as Extract<Step, { do: 'ask' }>).answers).toEqual([{ key: 'berth', label: 'Berth', type: 'text' }, { key: 'answer_2', label: 'Answer 2', type: 'choice', options: ['north', 'south'], required: true }]);
  });
  test('tabs of a workbook are added, renamed and taken out', () => {
    const steps = formOf({ id: 'w', do: 'write-workbook', file: 'A.xlsx', tabs: [{ tab: 'Bills', columns: { Total: 'total' } }] });
    fireEvent.click(screen.getByRole('button', { name: 'Another tab' }));
    fireEvent.change(screen.getAllByLabelText('Tab')[1] as HTMLElement, { target: { value: 'Lines' } });
    fireEvent.change(screen.getAllByLabelText('Unless this column has its value')[1] as HTMLElement, { target: { value: 'Document' } });
    expect((steps.at(-1) as Extract<Step, { do: 'write-workbook' }>).tabs[1]).toEqual({ tab: 'Lines', columns: { Document: 'document.name' }, unless: 'Document' });
  });
  test('free columns get a name of their own, once', () => {
    const steps = formOf({ id: 'c', do: 'write-csv', file: 'A.csv', columns: { Total: 'total' } });
    const name = screen.getByLabelText('Another name');
    fireEvent.change(name, { target: { value: 'Total' } });
    expect(screen.getByText('This name is there already')).toBeTruthy();
    fireEvent.change(name, { target: { value: 'Haulier' } });
    fireEvent.keyDown(name, { key: 'Enter' });
    fireEvent.click(screen.getByRole('button', { name: 'Leave Total empty' }));
    expect((steps.at(-1) as Extract<Step, { do: 'write-csv' }>).columns).toEqual({ Haulier: '' });
  });
  test('kinds to sort among are ticked', () => {
    const steps = formOf({ id: 's', do: 'sort' });
    fireEvent.click(screen.getByLabelText('Haulage bill'));
    fireEvent.click(screen.getByLabelText('Haulage bill'));
    expect(steps.map((step) => ('kinds' in step ? step.kinds : null))).toEqual([null, ['haulage-bill'], null]);
  });
});
