'use client';
import Box from '@mui/material/Box';
import { useState, type DragEvent, type ReactNode } from 'react';

/** A place that takes files dropped anywhere on it, and says meanwhile what will become of them. */
export function DropFiles({ children, onFiles, text, fill = false }: { readonly children: ReactNode; readonly onFiles: (files: readonly File[]) => void | Promise<void>; readonly text: string; /** Exactly as high as the window leaves; its parts scroll by themselves. */ readonly fill?: boolean }) {
  const [over, setOver] = useState(0);
  const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes('Files');
  return (
    <Box
      onDragEnter={(event) => hasFiles(event) && setOver((depth) => depth + 1)}
      onDragLeave={(event) => hasFiles(event) && setOver((depth) => Math.max(0, depth - 1))}
      onDragOver={(event) => hasFiles(event) && event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        setOver(0);
        void onFiles([...event.dataTransfer.files]);
      }}
      sx={{ flex: 1, display: 'flex', flexDirection: 'column', position: 'relative', minWidth: 0, ...(fill ? { flex: 'none', height: 'calc(100vh - 48px)', overflow: 'hidden' } : {}) }}
    >
      {children}
      {over > 0 && <Box sx={{ position: 'absolute', inset: 8, border: 2, borderStyle: 'dashed', borderColor: 'chart.deep', bgcolor: 'background.default', opacity: 0.94, display: 'grid', placeItems: 'center', typography: 'h1', pointerEvents: 'none', zIndex: 5 }}>{text}</Box>}
    </Box>
  );
}
