/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { PageView, type PageMark } from './PageView';

const word = (text: string, x: number, y: number) => ({ text, box: [x, y, x + 40, y + 10] }) as const;
const pages = [{ number: 1, width: 200, height: 100, words: [word('Rope', 10, 10), word('12', 60, 10), word('Total', 10, 50)] }, { number: 2, width: 200, height: 100, words: [] }];

beforeAll(() => {
  Element.prototype.scrollIntoView = () => undefined;
  SVGElement.prototype.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 200, right: 400, bottom: 200, x: 0, y: 0, toJSON: () => null });
  Object.assign(SVGElement.prototype, { setPointerCapture: () => undefined });
  Object.assign(globalThis, { matchMedia: () => ({ matches: true }) });
  // This DOM knows no pointer events of its own.
  Object.assign(globalThis, { PointerEvent: MouseEvent });
});

function page(marks: readonly PageMark[] = []) {
  const picked: { page: number; words: string[] }[] = [];
  const marked: string[] = [];
  const { container } = render(<PageView paper="/documents/D" pages={pages} marks={marks} onPick={(pick) => picked.push({ page: pick.page, words: pick.words.map(({ text }) => text) })} onMark={(key) => marked.push(key)} />);
  const sheet = container.querySelector('svg') as SVGSVGElement;
  /** From and to in points of the page; the sheet is shown at twice its size. */
  const drag = (from: readonly [number, number], to: readonly [number, number], more: object = {}) => {
    fireEvent.pointerDown(sheet, { button: 0, clientX: from[0] * 2, clientY: from[1] * 2, ...more });
    fireEvent.pointerMove(sheet, { clientX: to[0] * 2, clientY: to[1] * 2, ...more });
    fireEvent.pointerUp(sheet, { clientX: to[0] * 2, clientY: to[1] * 2, ...more });
  };
  return { picked, marked, drag, container };
}

test('a click takes the word under it, and a drag all words that it touches', () => {
  const { picked, drag } = page();
  drag([20, 15], [20, 15]);
  drag([5, 5], [110, 25]);
  drag([150, 80], [150, 80]);
  expect(picked).toEqual([{ page: 1, words: ['Rope'] }, { page: 1, words: ['Rope', '12'] }]);
});
test('with Shift held, words are gathered and taken together when it is let go', () => {
  const { picked, drag } = page();
  drag([20, 15], [20, 15], { shiftKey: true });
  drag([20, 55], [20, 55], { shiftKey: true });
  expect(picked).toEqual([]);
  fireEvent.keyUp(window, { key: 'Shift' });
  expect(picked).toEqual([{ page: 1, words: ['Rope', 'Total'] }]);
});
test('another button of the mouse takes nothing', () => {
  const { picked, drag } = page();
  drag([20, 15], [20, 15], { button: 2 });
  expect(picked).toEqual([]);
});
test('every page has its picture, and marks stand on their own page', () => {
  const place = { page: 2, box: [10, 10, 50, 20] } as const;
  const { container } = page([{ key: 'total', kind: 'value', place, active: true }]);
  expect(screen.getAllByRole('img').map((picture) => picture.getAttribute('alt'))).toEqual(['Page 1 of 2', 'Page 2 of 2']);
  expect([...container.querySelectorAll('svg')].map((sheet) => sheet.querySelectorAll('[data-active="true"]').length)).toEqual([0, 1]);
});
