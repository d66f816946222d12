'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import type { PageOf, PipelineDraftView, RunSummary, TriedPipeline } from '@/contracts/api';
import { parsePipeline } from '@/core/definition/parse';
import { ask, post } from '../api';
import { useNotices } from '../frame/Notices';
import { changedDocuments, stepsOf, type TriedDocument } from './tried';

/** Past documents that are looked through, and how many in one request; more than these would keep the server busy for minutes. */
const MOST_LOOKED = 100;
const AT_ONCE = 8;
/** Documents that the tally shows beside each other. */
const MOST_SHOWN = 8;

interface Looked {
  readonly all: number;
  readonly done: number;
  readonly changed: readonly TriedDocument[];
  /** The draft that was looked through with; another one wants another look. */
  readonly yaml: string;
}

/** What the draft would change on the documents that have gone through: more of them than the tally can show. */
export function LookThrough({ draft, yaml, onShow }: { readonly draft: PipelineDraftView; readonly yaml: string; readonly onShow: (ids: readonly string[]) => void }) {
  const [looked, setLooked] = useState<Looked | null>(null);
  const { warn } = useNotices();
  const run = useRef(0);
  useEffect(() => () => void (run.current += 1), []);
  const published = draft.published?.yaml ?? '';
  const look = async () => {
    const mine = (run.current += 1);
    const rows = (await ask<PageOf<RunSummary>>(`/runs?pipeline=${draft.key}&limit=${MOST_LOOKED}`)).rows;
    const ids = [...new Set(rows.map((row) => row.document.id))];
    let state: Looked = { all: ids.length, done: 0, changed: [], yaml };
    setLooked(state);
    const tryOn = (text: string, documents: readonly string[]) => post<TriedPipeline>(`/pipelines/${draft.key}/try`, { yaml: text, documents, asks: false });
    for (let from = 0; from < ids.length && mine === run.current; from += AT_ONCE) {
      const documents = ids.slice(from, from + AT_ONCE);
      const before = await tryOn(published, documents);
      const now = await tryOn(yaml, documents);
      state = { ...state, done: from + documents.length, changed: [...state.changed, ...changedDocuments(before.documents, now.documents, stepsIn(published, yaml))] };
      if (mine === run.current) setLooked(state);
    }
  };
  const busy = looked !== null && looked.done < looked.all && looked.yaml === yaml;
  return (
    <Box role="status" sx={{ mx: 2.5, mb: 1, px: 1.5, py: 0.75, display: 'flex', gap: 1.5, alignItems: 'center', border: 1, borderColor: 'divider', bgcolor: 'background.paper', fontSize: 13.5 }}>
      {!busy && <Button variant="outlined" onClick={() => void look().catch(warn)}>{looked ? 'Look again' : `Look through the last ${MOST_LOOKED}`}</Button>}
      {busy && <Button variant="outlined" onClick={() => { run.current += 1; setLooked(null); }}>Stop</Button>}
      {looked ? <Box sx={{ flex: 1 }}>{sentence(looked, yaml)}{busy && <LinearProgress variant="determinate" value={(100 * looked.done) / Math.max(1, looked.all)} sx={{ mt: 0.5 }} />}</Box> : <Box sx={{ flex: 1, color: 'text.secondary' }}>What this draft would change on documents that have gone through. Services answer as they did then.</Box>}
      {looked && looked.changed.length > 0 && <Button variant="outlined" onClick={() => onShow(looked.changed.slice(0, MOST_SHOWN).map(({ id }) => id))}>{looked.changed.length > MOST_SHOWN ? `Show ${MOST_SHOWN} of them` : 'Show them'}</Button>}
    </Box>
  );
}

function sentence({ all, done, changed, yaml }: Looked, now: string): string {
  if (all === 0) return 'No document has gone through yet.';
  const fare = changed.length === 0 ? (done < all ? 'none so far' : 'none of them would fare otherwise') : `${changed.length} would fare otherwise`;
  return `${done} of ${all} looked through: ${fare}${yaml === now ? '' : ' (with the draft as it was then)'}.`;
}

function stepsIn(...texts: readonly string[]): string[] {
  return stepsOf(...texts.flatMap((text) => {
    const parsed = parsePipeline(text, 'draft');
    return parsed.ok ? [parsed.definition] : [];
  }));
}
