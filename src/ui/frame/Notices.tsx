'use client';
import Box from '@mui/material/Box';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

interface Notice {
  readonly text: string;
  readonly wrong: boolean;
}

interface Notices {
  /** Something was done. */
  readonly tell: (text: string) => void;
  /** Something was not; the sentence says why and what now. */
  readonly warn: (error: unknown) => void;
}

const Context = createContext<Notices>({ tell: () => undefined, warn: () => undefined });
export const useNotices = (): Notices => useContext(Context);

/** One quiet line at the bottom, read out to those who cannot see it. */
export function NoticeProvider({ children }: { readonly children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const [open, setOpen] = useState(false);
  const show = useCallback((next: Notice) => {
    setNotice(next);
    setOpen(true);
  }, []);
  const notices = useMemo<Notices>(() => ({ tell: (text) => show({ text, wrong: false }), warn: (error) => show({ text: error instanceof Error ? error.message : String(error), wrong: true }) }), [show]);
  return (
    <Context.Provider value={notices}>
      {children}
      <Snackbar open={open} autoHideDuration={notice?.wrong ? 12_000 : 4_000} onClose={(_, reason) => reason !== 'clickaway' && setOpen(false)} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        <Box role={notice?.wrong ? 'alert' : 'status'} sx={{ bgcolor: 'text.primary', color: 'background.default', px: 2, py: 1, borderRadius: 1, maxWidth: 640, borderLeft: 4, borderColor: notice?.wrong ? 'chart.signal' : 'chart.middle' }}>
          {notice?.text}
        </Box>
      </Snackbar>
    </Context.Provider>
  );
}
