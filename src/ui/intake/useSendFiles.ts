'use client';
import { useQueryClient } from '@tanstack/react-query';
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
