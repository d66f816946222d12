'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { DocumentDetail } from '@/contracts/api';
import type { BatchDetail, BatchResults } from '@/contracts/batches';
import { useAddress } from '../address';
import { ask, post, queryOf } from '../api';
import { DocumentPanel } from '../documents/DocumentPanel';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Pager } from '../frame/Pager';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { BatchMark } from './BatchMark';
import { Results } from './Results';
import { forecastWords, standing } from './words';

const LIMIT = 50;

/** One batch: how far it is, what came of it as one table, and the page of the chosen row beside it. */
export function Batch({ id }: { readonly id: string }) {
  const [address, change] = useAddress();
  const offset = Number(address.get('offset') ?? 0);
  const { data: batch, error } = useQuery({ queryKey: ['batch', id], queryFn: () => ask<BatchDetail>(`/batches/${id}`) });
  const { data: results } = useQuery({ queryKey: ['batch', id, 'results', offset], queryFn: () => ask<BatchResults>(`/batches/${id}/results${queryOf({ offset, limit: LIMIT })}`) });
  const chosen = address.get('document') ?? results?.rows.find(({ document }) => document)?.document?.id ?? null;
  if (error) return <Trouble error={error} />;
  if (!batch) return <Loading />;
  return (
    <>
      <RoomHead title={batch.name} about={<>through {batch.pipeline.name}, begun <Moment at={batch.begunAt} /> by {batch.begunBy}</>}><Actions batch={batch} /></RoomHead>
      <HowFar batch={batch} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 3fr) minmax(380px, 2fr)', borderTop: 1, borderColor: 'divider' }}>
        <Box sx={{ overflow: 'auto', height: 'calc(100vh - 182px)', bgcolor: 'background.paper' }}>
          {results ? <Results results={results} chosen={chosen} onChoose={(document) => change({ document })} /> : <Loading />}
          {results && <Pager offset={offset} limit={LIMIT} total={results.total} onMove={(next) => change({ offset: String(next), document: null })} />}
        </Box>
        <Box sx={{ overflowY: 'auto', height: 'calc(100vh - 182px)', borderLeft: 1, borderColor: 'divider' }}>{chosen ? <Beside id={chosen} /> : <Empty title="No page yet">What was taken shows its page here.</Empty>}</Box>
      </Box>
    </>
  );
}

function Beside({ id }: { readonly id: string }) {
  const { data, error } = useQuery({ queryKey: ['document', id], queryFn: () => ask<DocumentDetail>(`/documents/${id}`) });
  if (error) return <Trouble error={error} />;
  return data ? <DocumentPanel key={data.id} document={data} /> : <Loading />;
}

/** The line from all that was chosen to all that is through, and what is to be expected of the rest. */
function HowFar({ batch }: { readonly batch: BatchDetail }) {
  const { items, documents, expected, problem, state, released } = batch;
  const parts = [
    [documents.finished, 'finished'], [documents.waiting, 'on the desk'], [documents.stranded, 'stranded'], [(documents.queued ?? 0) + (documents.working ?? 0), 'under way'], [documents['given up'], 'given up'], [documents.none, 'repeats or not readable'], [items.failed, 'could not be taken'],
  ].filter(([count]) => Number(count ?? 0) > 0).map(([count, words]) => `${count} ${words}`);
  return (
    <Box sx={{ px: 2.5, pb: 1.5, display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
        <BatchMark state={state} trouble={problem !== null} />
        <Box role="status">{standing(batch)}{parts.length > 0 && `: ${parts.join(', ')}`}.</Box>
        {items.waiting > 0 && state !== 'ended' && expected && <Box sx={{ color: 'text.secondary' }}>The other {items.waiting}: {forecastWords(expected).join(', ')}.</Box>}
      </Box>
      <Box role="img" aria-label={`${items.all - items.waiting} of ${items.all}`} sx={{ position: 'relative', height: 6, bgcolor: 'divider' }}>
        <Box sx={{ position: 'absolute', inset: 0, width: `${(100 * (items.all - items.waiting)) / Math.max(1, items.all)}%`, bgcolor: 'chart.deep' }} />
        {released < items.all && <Box sx={{ position: 'absolute', top: -3, bottom: -3, left: `${(100 * released) / items.all}%`, width: 2, bgcolor: 'text.primary' }} />}
      </Box>
      {problem && <Box role="alert" sx={{ color: 'chart.signal' }}>{problem} It is tried again by itself.</Box>}
    </Box>
  );
}

const MORE = 10;

function Actions({ batch }: { readonly batch: BatchDetail }) {
  const { id, state, items, released } = batch;
  const [ending, setEnding] = useState(false);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const act = (path: string, text: string, body: unknown = {}) => void post(`/batches/${id}/${path}`, body).then(() => { tell(text); return client.invalidateQueries({ queryKey: ['batch', id] }); }, warn);
  const open = state === 'under way' || state === 'paused';
  const held = items.all - released;
  return (
    <>
      {open && held > MORE && <Button variant="outlined" onClick={() => act('go-on', `The next ${MORE} are taken.`, { more: MORE })}>The next {MORE}</Button>}
      {open && (held > 0 || state === 'paused') && <Button variant="contained" onClick={() => act('go-on', 'All the rest is taken.', { more: null })}>Go on with all {items.waiting}</Button>}
      {state === 'under way' && <Button variant="outlined" onClick={() => act('pause', 'Paused. What was taken is worked on to its end.')}>Pause</Button>}
      {open && <Button variant="outlined" onClick={() => setEnding(true)}>Leave the rest</Button>}
      <Button variant="outlined" href={`/api/v1/batches/${id}/results.csv`}>Export CSV</Button>
      <ConfirmDialog open={ending} title="Leave the rest where it is?" text={`${items.waiting} of ${items.all} stay where they are, untouched. What was taken is worked on to its end.`} action="Leave them" onClose={() => setEnding(false)} onConfirm={() => act('end', 'The rest stays where it is.')} />
    </>
  );
}
