'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useReducer, useRef, useState } from 'react';
import type { PipelineDraftView, TriedPipeline } from '@/contracts/api';
import { parsePipeline, type Mistake } from '@/core/definition/parse';
import { pipelineText } from '@/core/definition/write';
import type { Surroundings } from '@/core/pipeline/catalogue';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import { ask, post } from '../api';
import { moveHistory, type History, type Version } from './history';

/** A change is kept and tried after this rest, ms. */
const REST_MS = 600;

function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

const read = (yaml: string): Version | null => {
  const parsed = parsePipeline(yaml, 'draft');
  return parsed.ok ? { pipeline: parsed.definition, yaml } : null;
};

/** How the pipeline is tried. */
export interface TryingHow {
  readonly documents: readonly string[];
  /** With the published version, on the same documents. */
  readonly compare: boolean;
  /** The last step that is tried; null: all of them. */
  readonly until: string | null;
  /** Services are asked now; else they answer as they did before. */
  readonly asks: boolean;
}

/** A pipeline being built: what was done and can be undone, kept on the server as it changes, and tried on documents. */
export function useBuilder(draft: PipelineDraftView, around: Surroundings, { documents, compare, until, asks }: TryingHow) {
  const [history, move] = useReducer(moveHistory, draft, (from): History => ({ past: [], now: read(from.yaml) ?? { pipeline: { leadline: 'pipeline/1', key: from.key, name: from.key, steps: [] }, yaml: from.yaml }, future: [] }));
  const { pipeline, yaml } = history.now;
  const [mistakes, setMistakes] = useState<readonly Mistake[]>([]);
  const rested = useRested(yaml, REST_MS);
  const kept = useKeeping(draft, rested);
  const tried = useQuery({
    queryKey: ['still', 'tried', draft.key, rested, documents.join(), until, asks],
    queryFn: () => post<TriedPipeline>(`/pipelines/${draft.key}/try`, { yaml: rested, until, asks, ...(documents.length > 0 ? { documents } : {}) }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const ids = tried.data?.documents.map(({ id }) => id) ?? [];
  const before = useQuery({
    queryKey: ['still', 'tried', draft.key, draft.published?.yaml ?? '', ids.join(), until, asks],
    queryFn: () => post<TriedPipeline>(`/pipelines/${draft.key}/try`, { yaml: draft.published?.yaml ?? '', documents: ids, until, asks }),
    enabled: compare && draft.published !== null && ids.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const published = useMemo(() => (draft.published ? read(draft.published.yaml) : null), [draft.published]);
  const change = (next: PipelineDefinition) => move({ move: 'change', to: { pipeline: next, yaml: pipelineText(next) } });
  /** Text that is no pipeline yet is not taken over; its mistakes are told. */
  const changeText = (text: string) => {
    const parsed = parsePipeline(text, 'draft');
    setMistakes(parsed.ok ? [] : parsed.mistakes);
    if (parsed.ok) move({ move: 'change', to: { pipeline: parsed.definition, yaml: text } });
  };
  return {
    pipeline, yaml, around, mistakes, tried, kept, until, asks,
    /** What the published version makes of the same documents; null while that is not asked for. */
    before: compare ? (before.data?.documents ?? null) : null, change, changeText,
    undo: history.past.length > 0 ? () => move({ move: 'undo' }) : null,
    redo: history.future.length > 0 ? () => move({ move: 'redo' }) : null,
    published: published?.pipeline ?? null,
    changed: JSON.stringify(pipeline) !== JSON.stringify(published?.pipeline),
    resting: rested !== yaml,
  };
}

export type Building = ReturnType<typeof useBuilder>;

export type Kept = { readonly state: 'kept' | 'keeping' } | { readonly state: 'not kept'; readonly why: string };

/** Keep the draft whenever its text has come to rest; two builders do not overwrite each other. */
function useKeeping(draft: PipelineDraftView, yaml: string): Kept {
  const revision = useRef(draft.revision);
  const last = useRef(draft.yaml);
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  const [kept, setKept] = useState<Kept>({ state: 'kept' });
  useEffect(() => {
    if (yaml === last.current) return;
    last.current = yaml;
    setKept({ state: 'keeping' });
    // One after the other: each needs the number that the one before it was given.
    chain.current = chain.current.then(async () => {
      try {
        const saved = await ask<{ revision: number }>(`/pipelines/${draft.key}/draft`, { method: 'PUT', body: { yaml, revision: revision.current } });
        revision.current = saved.revision;
        setKept({ state: 'kept' });
      } catch (error) {
        setKept({ state: 'not kept', why: (error as Error).message });
      }
    });
  }, [yaml, draft.key]);
  return kept;
}
