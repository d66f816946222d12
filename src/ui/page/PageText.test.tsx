/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { typedPage } from '../../../tests/support/page';
import { PageText } from './PageText';

const page = typedPage(['Item        Amount', 'Rope          41.70']);
Element.prototype.scrollIntoView = () => undefined;

describe(PageText, () => {
  test('keeps the columns of the page', () => {
    render(<PageText pages={[page]} selected={null} onSelect={() => undefined} />);
    expect(screen.getByRole('region', { name: 'Text of page 1' }).textContent).toBe('Item        Amount\nRope          41.70\n');
  });
  test('a click on a word tells its place, and a place selected on the page marks its word', () => {
    const seen: unknown[] = [];
    const amount = page.words[3]!;
    render(<PageText pages={[page]} selected={{ page: 1, box: amount.box }} onSelect={(place) => seen.push(place)} />);
    fireEvent.click(screen.getByText('Rope'));
    expect(seen).toEqual([{ page: 1, box: page.words[2]!.box }]);
    expect([screen.getByText('41.70').dataset['marked'], screen.getByText('Rope').dataset['marked']]).toEqual(['true', 'false']);
  });
});
