'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

/** Ask again for everything shown whenever the server says that something has changed. Returns whether the line is up. */
export function useLive(): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    const events = new EventSource('/api/v1/live');
    events.addEventListener('changed', () => void client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== 'still' }));
    events.onopen = () => setConnected(true);
    // The browser tries again by itself; what was missed is asked for when it is back.
    events.onerror = () => setConnected(false);
    return () => events.close();
  }, [client]);
  return connected;
}
