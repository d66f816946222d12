'use client';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useRef } from 'react';

/** Filter, sort and page live in the address, so that a view can be sent to a colleague. */
export function useAddress(): [ReadonlyMap<string, string>, (changes: Readonly<Record<string, string | null>>) => void] {
  const params = useSearchParams();
  const router = useRouter();
  const path = usePathname();
  // A change may come before the one before it has been taken, from a timer of an earlier view too: they must not undo each other.
  const wanted = useRef(new URLSearchParams(params));
  useEffect(() => {
    wanted.current = new URLSearchParams(params);
  }, [params]);
  const change = useCallback(
    (changes: Readonly<Record<string, string | null>>) => {
      const next = new URLSearchParams(wanted.current);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === '') next.delete(name);
        else next.set(name, value);
      }
      wanted.current = next;
      router.replace(`${path}${next.size > 0 ? `?${next.toString()}` : ''}`, { scroll: false });
    },
    [path, router],
  );
  return [new Map(params), change];
}
