'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { DocumentDetail, RunStateName } from '@/contracts/api';
import type { Place } from '@/core/page/page';
import { useAddress } from '../address';
import { ask, post } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { RunMark } from '../tally/Mark';
import { DocumentPanel } from './DocumentPanel';
import { SampleButton } from './SampleButton';

/** One document: what came, what was read, what was written. `?page=1&at=x0,y0,x1,y1` points at a place. */
export function DocumentView({ id }: { readonly id: string }) {
  const [address] = useAddress();
  const { data: document, error } = useQuery({ queryKey: ['document', id], queryFn: () => ask<DocumentDetail>(`/documents/${id}`) });
  if (error) return <Trouble error={error} />;
  if (!document) return <Loading />;
  return (
    <>
      <RoomHead title={document.fileName} about={<>{[document.subject, document.sender, document.source.name].filter(Boolean).join(' · ')} · arrived <Moment at={document.receivedAt} /></>}>
        {document.written.slice(0, 1).map((row) => <Button key={row.row} component={Link} variant="outlined" href={`/lists/${row.list}`}>In {row.listName}</Button>)}
        <SampleButton documentId={id} kind={document.kind} />
        {document.problem?.code !== 'deleted' && <Button variant="outlined" href={`/api/v1/documents/${id}/original`}>Original</Button>}
        {document.problem?.code !== 'deleted' && ENDED.includes(document.run?.state ?? 'finished') && <DeletePages document={document} />}
        {document.pages.some((page) => page.origin === 'picture') && <Button variant="outlined" href={`/api/v1/documents/${id}/searchable`}>Searchable PDF</Button>}
        {document.run && <Button component={Link} variant="outlined" href={`/runs/${document.run.id}`}><RunMark state={document.run.state} stopped={document.run.stopped} /></Button>}
      </RoomHead>
      {document.problem && document.pages.length > 0 && <Box role="alert" sx={{ px: 2.5, pb: 1, color: 'chart.signal' }}>{document.problem.text}</Box>}
      {document.awaits.length > 0 && <Awaits document={document} />}
      {document.pages[0]?.why && <Box sx={{ px: 2.5, pb: 1, color: 'text.secondary' }}>{document.pages[0].why}</Box>}
      {document.repeatOf && <Box sx={{ px: 2.5, pb: 1 }}>The same bytes arrived before: <Link href={`/documents/${document.repeatOf}`}>the first one</Link>.</Box>}
      <DocumentPanel document={document} focus={placeFrom(address)} wide />
    </>
  );
}

/** Only what the event says is here; a step that needs the content fetches it, or somebody does. */
function Awaits({ document: { id, awaits } }: { readonly document: DocumentDetail }) {
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const fetchIt = () => {
    setBusy(true);
    void post(`/documents/${id}/fetch`).then(() => { tell('The content is here.'); return client.invalidateQueries(); }, warn).finally(() => setBusy(false));
  };
  return <Box sx={{ px: 2.5, pb: 1, display: 'flex', gap: 1.5, alignItems: 'center' }}>Only what the event says is here. Its content stands at {awaits.join(', ')} and is fetched when a step needs it.<Button variant="outlined" disabled={busy} onClick={fetchIt}>Fetch it now</Button></Box>;
}

/** States in which nobody works on a document any more. */
const ENDED: readonly RunStateName[] = ['finished', 'given up'];

/** For a document that must not be kept: asks why, and says what stays. */
function DeletePages({ document }: { readonly document: DocumentDetail }) {
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const give = (reason: string) => post(`/documents/${document.id}/delete-pages`, { reason }).then(() => { setAsking(false); tell('The pages are deleted.'); return client.invalidateQueries(); }, warn);
  return (
    <>
      <Button variant="outlined" onClick={() => setAsking(true)}>Delete pages</Button>
      <ReasonDialog open={asking} title={`Delete the pages of ${document.fileName}?`} text="The original and every picture of it go for good. Its name, what was read, what was written and the proof of it stay." label="Why" action="Delete the pages" onClose={() => setAsking(false)} onGive={give} />
    </>
  );
}

function placeFrom(address: ReadonlyMap<string, string>): Place | null {
  const box = (address.get('at') ?? '').split(',').map(Number);
  const [x0, y0, x1, y1] = box;
  if (x0 === undefined || y0 === undefined || x1 === undefined || y1 === undefined || box.some(Number.isNaN)) return null;
  return { page: Number(address.get('page') ?? 1), box: [x0, y0, x1, y1] };
}
