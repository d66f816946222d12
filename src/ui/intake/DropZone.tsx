'use client';
import Box from '@mui/material/Box';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type DragEvent, type ReactNode } from 'react';
import type { PipelineView } from '@/contracts/api';
import { ask } from '../api';
import { useNotices } from '../frame/Notices';

interface Sent {
  readonly documents: readonly { readonly fileName: string; readonly problem: { readonly text: string } | null; readonly repeatOf: string | null }[];
}

/** Send files to the first pipeline and say what became of them. Asks for the pipelines itself: files may be dropped before the page has them. */
export function useSendFiles(): (files: readonly File[]) => Promise<void> {
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  return async (files) => {
    if (files.length === 0) return;
    const form = new FormData();
    for (const file of files) form.append('file', file);
    try {
      const [first] = await client.fetchQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines'), staleTime: 60_000 });
      if (!first) return warn('There is no pipeline yet that could take files. Publish one first.');
      const { documents } = await ask<Sent>(`/pipelines/${first.key}/documents?from=dropped`, { method: 'POST', form });
      const problem = documents.find((document) => document.problem)?.problem;
      const repeats = documents.filter((document) => document.repeatOf).length;
      if (problem) warn(problem.text);
      else tell(repeats > 0 ? `${repeats} of ${documents.length} had arrived before; shown as ${repeats === 1 ? 'a repeat' : 'repeats'}.` : `${documents.length === 1 ? (documents[0]?.fileName ?? 'One file') : `${documents.length} files`} arrived.`);
      await client.invalidateQueries();
    } catch (error) {
      warn(error);
    }
  };
}

/** The whole room takes files that are dropped on it. */
export function DropZone({ children, onFiles, pipeline }: { readonly children: ReactNode; readonly onFiles: (files: readonly File[]) => Promise<void>; readonly pipeline: string | null }) {
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
      sx={{ flex: 1, display: 'flex', flexDirection: 'column', position: 'relative' }}
    >
      {children}
      {over > 0 && (
        <Box sx={{ position: 'absolute', inset: 8, border: 2, borderStyle: 'dashed', borderColor: 'chart.deep', bgcolor: 'background.default', opacity: 0.94, display: 'grid', placeItems: 'center', typography: 'h1', pointerEvents: 'none', zIndex: 5 }}>
          {pipeline ? `Let go: it goes to “${pipeline}”` : 'There is no pipeline yet that could take it'}
        </Box>
      )}
    </Box>
  );
}
