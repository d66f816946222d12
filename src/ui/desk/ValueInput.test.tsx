/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import { NOTHING_READ, type Reading } from '@/core/reading/reading';
import { theme } from '../theme';
import { ValueInput } from './ValueInput';

const field = { key: 'total', label: 'Total', type: 'money' } as const;
const comma = { decimal: ',', dates: 'dmy' } as const;

function show(reading: Reading | null) {
  const [commits, enters] = [[] as Reading[], { count: 0 }];
  render(<ThemeProvider theme={theme}><ValueInput field={field} reading={reading} locale={comma} label="Total" onCommit={(next) => commits.push(next)} onEnter={() => (enters.count += 1)} /></ThemeProvider>);
  return { commits, enters, input: screen.getByLabelText('Total') };
}

describe(ValueInput, () => {
  test('takes a value over with Enter, as the page writes it', () => {
    const { commits, enters, input } = show(NOTHING_READ);
    fireEvent.change(input, { target: { value: '1.234,50' } });
    fireEvent.keyDown(input, { key: 'Enter' });
    expect([commits.map((reading) => reading.value), enters.count]).toEqual([['1234.50'], 1]);
  });
  test('commits nothing when nothing was changed', () => {
    const { commits, input } = show({ ...NOTHING_READ, value: '12.00', text: '12,00' });
    fireEvent.blur(input);
    expect([commits, (input as HTMLInputElement).value]).toEqual([[], '12.00']);
  });
  test('goes back to what it was with Escape', () => {
    const { commits, input } = show({ ...NOTHING_READ, value: '12.00' });
    fireEvent.change(input, { target: { value: '13' } });
    fireEvent.keyDown(input, { key: 'Escape' });
    fireEvent.blur(input);
    expect([commits, (input as HTMLInputElement).value]).toEqual([[], '12.00']);
  });
});
