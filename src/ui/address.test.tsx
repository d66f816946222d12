/** @jest-environment jsdom */
import { act, renderHook } from '@testing-library/react';
import { useAddress } from './address';

const went: string[] = [];
let params = new URLSearchParams('filter=a');
const router = { replace: (to: string) => went.push(to) };
jest.mock('next/navigation', () => ({ useRouter: () => router, usePathname: () => '/lists/x', useSearchParams: () => params }));

beforeEach(() => {
  went.splice(0);
  params = new URLSearchParams('filter=a');
});

test('a change keeps what it does not name, and what is emptied is left out', () => {
  const { result } = renderHook(() => useAddress());
  expect([...result.current[0]]).toEqual([['filter', 'a']]);
  act(() => result.current[1]({ sort: 'Total' }));
  act(() => result.current[1]({ filter: '', sort: null }));
  expect(went).toEqual(['/lists/x?filter=a&sort=Total', '/lists/x']);
});
test('a change that comes late, from an earlier view, undoes none that came meanwhile', () => {
  const { result, rerender } = renderHook(() => useAddress());
  const earlier = result.current[1];
  act(() => result.current[1]({ sort: 'Total' }));
  params = new URLSearchParams('filter=a&sort=Total');
  rerender();
  act(() => earlier({ filter: null }));
  expect(went.at(-1)).toBe('/lists/x?sort=Total');
});
test('an address that somebody else changed is what the next change begins from', () => {
  const { result, rerender } = renderHook(() => useAddress());
  params = new URLSearchParams('filter=b&offset=50');
  rerender();
  act(() => result.current[1]({ offset: null }));
  expect(went).toEqual(['/lists/x?filter=b']);
});
