'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ListenerView } from '@/contracts/listeners';
import { NOTICE_TYPES } from '@/core/telling/notice';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Mark } from '../tally/Mark';
import { ListenerForm } from './ListenerForm';
import { Tellings } from './Tellings';

/** Programs that are told what happens here, each event signed. */
export function Listeners() {
  const { data: listeners } = useQuery({ queryKey: ['listeners'], queryFn: () => ask<ListenerView[]>('/listeners'), refetchInterval: 5_000 });
  const [editing, setEditing] = useState<ListenerView | 'new' | null>(null);
  const [looking, setLooking] = useState<ListenerView | null>(null);
  return (
    <Box component="section" aria-label="Listeners" sx={{ px: 2.5, pt: 3, pb: 2 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0, flex: 1 }}>Listeners</Box>
        <Button variant="outlined" onClick={() => setEditing('new')}>Add a listener</Button>
      </Box>
      {listeners?.length === 0 && <Box sx={{ color: 'text.secondary' }}>None yet. A listener is a program of yours that is told when a run has finished, is stranded, or needs somebody (CloudEvents by signed webhook). Those who would rather ask read the log at <Box component="code">/api/v1/events</Box>.</Box>}
      <Box sx={{ border: listeners?.length ? 1 : 0, borderColor: 'divider', bgcolor: 'background.paper' }}>{listeners?.map((listener) => <One key={listener.key} listener={listener} onEdit={() => setEditing(listener)} onLook={() => setLooking(listener)} />)}</Box>
      {editing !== null && <ListenerForm listener={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />}
      {looking !== null && <Tellings listener={looking} onClose={() => setLooking(null)} />}
    </Box>
  );
}

function One({ listener, onEdit, onLook }: { readonly listener: ListenerView; readonly onEdit: () => void; readonly onLook: () => void }) {
  const { name, url, types, enabled, problem, toldAt, told, due } = listener;
  const of = types.length === 0 ? 'everything' : types.map((type) => NOTICE_TYPES[type].replace(/^[A-Z]/, (letter) => letter.toLowerCase())).join('; ');
  return (
    <Box sx={{ px: 1.5, py: 1, display: 'grid', gridTemplateColumns: '180px minmax(300px, 1fr) minmax(160px, 220px) auto', columnGap: 2, rowGap: 0.5, alignItems: 'center', '& + &': { borderTop: 1, borderColor: 'divider' } }}>
      <Box sx={{ fontWeight: 600 }}>{name}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 13, overflowWrap: 'anywhere' }}>{url} hears of {of}</Box>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 13, color: enabled && problem ? 'chart.signal' : 'inherit' }}>
        <Mark state={!enabled ? 'not taken' : problem ? 'retrying' : 'done'} />
        <span>{!enabled ? 'Switched off' : <>Told {told}{due > 0 && `, ${due} on the way`}{toldAt && <>; last <Moment at={toldAt} /></>}</>}</span>
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}><Button variant="outlined" onClick={onLook}>What it was told</Button><Button variant="outlined" onClick={onEdit}>Change</Button></Box>
      {problem && <Box role="alert" sx={{ color: 'chart.signal', fontSize: 13, gridColumn: '2 / -1', overflowWrap: 'anywhere' }}>{problem}</Box>}
    </Box>
  );
}
