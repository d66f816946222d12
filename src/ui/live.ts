'use client';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

/** Pause before the line is opened anew, ms: a browser gives up by itself when the answer was no stream, as while the server starts. */
const REOPEN_MS = 3_000;

/** Ask again for everything shown whenever the server says that something has changed. Returns whether the line is up. */
export function useLive(): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    let line: EventSource;
    let later: ReturnType<typeof setTimeout> | undefined;
    const open = () => {
      line = new EventSource('/api/v1/live');
      // The first one comes at every opening: what was missed meanwhile is asked for.
      line.addEventListener('changed', () => void askAgain(client));
      line.onopen = () => setConnected(true);
      line.onerror = () => {
        setConnected(false);
        if (line.readyState === EventSource.CLOSED) later = setTimeout(open, REOPEN_MS);
      };
    };
    open();
    return () => {
      clearTimeout(later);
      line.close();
    };
  }, [client]);
  return connected;
}

/** A question that is being asked for the first time is not asked anew by this, and its answer may be older than the change: then once more. */
async function askAgain(client: QueryClient): Promise<void> {
  const shown = { predicate: (query: { queryKey: readonly unknown[] }) => query.queryKey[0] !== 'still' };
  const firstOnes = client.isFetching({ predicate: (query) => query.state.data === undefined });
  await client.invalidateQueries(shown);
  if (firstOnes > 0) await client.invalidateQueries(shown);
}
