/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { billKind, billPipeline } from '../../../tests/support/definitions';
import type { Condition, Step, Value } from '@/core/pipeline/definition';
import type { Surroundings } from '@/core/pipeline/catalogue';
import { AddStep, findKinds } from './AddStep';
import { BuilderProvider, type BuilderView } from './context';
import { moveHistory, type History } from './history';
import { ColumnsField } from './parts/ColumnsField';
import { ConditionField } from './parts/ConditionField';
import { ValueField } from './parts/ValueField';
import { rowsOf } from './rows';
import { StepForm } from './StepForm';
import { changedDocuments, glimpse, madeBefore } from './tried';

const around: Surroundings = { kinds: [billKind()], lists: [{ key: 'haulage-ledger', name: 'Haulage ledger', columns: ['Bill number', 'Total', 'Colour'], results: true }], connections: [], pipelines: [] };
const document = { id: 'D', fileName: 'bill.pdf', straight: true, stopped: null, steps: [], data: { total: '120.00', number: 'MH-1', lines: [{ amount: '7.00' }] } };
const view: BuilderView = { pipeline: billPipeline(), around, documents: [document], document: 'D' };
const show = (element: ReactNode) => render(<QueryClientProvider client={new QueryClient()}><BuilderProvider value={view}>{element}</BuilderProvider></QueryClientProvider>);

/** A part with its value kept, as a form keeps it; every value it had is noted. */
function held<T>(first: T, part: (value: T, set: (next: T) => void) => ReactNode): T[] {
  const values: T[] = [first];
  function Holder() {
    const [value, setValue] = useState(first);
    return part(value, (next) => { values.push(next); setValue(next); });
  }
  show(<Holder />);
  return values;
}

describe(findKinds, () => {
  test.each([['mail', 'mail'], ['spreadsheet', 'write-workbook'], ['loop', 'each'], ['if', 'branch'], ['approval', 'approve'], ['http', 'call'], ['sql', 'write-table'], ['rename', 'write-file']])('“%s” finds %s first', (typed, kind) => expect(findKinds(typed)[0]).toBe(kind));
});

describe(AddStep, () => {
  test('arrows choose and Enter takes', () => {
    const added: string[] = [];
    show(<AddStep onAdd={(kind) => added.push(kind)} onClose={() => undefined} />);
    const field = screen.getByLabelText('What should happen?');
    fireEvent.change(field, { target: { value: 'write' } });
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(added).toEqual([findKinds('write')[1]]);
  });
});

describe(ValueField, () => {
  test('switching between picked, text and computed loses nothing', () => {
    const values = held<Value>('total', (value, set) => <ValueField step="ledger" label="By" value={value} onChange={set} />);
    fireEvent.click(screen.getByRole('button', { name: 'Computed' }));
    fireEvent.change(screen.getByLabelText('By'), { target: { value: '$plus(total, 1)' } });
    fireEvent.click(screen.getByRole('button', { name: 'Picked' }));
    expect(values.at(-1)).toEqual({ pick: 'total', expression: '$plus(total, 1)', by: 'pick' });
    expect((screen.getByLabelText('By') as HTMLInputElement).value).toBe('Total');
  });
  test('the value of the document that is shown stands under what is picked, and an expression gives its result', async () => {
    held<Value>('total', (value, set) => <ValueField step="ledger" label="By" value={value} onChange={set} />);
    expect(screen.getByText('120.00')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Computed' }));
    fireEvent.change(screen.getByLabelText('By'), { target: { value: '$plus(total, "0.50")' } });
    expect(await screen.findByText('120.5')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('By'), { target: { value: 'total + (' } });
    expect(screen.getByText(/^At character \d+: /)).toBeTruthy();
  });
});

describe(ConditionField, () => {
  test('a second condition joins the first, and taking it out leaves one', () => {
    const values = held<Condition | undefined>({ trusted: true }, (value, set) => <ConditionField step="ledger" label="When" value={value} onChange={set} />);
    fireEvent.click(screen.getByRole('button', { name: 'And another' }));
    expect(values.at(-1)).toEqual({ all: [{ trusted: true }, { value: '', is: 'equal to', than: '' }] });
    fireEvent.click(screen.getByRole('button', { name: 'one of them holds' }));
    expect(values.at(-1)).toMatchObject({ any: [{ trusted: true }, {}] });
    fireEvent.click(screen.getAllByRole('button', { name: 'Take this condition out' })[1]!);
    expect(values.at(-1)).toEqual({ trusted: true });
  });
  test('conditions within conditions are shown as a sentence and left alone', () => {
    held<Condition | undefined>({ any: [{ all: [{ trusted: true }, { value: 'total', is: 'present' }] }, { trusted: false }] }, (value, set) => <ConditionField step="ledger" label="When" value={value} onChange={set} />);
    expect(screen.getByText(/every value is sure enough and no check fails and total is present or a check fails/)).toBeTruthy();
  });
});

describe(ColumnsField, () => {
  test('the columns of the target are listed, and what is alike is matched with one click', () => {
    const values = held<Readonly<Record<string, Value>>>({}, (value, set) => <ColumnsField step="ledger" label="Columns" value={value} targets={['Bill number', 'Total due', 'Colour']} onChange={set} />);
    fireEvent.click(screen.getByRole('button', { name: 'Match 2 by name' }));
    expect(values.at(-1)).toEqual({ 'Bill number': 'number', 'Total due': 'total' });
    expect(screen.getByText('Colour')).toBeTruthy();
  });
});

describe(StepForm, () => {
  test('a part that is emptied is not there at all any more', () => {
    const values = held<Step>({ id: 'd', do: 'desk', when: { trusted: false }, title: 'Look' }, (value, set) => <StepForm step={value} onChange={set} />);
    fireEvent.change(screen.getByLabelText('Title on the desk'), { target: { value: '' } });
    expect(values.at(-1)).toEqual({ id: 'd', do: 'desk', when: { trusted: false } });
  });
  test('a number outside its limits is not taken over, and says what it may be', () => {
    const values = held<Step>({ id: 'w', do: 'wait', minutes: 60 }, (value, set) => <StepForm step={value} onChange={set} />);
    const minutes = screen.getByLabelText('Minutes');
    fireEvent.change(minutes, { target: { value: '0' } });
    fireEvent.blur(minutes);
    expect([values.length, screen.getByText('A number from 1 to 527040')]).toEqual([1, expect.anything()]);
  });
  test('a way of a branch is added with its condition, and named', () => {
    const values = held<Step>({ id: 'b', do: 'branch', ways: [{ name: 'Large', when: { trusted: true }, steps: [] }] }, (value, set) => <StepForm step={value} onChange={set} />);
    fireEvent.click(screen.getByRole('button', { name: 'Another way' }));
    fireEvent.change(screen.getByLabelText('Way 2'), { target: { value: 'Small' } });
    expect((values.at(-1) as Extract<Step, { do: 'branch' }>).ways.map(({ name }) => name)).toEqual(['Large', 'Small']);
  });
});

describe(rowsOf, () => {
  test('ways have heads, and an empty sequence a place for its first step', () => {
    const rows = rowsOf({ ...billPipeline(), steps: [{ id: 'b', do: 'branch', ways: [{ name: 'Large', when: { trusted: true }, steps: [] }], else: { steps: [{ id: 'c', do: 'check' }] } }] });
    expect(rows.map((row) => (row.is === 'step' ? row.step.id : row.is === 'way' ? row.name : row.text))).toEqual(['b', 'Large', 'Nothing happens on this way.', 'Otherwise', 'c']);
  });
});

describe(moveHistory, () => {
  test('undo and redo go through what was done, and a new change forgets what was undone', () => {
    const version = (yaml: string) => ({ pipeline: billPipeline(), yaml });
    const begun: History = { past: [], now: version('a'), future: [] };
    const two = ['b', 'c'].reduce((history, yaml) => moveHistory(history, { move: 'change', to: version(yaml) }), begun);
    const back = moveHistory(two, { move: 'undo' });
    expect([back.now.yaml, moveHistory(back, { move: 'redo' }).now.yaml, moveHistory(moveHistory(back, { move: 'change', to: version('d') }), { move: 'redo' }).now.yaml]).toEqual(['b', 'c', 'd']);
  });
});

describe(glimpse, () => {
  const cell = (state: 'done' | 'would ask' | 'would write' | 'failed', line: number | null = null) => ({ step: 's', line, state, short: '', text: '', writes: state === 'would write' ? [{ target: 't', rows: [{}, {}] }] : [] });
  test('lines are put together; what needs somebody most is said', () => {
    expect([glimpse([]), glimpse([cell('would write')])?.text, glimpse([cell('done', 0), cell('failed', 1), cell('failed', 2)])?.text]).toEqual([null, 'would write 2 rows', 'failed 2 of 3']);
  });
});

describe(madeBefore, () => {
  const tried = (text: string, value: string) => ({ ...document, steps: [{ step: 's', line: null, state: 'done' as const, short: text, text, writes: [{ target: 't', rows: [{ A: { value, place: null } }] }] }] });
  test('says what a step made before, where it makes something else', () => {
    expect([madeBefore(tried('sure', '1'), tried('sure', '1'), 's'), madeBefore(tried('look', '1'), tried('sure', '1'), 's'), madeBefore(tried('sure', '1'), tried('sure', '2'), 's'), madeBefore({ ...document, steps: [] }, tried('sure', '1'), 's'), madeBefore(undefined, tried('sure', '1'), 's')]).toEqual([null, 'look', 'other values', 'not there', null]);
  });
  test('documents count once, however many steps differ', () => {
    expect(changedDocuments([tried('look', '1')], [tried('sure', '2')], ['s', 'gone']).map(({ id }) => id)).toEqual(['D']);
  });
});
