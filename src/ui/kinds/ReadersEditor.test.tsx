/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { billKind } from '../../../tests/support/definitions';
import { ReadersEditor, tidied, waysOf, withWays, type Ways } from './ReadersEditor';

const kind = billKind();
let last: Ways = {};

function Editor() {
  const [ways, setWays] = useState(waysOf(kind, 'number'));
  return <ReadersEditor kind={kind} ways={ways} onChange={(next) => { last = next; setWays(next); }} />;
}

describe(ReadersEditor, () => {
  test('shows how a field is found, layout by layout, in the order of trying', () => {
    render(<Editor />);
    expect(screen.getAllByRole('textbox', { name: 'Words' }).map((input) => (input as HTMLInputElement).value)).toEqual(['Bill no.', 'Invoice']);
    expect(screen.getByRole('textbox', { name: 'Pattern (RE2)' })).toHaveProperty('value', 'MH-\\d{6}');
  });
  test('a wording can be changed, and a way be tried earlier or taken away', () => {
    render(<Editor />);
    fireEvent.change(screen.getAllByRole('textbox', { name: 'Words' })[0] as HTMLElement, { target: { value: 'Bill no., Our bill' } });
    fireEvent.click(screen.getByRole('button', { name: 'Try way 2 earlier' }));
    expect(last['merrow']?.map((reader) => reader.reader)).toEqual(['pattern', 'anchor']);
    fireEvent.click(screen.getAllByRole('button', { name: 'Remove way 1' })[0] as HTMLElement);
    expect(last['merrow']).toEqual([expect.objectContaining({ reader: 'anchor', anchors: ['Bill no.', 'Our bill'] })]);
  });
});

describe(withWays, () => {
  test('changes the readers of one field and leaves the others', () => {
    const next = withWays(kind, 'number', { merrow: [], tollan: [{ reader: 'described' }] });
    expect([next.layouts[0]?.fields['number'], next.layouts[1]?.fields['number'], next.layouts[0]?.fields['date']]).toEqual([undefined, [{ reader: 'described' }], kind.layouts[0]?.fields['date']]);
  });
});

describe(tidied, () => {
  test('leaves out what was not filled in', () => {
    expect(tidied({ a: [{ reader: 'anchor', anchors: [' Bill ', ''], direction: 'right' }, { reader: 'anchor', anchors: [''], direction: 'below' }, { reader: 'pattern', after: ' no. ', before: '' }, { reader: 'pattern', pattern: '' }, { reader: 'described' }] })).toEqual({ a: [{ reader: 'anchor', anchors: ['Bill'], direction: 'right' }, { reader: 'pattern', after: 'no.' }, { reader: 'described' }] });
  });
});
