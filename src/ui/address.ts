'use client';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback } from 'react';

/** Filter, sort and page live in the address, so that a view can be sent to a colleague. */
export function useAddress(): [ReadonlyMap<string, string>, (changes: Readonly<Record<string, string | null>>) => void] {
  const params = useSearchParams();
  const router = useRouter();
  const path = usePathname();
  const change = useCallback(
    (changes: Readonly<Record<string, string | null>>) => {
      const next = new URLSearchParams(params);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === '') next.delete(name);
        else next.set(name, value);
      }
      router.replace(`${path}${next.size > 0 ? `?${next.toString()}` : ''}`, { scroll: false });
    },
    [params, path, router],
  );
  return [new Map(params), change];
}
