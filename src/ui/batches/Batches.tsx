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
import type { BatchView } from '@/contracts/batches';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { BatchMark } from './BatchMark';
import { standing } from './words';

/** Everything that was worked through on purpose. */
export function Batches() {
  const { data, error } = useQuery({ queryKey: ['batches'], queryFn: () => ask<BatchView[]>('/batches') });
  const begin = <Button component={Link} variant="contained" href="/batches/new">New batch</Button>;
  return (
    <>
      <RoomHead title="Batches" about="What waits in a folder, a mailbox or at a list of addresses, worked through on purpose: the first few, then the rest.">{begin}</RoomHead>
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data?.length === 0 && <Empty title="No batch yet">Try a pipeline on the first two of a thousand papers, look at what came of them, and let it go on. <Box sx={{ mt: 2 }}>{begin}</Box></Empty>}
      {data && data.length > 0 && (
        <Box sx={{ mx: 2.5, border: 1, borderColor: 'divider', bgcolor: 'background.paper', overflowX: 'auto' }}>
          <Table size="small" aria-label="Batches">
            <TableHead><TableRow><TableCell>From</TableCell><TableCell>Pipeline</TableCell><TableCell>How far</TableCell><TableCell>State</TableCell><TableCell>Begun</TableCell></TableRow></TableHead>
            <TableBody>{data.map((batch) => <Row key={batch.id} batch={batch} />)}</TableBody>
          </Table>
        </Box>
      )}
    </>
  );
}

function Row({ batch }: { readonly batch: BatchView }) {
  return (
    <TableRow hover>
      <TableCell><Box component={Link} href={`/batches/${batch.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{batch.name}</Box></TableCell>
      <TableCell>{batch.pipeline.name}</TableCell>
      <TableCell>{standing(batch)}{batch.problem && <Box sx={{ color: 'chart.signal', fontSize: 13 }}>{batch.problem}</Box>}</TableCell>
      <TableCell><BatchMark state={batch.state} trouble={batch.problem !== null} /></TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}><Moment at={batch.begunAt} /> by {batch.begunBy}</TableCell>
    </TableRow>
  );
}
