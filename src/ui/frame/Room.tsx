'use client';
import Box from '@mui/material/Box';
import CircularProgress from '@mui/material/CircularProgress';
import type { ReactNode } from 'react';

/** The head of a room: what it is, one line about it, and what can be done. */
export function RoomHead({ title, about, children }: { readonly title: ReactNode; readonly about?: ReactNode; readonly children?: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'flex-end', gap: 2, px: 2.5, pt: 2, pb: 1.5 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box component="h1" sx={{ m: 0, typography: 'h1', overflow: 'hidden', textOverflow: 'ellipsis' }}>{title}</Box>
        {about && <Box sx={{ color: 'text.secondary', mt: 0.25 }}>{about}</Box>}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexShrink: 0 }}>{children}</Box>
    </Box>
  );
}

/** Nothing here yet, and what to do about it. */
export function Empty({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <Box sx={{ m: 'auto', py: 8, px: 3, textAlign: 'center', maxWidth: 460 }}>
      <Box sx={{ typography: 'h2', mb: 0.5 }}>{title}</Box>
      <Box sx={{ color: 'text.secondary' }}>{children}</Box>
    </Box>
  );
}

export function Trouble({ error }: { readonly error: Error }) {
  return (
    <Box role="alert" sx={{ m: 2.5, p: 2, border: 1, borderColor: 'divider', borderLeft: 4, borderLeftColor: 'chart.signal', bgcolor: 'background.paper', maxWidth: 720 }}>
      {error.message}
    </Box>
  );
}

/** Says that something is on its way, but only when it takes long enough to be noticed. */
export function Loading() {
  return (
    <Box role="status" aria-label="Loading" sx={{ m: 'auto', p: 6, opacity: 0, animation: 'appear 0s 0.4s forwards', '@keyframes appear': { to: { opacity: 1 } } }}>
      <CircularProgress size={24} thickness={4} />
    </Box>
  );
}
