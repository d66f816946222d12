'use client';
import Tooltip from '@mui/material/Tooltip';
import dayjs from 'dayjs';
import relativeTime from 'dayjs/plugin/relativeTime';
import { useEffect, useState } from 'react';

dayjs.extend(relativeTime);

/** A moment as people say it, with the exact one in the viewer's zone on hover. */
export function Moment({ at }: { readonly at: string }) {
  const [, setTick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setTick((tick) => tick + 1), 20_000);
    return () => clearInterval(timer);
  }, []);
  return (
    <Tooltip title={dayjs(at).format('dddd D MMMM YYYY, HH:mm:ss')}>
      <time dateTime={at} suppressHydrationWarning>{dayjs(at).fromNow()}</time>
    </Tooltip>
  );
}

/** 12 ms, 1.4 s. */
export const duration = (ms: number): string => (ms < 1 ? 'under 1 ms' : ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`);
