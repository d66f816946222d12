'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { PipelineView } from '@/contracts/api';
import { ask } from '../api';
import { useNotices } from '../frame/Notices';

interface Sent {
  readonly documents: readonly { readonly fileName: string; readonly problem: { readonly text: string } | null; readonly repeatOf: string | null }[];
}

/** Where the pipeline is kept that took the last files of this browser. */
const LAST = 'leadline.last-pipeline';

/**
 * Send files and say what became of them. Where several pipelines could take them, somebody chooses: `waiting` holds the files until
 * then. Asks for the pipelines itself, because files may be dropped before the page has them.
 */
export function useSendFiles() {
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const [waiting, setWaiting] = useState<{ readonly files: readonly File[]; readonly pipelines: readonly PipelineView[] } | null>(null);
  const sendTo = async (pipeline: string, files: readonly File[]): Promise<void> => {
    const form = new FormData();
    for (const file of files) form.append('file', file);
    try {
      const { documents } = await ask<Sent>(`/pipelines/${pipeline}/documents?from=dropped`, { method: 'POST', form });
      const problem = documents.find((document) => document.problem)?.problem;
      const repeats = documents.filter((document) => document.repeatOf).length;
      if (problem) warn(problem.text);
      else tell(repeats > 0 ? `${repeats} of ${documents.length} had arrived before; shown as ${repeats === 1 ? 'a repeat' : 'repeats'}.` : `${documents.length === 1 ? (documents[0]?.fileName ?? 'One file') : `${documents.length} files`} arrived.`);
      await client.invalidateQueries();
    } catch (error) {
      warn(error);
    }
  };
  const send = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    try {
      const all = await client.fetchQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines'), staleTime: 60_000 });
      const pipelines = all.filter(({ version }) => version !== null);
      const [only, ...others] = pipelines;
      if (!only) return warn('There is no pipeline yet that could take files. Publish one first.');
      if (others.length === 0) return await sendTo(only.key, files);
      const last = localStorage.getItem(LAST);
      setWaiting({ files, pipelines: [...pipelines].sort((one, other) => Number(other.key === last) - Number(one.key === last)) });
    } catch (error) {
      warn(error);
    }
  };
  const choose = (pipeline: string) => {
    if (!waiting) return;
    localStorage.setItem(LAST, pipeline);
    setWaiting(null);
    void sendTo(pipeline, waiting.files);
  };
  return { send, waiting, choose, forget: () => setWaiting(null) };
}
