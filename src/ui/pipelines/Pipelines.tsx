'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { PipelineView, RunStateName } from '@/contracts/api';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { RUN_WORDS } from '../tally/Mark';
import { NewPipeline } from './NewPipeline';
import { originsOf } from './origins';

/** Every pipeline, published or only begun, with what is under way in it. */
export function Pipelines() {
  const { data, error } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines'), refetchInterval: 10_000 });
  const [adding, setAdding] = useState(false);
  return (
    <>
      <RoomHead title="Pipelines" about="What happens to a document from its arrival to its written rows."><Button variant="contained" onClick={() => setAdding(true)}>New pipeline</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data?.length === 0 && <Empty title="No pipelines yet"><Box sx={{ mb: 1.5 }}>A pipeline says what happens to a document, step by step. It is tried on what has arrived before it is switched on.</Box><Button variant="outlined" onClick={() => setAdding(true)}>New pipeline</Button></Empty>}
      {data && data.length > 0 && <Box component="ul" sx={{ listStyle: 'none', mx: 2.5, my: 0, p: 0, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>{data.map((pipeline) => <Listing key={pipeline.key} pipeline={pipeline} />)}</Box>}
      {adding && <NewPipeline pipelines={data ?? []} onClose={() => setAdding(false)} />}
    </>
  );
}

/** States that say something about now. */
const SHOWN: readonly RunStateName[] = ['queued', 'working', 'waiting', 'stranded'];

function Listing({ pipeline }: { readonly pipeline: PipelineView }) {
  const { counts, paused, version } = pipeline;
  const href = version === null ? `/pipelines/${pipeline.key}/edit` : `/pipelines/${pipeline.key}`;
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: 'minmax(280px, 1.5fr) minmax(180px, 1fr) 190px 170px', gap: 2, px: 1.5, py: 1.25, alignItems: 'baseline', '& + &': { borderTop: 1, borderColor: 'divider' }, '&:hover': { bgcolor: 'action.hover' } }}>
      <Box sx={{ minWidth: 0 }}>
        <Box component={Link} href={href} sx={{ fontWeight: 650, fontSize: 15, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{pipeline.name}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{pipeline.description}</Box>
      </Box>
      <Box sx={{ fontSize: 13 }}>{pipeline.steps.length} {pipeline.steps.length === 1 ? 'step' : 'steps'}<Box sx={{ color: 'text.secondary' }}>from {originsOf(pipeline) || 'its endpoint only'}</Box></Box>
      <Box sx={{ fontSize: 13 }}>
        {paused && <Box sx={{ color: 'chart.signal', fontWeight: 600 }}>paused by {paused.by}</Box>}
        {SHOWN.filter((state) => (counts[state] ?? 0) > 0).map((state) => <Box key={state} component={Link} href={`/runs?pipeline=${pipeline.key}&state=${state}`} sx={{ display: 'block', textDecoration: 'none', color: state === 'waiting' || state === 'stranded' ? 'chart.signal' : 'inherit', '&:hover': { textDecoration: 'underline' } }}>{counts[state]} {RUN_WORDS[state]}</Box>)}
        <Box sx={{ color: 'text.secondary' }}>{counts.finished ?? 0} finished</Box>
      </Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{version === null ? 'a draft, not published' : <>version {version}, <Moment at={pipeline.publishedAt ?? ''} />{pipeline.hasDraft && <Box component={Link} href={`/pipelines/${pipeline.key}/edit`} sx={{ display: 'block' }}>and a draft</Box>}</>}</Box>
    </Box>
  );
}
