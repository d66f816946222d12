'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRef } from 'react';
import type { Counts, DocumentSummary, KindView, PageOf, PipelineView } from '@/contracts/api';
import { useAddress } from '../address';
import { ask, post, queryOf } from '../api';
import { Choices } from '../frame/Choices';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Pager } from '../frame/Pager';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { RunMark } from '../tally/Mark';
import { DropFiles } from '../frame/DropFiles';
import { ChoosePipeline } from './ChoosePipeline';
import { useSendFiles } from './useSendFiles';
import { SendSample } from './SendSample';

const LIMIT = 50;
/** Kept on purpose; nothing is wrong with them. */
const LEFT = ['left-out', 'part-of-one'];
const STATES = [{ value: '', label: 'All' }, { value: 'under way', label: 'Under way' }, { value: 'waiting', label: 'On the desk' }, { value: 'finished', label: 'Finished' }, { value: 'stranded', label: 'Stranded' }, { value: 'problem', label: 'Not readable' }, { value: 'repeat', label: 'Repeats' }];

/** What has arrived, newest first, and what became of it. */
export function Intake() {
  const [address, change] = useAddress();
  const offset = Number(address.get('offset') ?? 0);
  const filter = { search: address.get('search'), state: address.get('state') };
  const { data, error } = useQuery({ queryKey: ['documents', filter, offset], queryFn: () => ask<PageOf<DocumentSummary>>(`/documents${queryOf({ ...filter, offset, limit: LIMIT })}`) });
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const { data: counts } = useQuery({ queryKey: ['counts'], queryFn: () => ask<Counts>('/counts') });
  const { send, waiting, choose, forget } = useSendFiles();
  const chooser = useRef<HTMLInputElement>(null);
  const filtered = Boolean(filter.search ?? filter.state);
  return (
    <DropFiles onFiles={send} text={pipelines?.[0] ? (pipelines.length > 1 ? 'Let go, then choose the pipeline that takes it' : `Let go: it goes to “${pipelines[0].name}”`) : 'There is no pipeline yet that could take it'}>
      {waiting && <ChoosePipeline {...waiting} onChoose={choose} onClose={forget} />}
      <RoomHead title="Intake" about="Everything that arrived, and where it is now. Drop files anywhere on this page.">
        {counts?.demo && <SendSample />}
        <Button component={Link} variant="outlined" href="/batches">Batches</Button>
        <input ref={chooser} type="file" multiple hidden onChange={(event) => { void send([...(event.target.files ?? [])]); event.target.value = ''; }} />
        <Button variant="contained" onClick={() => chooser.current?.click()}>Choose files</Button>
      </RoomHead>
      <Box sx={{ px: 2, pb: 1, display: 'flex', gap: 2, alignItems: 'center' }}>
        <Choices label="State" choices={STATES} value={filter.state ?? ''} onChoose={(state) => change({ state, offset: null })} />
        {filter.search && <Box>with “{filter.search}” <Button onClick={() => change({ search: null, offset: null })}>Show all</Button></Box>}
      </Box>
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data?.total === 0 && (filtered ? <Empty title="Nothing fits">No document matches this filter. <Button onClick={() => change({ search: null, state: null })}>Show all</Button></Empty> : <Empty title="Nothing has arrived yet">Drop a PDF on this page, or connect a mailbox or a folder under <Link href="/connections">Connections</Link>. To see it at work first, start the demo with <kbd>npm run demo</kbd>.</Empty>)}
      {data && data.total > 0 && <Arrivals rows={data.rows} />}
      {data && <Pager offset={offset} limit={LIMIT} total={data.total} onMove={(next) => change({ offset: String(next) })} />}
    </DropFiles>
  );
}

const size = (bytes: number): string => (bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`);

function Arrivals({ rows }: { readonly rows: readonly DocumentSummary[] }) {
  const { data: kinds } = useQuery({ queryKey: ['kinds'], queryFn: () => ask<KindView[]>('/kinds') });
  const kindName = (key: string) => kinds?.find((kind) => kind.key === key)?.name ?? key;
  return (
    <Box sx={{ mx: 2.5, border: 1, borderColor: 'divider', bgcolor: 'background.paper', overflowX: 'auto' }}>
      <Table size="small" aria-label="Documents that arrived" sx={{ '& td': { verticalAlign: 'top' } }}>
        <TableHead><TableRow><TableCell>Document</TableCell><TableCell>From</TableCell><TableCell>By</TableCell><TableCell>Arrived</TableCell><TableCell align="right">Pages</TableCell><TableCell>Kind</TableCell><TableCell>State</TableCell></TableRow></TableHead>
        <TableBody>
          {rows.map((row) => (
            <TableRow key={row.id} hover>
              <TableCell sx={{ maxWidth: 420 }}>
                <Box component={Link} href={`/documents/${row.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{row.fileName}</Box>
                <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{row.subject ?? size(row.size)}</Box>
                {row.problem && <Box sx={{ color: LEFT.includes(row.problem.code) ? 'text.secondary' : 'chart.signal', fontSize: 13, mt: 0.25 }}>{row.problem.text}</Box>}
                {row.awaits.length > 0 && <Box sx={{ color: 'text.secondary', fontSize: 13, mt: 0.25 }}>Content not fetched yet</Box>}
              </TableCell>
              <TableCell sx={{ maxWidth: 240 }}><Sender text={row.sender} /></TableCell>
              <TableCell>{row.source.name}</TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}><Moment at={row.receivedAt} /></TableCell>
              <TableCell align="right">{row.pageCount ?? '–'}</TableCell>
              <TableCell>{row.kind ? kindName(row.kind) : '–'}</TableCell>
              <TableCell><State row={row} /></TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

/** Name above address, as in `Name <address>`. */
function Sender({ text }: { readonly text: string | null }) {
  const parts = /^(.*?)\s*<(.*)>$/.exec(text ?? '');
  if (!parts) return <>{text ?? '–'}</>;
  return (
    <>
      {parts[1]}
      <Box sx={{ color: 'text.secondary', fontSize: 12.5, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{parts[2]}</Box>
    </>
  );
}

function State({ row }: { readonly row: DocumentSummary }) {
  const { tell, warn } = useNotices();
  if (row.run) return <Box component={Link} href={`/runs/${row.run.id}`} sx={{ textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}><RunMark state={row.run.state} stopped={row.run.stopped} /></Box>;
  if (row.problem) return <>kept, not run</>;
  if (!row.repeatOf) return <>kept</>;
  const runAnyway = () => post(`/documents/${row.id}/runs`).then(() => tell('It runs now.'), warn);
  return (
    <Box>
      <Box>a repeat of <Link href={`/documents/${row.repeatOf}`}>an earlier one</Link></Box>
      <Button variant="outlined" sx={{ mt: 0.5 }} onClick={() => void runAnyway()}>Run it anyway</Button>
    </Box>
  );
}
