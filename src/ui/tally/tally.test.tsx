/** @jest-environment jsdom */
import { fireEvent, render, screen, within } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { CellState } from '@/contracts/api';
import { billKind } from '../../../tests/support/definitions';
import { typedReading } from '@/core/reading/edit';
import { NOTHING_READ, type Readings } from '@/core/reading/reading';
import { Balance } from '../desk/Balance';
import { checkText, readersText } from '../kinds/words';
import { ReadingsTable } from '../page/ReadingsTable';
import { theme } from '../theme';
import { Gauge } from './Gauge';
import { LeadLine, type LineStop } from './LeadLine';
import { CELL_WORDS, Mark, RunMark } from './Mark';
import { Sentence } from './Sentence';

const show = (element: ReactNode) => render(<ThemeProvider theme={theme}>{element}</ThemeProvider>);
const kind = billKind();
const money = (text: string | null) => (text === null ? NOTHING_READ : typedReading({ key: 'x', label: 'x', type: 'money' }, text, { decimal: '.', dates: 'dmy' }, null));

describe(Mark, () => {
  test('every state has a shape of its own and a word, so that colour is never needed', () => {
    const shapes = (Object.keys(CELL_WORDS) as CellState[]).map((state) => {
      const { container, unmount } = show(<Mark state={state} />);
      const drawn = container.querySelector('svg')?.innerHTML ?? '';
      expect(screen.getByRole('img', { name: CELL_WORDS[state] })).toBeTruthy();
      unmount();
      return drawn;
    });
    expect(new Set(shapes).size).toBe(shapes.length);
  });
  test('a run that was stopped on purpose says so instead of "finished"', () => {
    show(<RunMark state="finished" stopped="Refused" />);
    expect(screen.getByText('stopped')).toBeTruthy();
  });
});

describe(Gauge, () => {
  test('says the figure and the threshold in words', () => {
    show(<Gauge confidence={0.884} threshold={0.9} />);
    expect(screen.getByRole('img', { name: '88 sure, 90 wanted' }).textContent).toBe('88');
  });
  test('is filled from the top as far as it is sure, with the notch at the threshold', () => {
    const { container } = show(<Gauge confidence={0.5} threshold={1} figure={false} />);
    const [frame, filled] = [...container.querySelectorAll('rect')].map((rect) => Number(rect.getAttribute('height')));
    expect(filled).toBeCloseTo((frame ?? 0) / 2, 5);
  });
});

describe(LeadLine, () => {
  const stops: LineStop[] = [
    { id: 'read', depth: 0, way: null, state: 'done', body: 'Read' },
    { id: 'ask', depth: 0, way: null, state: 'waiting', body: 'Ask' },
    { id: 'note', depth: 1, way: 'Large bill', state: 'ahead', body: 'Note' },
  ];
  test('hangs the plummet at the step that was reached, and names the way of a branch', () => {
    show(<LeadLine stops={stops} reached="ask" />);
    const [first, second, third] = screen.getAllByRole('listitem');
    expect(within(second!).getByRole('img', { name: 'reached' })).toBeTruthy();
    expect(within(first!).getByRole('img', { name: 'done' })).toBeTruthy();
    expect(third!.textContent).toBe('Large billNote');
  });
  test('a step is chosen by click and by key', () => {
    const chosen: string[] = [];
    show(<LeadLine stops={stops} reached={null} onSelect={(id) => chosen.push(id)} />);
    const [first, second] = screen.getAllByRole('button');
    fireEvent.click(first!);
    fireEvent.keyDown(second!, { key: 'Enter' });
    expect(chosen).toEqual(['read', 'ask']);
  });
});

describe(Sentence, () => {
  test('reads as one sentence', () => {
    const { container } = show(<Sentence parts={[{ text: 'Read the pages as ' }, { text: 'Haulage bill', pick: true }]} />);
    expect(container.textContent).toBe('Read the pages as Haulage bill');
  });
});

describe(Balance, () => {
  const readings = (total: string): Readings => ({ fields: { total: money(total), tax: money('10.00'), discount: money('5.00'), fuel: money(null), waiting: money(null) }, tables: { lines: [{ amount: money('50.00') }] } });
  test('shows the parts that count, what they come to, and that it adds up', () => {
    show(<Balance kind={kind} readings={readings('55.00')} />);
    const text = screen.getByRole('group').textContent;
    expect(text).toContain('Trips50.00− Discount5.00+ Tax10.00comes to55.00');
    expect(text).toContain('It adds up0.00');
    expect(text).not.toContain('Waiting');
  });
  test('shows the gap with its sign', () => {
    show(<Balance kind={kind} readings={readings('54.50')} />);
    expect(screen.getByRole('group').textContent).toContain('Gap-0.50');
  });
});

describe(ReadingsTable, () => {
  test('shows amounts grouped, what is missing as missing, and tells which value was chosen', () => {
    const chosen: string[] = [];
    const readings: Readings = { fields: { total: money('1234.50'), discount: NOTHING_READ }, tables: { lines: [{ amount: money('7.00') }] } };
    show(<ReadingsTable kind={kind} readings={readings} active="total" onChoose={(path) => chosen.push(path)} />);
    expect(screen.getByText('1,234.50')).toBeTruthy();
    expect(screen.getByText('not there')).toBeTruthy();
    fireEvent.click(screen.getByText('7.00'));
    fireEvent.click(screen.getByText('Discount'));
    expect(chosen).toEqual(['lines.0.amount', 'discount']);
  });
});

describe('a kind in words', () => {
  test('how a value is found, layout by layout', () => {
    expect(readersText(kind, 'number')).toBe('right of “Bill no.”, first page, else pattern MH-\\d{6} · below “Invoice”, first page');
    expect(readersText(kind, 'nothing')).toBe('from its description');
  });
  test('what must hold', () => {
    expect(kind.checks.map((check) => checkText(kind, check))).toEqual(['No earlier document has the same bill number, haulier, total.', 'On every row, quantity × unit price = amount.', 'The sum of amounts − discount + fuel supplement + waiting time + tax = total.']);
  });
});
