'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import Link from 'next/link';
import { useState } from 'react';
import type { ListenerView, TellingView } from '@/contracts/listeners';
import { NOTICE_TYPES } from '@/core/telling/notice';
import { ask, post } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Loading } from '../frame/Room';
import { Mark } from '../tally/Mark';

const SINCE = { 1: 'the last hour', 24: 'the last day', 168: 'the last week', 720: 'the last 30 days' } as const;
const MARKS = { due: 'retrying', told: 'done', 'given up': 'stranded' } as const;

/** What a listener was told, what is still on its way and why, and telling it again. */
export function Tellings({ listener, onClose }: { readonly listener: ListenerView; readonly onClose: () => void }) {
  const { data } = useQuery({ queryKey: ['listeners', listener.key, 'tellings'], queryFn: () => ask<TellingView[]>(`/listeners/${listener.key}/tellings`), refetchInterval: 3_000 });
  const [hours, setHours] = useState<keyof typeof SINCE>(24);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const again = () => void post<{ count: number }>(`/listeners/${listener.key}/replay`, { since: dayjs().subtract(hours, 'hour').toISOString() }).then(({ count }) => { tell(count === 0 ? `Nothing happened in ${SINCE[hours]}.` : `${count} ${count === 1 ? 'event is' : 'events are'} told again, with the ids of the first time.`); return client.invalidateQueries({ queryKey: ['listeners'] }); }, warn);
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ typography: 'h1' }}>What “{listener.name}” heard</DialogTitle>
      <DialogContent>
        {!data && <Loading />}
        {data?.length === 0 && <Box sx={{ color: 'text.secondary' }}>Nothing yet. It hears of what happens from now on; what happened before can be told below.</Box>}
        {data && data.length > 0 && (
          <Box component="table" aria-label="Events" sx={{ width: '100%', borderCollapse: 'collapse', '& td': { py: 0.75, pr: 2, borderBottom: 1, borderColor: 'divider', verticalAlign: 'top' } }}>
            <tbody>{data.map((one) => <Row key={one.id} telling={one} />)}</tbody>
          </Box>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <TextField select size="small" label="Tell again" value={hours} onChange={(event) => setHours(Number(event.target.value) as keyof typeof SINCE)} sx={{ minWidth: 170 }}>{Object.entries(SINCE).map(([value, text]) => <MenuItem key={value} value={value}>{text}</MenuItem>)}</TextField>
        <Button variant="outlined" onClick={again}>Tell it again</Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Row({ telling: { type, run, fileName, at, state, attempts, nextAt, failure } }: { readonly telling: TellingView }) {
  return (
    <tr>
      <td>{NOTICE_TYPES[type]}</td>
      <td><Link href={`/runs/${run}`}>{fileName}</Link></td>
      <td><Moment at={at} /></td>
      <td>
        <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', color: state === 'given up' ? 'chart.signal' : 'inherit' }}>
          <Mark state={MARKS[state]} />
          {state === 'told' ? 'told' : state === 'given up' ? `given up after ${attempts} ${attempts === 1 ? 'attempt' : 'attempts'}` : attempts === 0 ? 'on its way' : <span>tried {attempts} {attempts === 1 ? 'time' : 'times'}{nextAt && <>; next <Moment at={nextAt} /></>}</span>}
        </Box>
        {failure && <Box sx={{ fontSize: 13, color: 'text.secondary', overflowWrap: 'anywhere' }}>{failure}</Box>}
      </td>
    </tr>
  );
}
