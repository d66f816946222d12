/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import type { Review } from '@/contracts/api';
import { checkDocument } from '@/core/checking/check';
import { doubtsOf } from '@/core/checking/trust';
import type { Page } from '@/core/page/page';
import { readDocument } from '@/core/reading/chain';
import { billKind } from '../../../tests/support/definitions';
import { typedPage } from '../../../tests/support/page';
import { theme } from '../theme';
import { Strip } from './Strip';
import { TableEditor } from './TableEditor';
import { useReview } from './useReview';

const kind = billKind();
const page: Page = typedPage([
  'Merrow Haulage', '', 'Bill no.       MH-104001', 'Bill date      12 March 2026', 'Account no.    SQ-0417', '',
  'Description            Qty  Unit     Unit price      Amount',
  'Herring                  2  box           10.00       20.00', 'Ice                      3  box           10.00       30.00',
  'Total of services                                     50.00', 'Tax 20 %                                              10.00', 'Total due                                             55.00', '',
  'Agreed discount of EUR 5.00 has been taken off',
]);
const reading = readDocument([page], kind);
const findings = checkDocument({ kind, layout: reading.layout, readings: reading, pages: [page] });
const review: Review = { task: { id: 'T', title: 'Review', state: 'open', doubts: 1, question: false, reason: '', document: { id: 'D', fileName: 'a.pdf', sender: null, subject: null }, openedAt: '2026-03-12T00:00:00Z', note: null, revision: 0, runId: 'R', closedBy: null }, kind, reading, readings: reading, findings, doubts: doubtsOf(kind, reading, findings), pages: [page], elsewhere: { earlier: [], lists: [] }, previous: null, next: null };

let done = 0;
function Desk() {
  const work = useReview(review, () => undefined);
  return (
    <ThemeProvider theme={theme}>
      {work.doubts.map((doubt) => <Strip key={doubt.path} review={review} work={work} doubt={doubt} onDone={() => (done += 1)} />)}
      <TableEditor table={kind.tables[0]!} work={work} />
      <output>{work.findings.length} findings, {work.looked.size} looked at</output>
    </ThemeProvider>
  );
}

beforeEach(() => {
  done = 0;
  global.fetch = async () => Response.json({ revision: 1 });
  render(<Desk />);
});

const strip = () => screen.getByRole('group', { name: 'Total' });
const state = () => screen.getByRole('status').textContent;

describe(Strip, () => {
  test('shows the value, the reason and what could mend it', () => {
    expect(strip().textContent).toContain('55.00 is printed as the total: 5.00 too much in the parts.');
    expect(strip().textContent).toContain('1 Discount 5.00, “Agreed discount of”: then it adds up');
    expect((screen.getByLabelText('Value of Total') as HTMLInputElement).value).toBe('55.00');
  });
  test('a figure takes the suggestion, and the reason goes', () => {
    fireEvent.keyDown(strip(), { key: '1' });
    expect([state(), strip().textContent?.includes('Nothing speaks against it any more')]).toEqual(['0 findings, 1 looked at', true]);
  });
  test('Enter says that the value is right and goes on', () => {
    fireEvent.keyDown(strip(), { key: 'Enter' });
    expect([done, state()]).toEqual([1, '1 findings, 1 looked at']);
  });
  test('figures typed into the value are figures, not suggestions', () => {
    const input = screen.getByLabelText('Value of Total');
    fireEvent.keyDown(input, { key: '1' });
    expect(state()).toBe('1 findings, 0 looked at');
    fireEvent.change(input, { target: { value: '60' } });
    fireEvent.keyDown(input, { key: 'Enter' });
    expect([done, state()]).toEqual([1, '0 findings, 1 looked at']);
  });
});

describe(TableEditor, () => {
  test('another quantity changes the amount of its row', () => {
    const quantity = screen.getByLabelText('Quantity, row 1');
    fireEvent.change(quantity, { target: { value: '4' } });
    fireEvent.blur(quantity);
    expect((screen.getByLabelText('Amount, row 1') as HTMLInputElement).value).toBe('40.00');
  });
  test('rows are added and taken away', () => {
    fireEvent.click(screen.getByRole('button', { name: 'Add a row' }));
    expect(screen.getAllByLabelText(/^Amount, row/)).toHaveLength(3);
    fireEvent.click(screen.getByRole('button', { name: 'Take row 1 away' }));
    expect(screen.getAllByLabelText(/^Description, row/).map((input) => (input as HTMLInputElement).value)).toEqual(['Ice', '']);
  });
});
