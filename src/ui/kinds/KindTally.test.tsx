/** @jest-environment jsdom */
import { ThemeProvider } from '@mui/material/styles';
import { fireEvent, render, screen, within } from '@testing-library/react';
import { judge } from '@/core/measuring/compare';
import { readDocument } from '@/core/reading/chain';
import type { KindDefinition } from '@/core/reading/kind';
import { typedPage } from '../../../tests/support/page';
import { theme } from '../theme';
import { KindTally } from './KindTally';
import { standing, standingTruth, type Column } from './useWorkbench';

// The list of what is done to a sample opens above everything; jsdom has no layout to scroll in.
beforeAll(() => { Element.prototype.scrollIntoView = () => undefined; });

const kind: KindDefinition = {
  leadline: 'kind/1', key: 'slip', name: 'Slip', layouts: [], checks: [{ check: 'formula', holds: 'total > 0', says: 'Nothing to pay.' }],
  fields: [{ key: 'number', label: 'Invoice number', type: 'identifier', required: true }, { key: 'total', label: 'Total', type: 'money' }],
  tables: [{ key: 'lines', label: 'Lines', columns: [{ key: 'description', label: 'Description', type: 'text' }, { key: 'amount', label: 'Amount', type: 'money' }] }],
};
const reading = readDocument([typedPage(['Invoice number   R-7', 'Description              Amount', 'Rope                      20.00', 'Total                     20.00'])], kind);

function column(id: string, state: 'new' | 'confirmed', fields: Record<string, string | null>): Column {
  const truth = { fields, tables: {} };
  const sample = { id, fileName: `${id}.pdf`, state, heldBack: false, pageCount: 1, problem: null, truth, revision: 1, documentId: null };
  return { sample, reading, tally: { id, reading, findings: [], judged: state === 'confirmed' ? judge(kind, reading, truth) : [] } };
}

function show(columns: readonly Column[]) {
  const onChoose = jest.fn();
  const onSample = jest.fn();
  render(<ThemeProvider theme={theme}><KindTally kind={kind} columns={columns} chosen={null} onChoose={onChoose} onField={() => undefined} onAddField={() => undefined} onSample={onSample} onRemove={() => undefined} /></ThemeProvider>);
  const row = (label: RegExp) => within(screen.getByRole('rowheader', { name: label }).closest('tr')!);
  return { onChoose, onSample, row };
}

describe(KindTally, () => {
  test('shows what is read of each sample, and the confirmed value where it is another', () => {
    const { row } = show([column('one', 'confirmed', { number: 'R-7', total: '21.00' })]);
    expect(row(/^Invoice number/).getByRole('cell')).toHaveProperty('textContent', 'R-7');
    expect(row(/^Total/).getByRole('cell').textContent).toBe('20.00confirmed: 21.00');
    expect(screen.getByRole('columnheader', { name: /^one/ }).textContent).toContain('1 of 2 right');
  });

  test('a value that was looked at on a sample still to be confirmed says so', () => {
    const { row } = show([column('one', 'new', { number: 'R-7', total: '19.00' })]);
    expect(row(/^Invoice number/).getByRole('cell').textContent).toContain('looked at');
    expect(row(/^Total/).getByRole('cell').textContent).toContain('given: 19.00');
  });

  test('a cell is chosen by clicking, a sample is held back from its list', () => {
    const { onChoose, onSample, row } = show([column('one', 'new', {})]);
    fireEvent.click(row(/^Total/).getByRole('cell'));
    expect(onChoose).toHaveBeenCalledWith({ sample: 'one', path: 'total' });
    fireEvent.click(screen.getByRole('button', { name: 'More about one.pdf' }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'Hold it back: measure only' }));
    expect(onSample).toHaveBeenCalledWith(expect.objectContaining({ id: 'one' }), { heldBack: true });
  });

  test('fields and checks are there before there is any sample', () => {
    show([]);
    expect(screen.getByRole('rowheader', { name: /^Invoice number/ })).toBeTruthy();
    expect(screen.getByText('total > 0.')).toBeTruthy();
  });
});

describe(standingTruth, () => {
  test('is what was looked at, and for the rest what was read, rows included', () => {
    const one = column('one', 'new', { total: '19.00' });
    expect([standing(one, 'total'), standing(one, 'number')]).toEqual([{ value: '19.00', looked: true }, { value: 'R-7', looked: false }]);
    expect(standingTruth(kind, one)).toEqual({ fields: { number: 'R-7', total: '19.00' }, tables: { lines: [{ description: 'Rope', amount: '20.00' }] } });
  });
});
