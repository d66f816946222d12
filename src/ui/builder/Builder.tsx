'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { PipelineDraftView } from '@/contracts/api';
import type { Surroundings } from '@/core/pipeline/catalogue';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import { diffPipelines } from '@/core/pipeline/diff';
import { ask, post } from '../api';
import { useAddress } from '../address';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { without } from '../member';
import { LookThrough } from './LookThrough';
import { NameDialog } from './NameDialog';
import { nameIn } from './names';
import { StepTable } from './StepTable';
import { TextPane } from './TextPane';
import { changedDocuments, stepsOf } from './tried';
import { useBuilder, type Building } from './useBuilder';
import { useEditKeys } from './useEditKeys';

/** The pipeline tally, to be edited in place: sentences on the left, documents across. Nothing is written until it is published. */
export function Builder({ pipelineKey }: { readonly pipelineKey: string }) {
  const draft = useQuery({ queryKey: ['still', 'draft', pipelineKey], queryFn: () => ask<PipelineDraftView>(`/pipelines/${pipelineKey}/draft`), gcTime: 0, staleTime: Infinity });
  const around = useQuery({ queryKey: ['still', 'surroundings'], queryFn: () => ask<Surroundings>('/surroundings') });
  if (draft.error ?? around.error) return <Trouble error={(draft.error ?? around.error) as Error} />;
  if (!draft.data || !around.data) return <Loading />;
  return <Opened key={`${draft.data.key}${draft.dataUpdatedAt}`} draft={draft.data} around={around.data} />;
}

function Opened({ draft, around }: { readonly draft: PipelineDraftView; readonly around: Surroundings }) {
  const [address, go] = useAddress();
  const documents = (address.get('documents') ?? '').split(',').filter(Boolean);
  const compare = address.get('compare') === 'yes';
  const builder = useBuilder(draft, around, { documents, compare, until: address.get('until') ?? null, asks: address.get('services') !== 'before' });
  const asText = address.get('as') === 'text';
  const choose = (ids: readonly string[]) => go({ documents: ids.join(',') });
  useEditKeys(builder, asText);
  return (
    <>
      <Head draft={draft} builder={builder} asText={asText} onText={(text) => go({ as: text ? 'text' : null })} compare={compare} onCompare={() => go({ compare: compare ? null : 'yes' })} />
      {builder.kept.state === 'not kept' && <Box role="alert" sx={{ mx: 2.5, mb: 1, p: 1.25, borderLeft: 4, borderColor: 'chart.signal', bgcolor: 'background.paper' }}>Not kept: {builder.kept.why}</Box>}
      {compare && !asText && <LookThrough draft={draft} yaml={builder.yaml} onShow={choose} />}
      {asText ? <TextPane builder={builder} /> : <StepTable builder={builder} documents={documents} onDocuments={choose} onUntil={(until) => go({ until })} onAsks={(asks) => go({ services: asks ? null : 'before' })} />}
    </>
  );
}

interface HeadProps {
  readonly draft: PipelineDraftView;
  readonly builder: Building;
  readonly asText: boolean;
  readonly compare: boolean;
  readonly onText: (text: boolean) => void;
  readonly onCompare: () => void;
}

/** What can be done to the whole, and where it stands. */
function Head({ draft, builder, asText, compare, onText, onCompare }: HeadProps) {
  const [asking, setAsking] = useState<'publish' | 'drop' | null>(null);
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const router = useRouter();
  const complaints = builder.tried.data?.complaints.length ?? 0;
  const wrong = builder.mistakes.length > 0 || builder.kept.state === 'not kept';
  const publish = (note: string) => post<{ version: number }>(`/pipelines/${draft.key}/publish`, { yaml: builder.yaml, note }).then(async ({ version }) => {
    tell(`Published as version ${version}. Runs under way finish on theirs.`);
    await client.invalidateQueries();
    router.push(`/pipelines/${draft.key}`);
  }, warn);
  const drop = () => ask(`/pipelines/${draft.key}/draft`, { method: 'DELETE' }).then(async () => {
    await client.invalidateQueries({ queryKey: ['still', 'draft', draft.key] });
    tell('The draft is thrown away.');
    router.push(draft.published ? `/pipelines/${draft.key}` : '/pipelines');
  }, warn);
  const next = (draft.published?.version ?? 0) + 1;
  return (
    <>
      <RoomHead title={<NameOf builder={builder} />} about={<>{stateText(draft, builder)}{compareText(builder)}{complaints > 0 && <Box component="span" sx={{ color: 'chart.signal' }}> · {complaints} {complaints === 1 ? 'thing' : 'things'} to mend</Box>}</>}>
        <Button variant="outlined" disabled={!builder.undo} onClick={() => builder.undo?.()}>Undo</Button>
        <Button variant="outlined" disabled={!builder.redo} onClick={() => builder.redo?.()}>Redo</Button>
        <Button variant="outlined" disabled={builder.mistakes.length > 0} onClick={() => onText(!asText)}>{asText ? 'As sentences' : 'As text'}</Button>
        {draft.published && !asText && <Button variant="outlined" aria-pressed={compare} onClick={onCompare}>{compare ? 'Only after' : 'Before and after'}</Button>}
        {(builder.changed || draft.revision > 0) && <Button variant="outlined" onClick={() => setAsking('drop')}>Throw away</Button>}
        <Button component={Link} variant="outlined" href={draft.published ? `/pipelines/${draft.key}` : '/pipelines'}>Back</Button>
        <Button variant="contained" disabled={!builder.changed || wrong || builder.resting} onClick={() => setAsking('publish')}>Publish</Button>
      </RoomHead>
      <ReasonDialog open={asking === 'publish'} optional title={`Publish “${builder.pipeline.name}”`} text={`It becomes version ${next}. Documents that arrive from now on take it; runs under way finish on theirs.${complaints > 0 ? ` ${complaints} ${complaints === 1 ? 'thing' : 'things'} would go wrong, as said at the steps.` : ''}`} label="What is new (may be empty)" action="Publish" onClose={() => setAsking(null)} onGive={publish}><Differences builder={builder} /></ReasonDialog>
      <ConfirmDialog open={asking === 'drop'} title="Throw the draft away?" text={draft.published ? `What has been changed since version ${draft.published.version} goes. The published version stays.` : 'This pipeline was never published; all of it goes.'} action="Throw away" onClose={() => setAsking(null)} onConfirm={drop} />
    </>
  );
}

/** How many of the documents tried would fare otherwise than with the published version. */
function compareText({ before, tried, pipeline, published }: Building): string {
  const now = tried.data?.documents ?? [];
  if (!before || !published || now.length === 0) return '';
  return ` · ${changedDocuments(before, now, stepsOf(pipeline, published)).length} of ${now.length} documents would fare otherwise than with the published version`;
}

/** What is different from the published version, in sentences. */
function Differences({ builder: { pipeline, published, around } }: { readonly builder: Building }) {
  if (!published) return null;
  const differences = diffPipelines(published, pipeline, nameIn(around));
  return <Box component="ul" aria-label="What is different" sx={{ mt: 0, mb: 2, pl: 2.5, maxHeight: 220, overflow: 'auto', fontSize: 13 }}>{differences.map((difference, index) => <li key={index}>{difference.text}</li>)}</Box>;
}

/** The name, and with one click the form to change it. */
function NameOf({ builder }: { readonly builder: Building }) {
  const [open, setOpen] = useState(false);
  const { pipeline, change } = builder;
  return (
    <>
      {pipeline.name} <Button size="small" onClick={() => setOpen(true)}>Rename</Button>
      {open && <NameDialog name={pipeline.name} description={pipeline.description ?? ''} onClose={() => setOpen(false)} onGive={({ name, description }) => { change({ ...(without(pipeline, 'description') as PipelineDefinition), name, ...(description === '' ? {} : { description }) }); setOpen(false); }} />}
    </>
  );
}

function stateText(draft: PipelineDraftView, { kept, changed, tried, until }: Building): string {
  const state = !changed ? (draft.published ? `As version ${draft.published.version}` : 'Begun') : draft.published ? `Changed since version ${draft.published.version}` : 'Not published yet';
  const keeping = kept.state === 'keeping' ? 'keeping it …' : changed && kept.state === 'kept' ? 'kept as a draft' : null;
  const far = until === null ? null : `tried up to “${until}”`;
  return [state, keeping, far, tried.isFetching ? 'trying it …' : 'nothing is written while you try'].filter(Boolean).join(' · ');
}
