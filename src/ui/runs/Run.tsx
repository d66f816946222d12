'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { RunDetail, RunStepView } from '@/contracts/api';
import { ask, post } from '../api';
import { ReasonDialog } from '../frame/ReasonDialog';
import { duration, Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { SampleButton } from '../documents/SampleButton';
import { DocumentPanel } from '../documents/DocumentPanel';
import { LeadLine } from '../tally/LeadLine';
import { RunMark } from '../tally/Mark';
import { Sentence } from '../tally/Sentence';
import { StepDetail } from './StepDetail';

/** One run down its lead line, with the page beside it. */
export function Run({ id }: { readonly id: string }) {
  const { data: run, error } = useQuery({ queryKey: ['run', id], queryFn: () => ask<RunDetail>(`/runs/${id}`) });
  const [selected, setSelected] = useState<string | null>(null);
  const { tell, warn } = useNotices();
  const again = (from: string) => void post(`/runs/${id}/refloat`, { from }).then(() => tell('Refloated; this step and those behind it are done anew.'), warn);
  if (error) return <Trouble error={error} />;
  if (!run) return <Loading />;
  const reached = run.state === 'finished' && run.stopped === null ? null : (run.steps.find((step) => step.id === run.step?.split('#')[0])?.id ?? null);
  return (
    <>
      <RoomHead title={run.document.fileName} about={<>{run.pipelineName}, version {run.pipeline.version} · began <Moment at={run.createdAt} />{run.document.sender ? ` · ${run.document.sender}` : ''}</>}>
        <RunMark state={run.state} stopped={run.stopped} />
        <SampleButton documentId={run.document.id} kind={run.documentDetail.kind} />
        {run.state === 'stranded' && <StrandedActions id={id} />}
        {run.state === 'queued' && run.failure && <RetryNow id={id} dueAt={run.dueAt} />}
        {run.state === 'waiting' && <DeskLink steps={run.steps} />}
      </RoomHead>
      {(run.failure ?? run.stopped) && run.state !== 'finished' && <Box role="alert" sx={{ mx: 2.5, mb: 1, p: 1.25, borderLeft: 4, borderColor: 'chart.signal', bgcolor: 'background.paper' }}>{run.failure ?? run.stopped}</Box>}
      <Box sx={{ flex: 1, display: 'grid', gridTemplateColumns: 'minmax(420px, 5fr) minmax(420px, 6fr)', borderTop: 1, borderColor: 'divider', minHeight: 0 }}>
        <Box sx={{ p: 1.5, overflowY: 'auto', height: 'calc(100vh - 130px)' }}>
          <LeadLine reached={reached} selected={selected} onSelect={(step) => setSelected(step === selected ? null : step)} stops={run.steps.map((step) => ({ id: step.id, depth: step.depth, way: step.way, state: step.state, body: <Stop step={step} open={selected === step.id} onAgain={run.state === 'stranded' && step.recordedAt !== null ? () => again(step.id) : null} /> }))} />
        </Box>
        <Box sx={{ borderLeft: 1, borderColor: 'divider', overflowY: 'auto', height: 'calc(100vh - 130px)' }}><DocumentPanel document={run.documentDetail} /></Box>
      </Box>
    </>
  );
}

function Stop({ step, open, onAgain }: { readonly step: RunStepView; readonly open: boolean; readonly onAgain: (() => void) | null }) {
  return (
    <>
      <Sentence parts={step.sentence} />
      {step.text && <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{step.text}</Box>}
      {step.failure && <Box sx={{ color: 'chart.signal', fontSize: 13 }}>{step.failure}</Box>}
      {step.recordedAt && (
        <Box sx={{ color: 'text.secondary', fontSize: 12 }}>
          <Moment at={step.recordedAt} />{step.tookMs !== null && step.state !== 'waiting' && `, took ${duration(step.tookMs)}`}{step.attempts > 1 && `, attempt ${step.attempts}`}
        </Box>
      )}
      {open && <StepDetail step={step} />}
      {open && onAgain && <Button size="small" variant="outlined" sx={{ mt: 1 }} onClick={(event) => { event.stopPropagation(); onAgain(); }}>Refloat from this step</Button>}
    </>
  );
}

function DeskLink({ steps }: { readonly steps: readonly RunStepView[] }) {
  const [task] = steps.filter((step) => step.state === 'waiting').flatMap((step) => [step.taskId, ...step.lines.map((line) => line.taskId)]).filter(Boolean);
  return task ? <Button component={Link} href={`/desk/${task}`} variant="contained">Open on the desk</Button> : null;
}

/** A run between two attempts: when the next one is made, and a way to make it now. */
function RetryNow({ id, dueAt }: { readonly id: string; readonly dueAt: string }) {
  const { tell, warn } = useNotices();
  return (
    <>
      <Box sx={{ color: 'text.secondary', fontSize: 13 }}>next attempt <Moment at={dueAt} /></Box>
      <Button variant="outlined" onClick={() => void post(`/runs/${id}/retry-now`).then(() => tell('It is tried at once.'), warn)}>Try now</Button>
    </>
  );
}

function StrandedActions({ id }: { readonly id: string }) {
  const { tell, warn } = useNotices();
  const [asking, setAsking] = useState(false);
  const act = (path: string, done: string, body = {}) => post(`/runs/${id}/${path}`, body).then(() => tell(done), warn);
  return (
    <>
      <Button variant="contained" onClick={() => void act('refloat', 'Refloated; it goes on from where it stood.')}>Refloat</Button>
      <Button variant="outlined" onClick={() => setAsking(true)}>Give up</Button>
      <ReasonDialog open={asking} title="Give up this run?" text="It stays on record and nothing that was written is taken back. It cannot be refloated afterwards." label="Reason" action="Give up" onClose={() => setAsking(false)} onGive={(reason) => act('give-up', 'Given up.', { reason })} />
    </>
  );
}
