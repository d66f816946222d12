'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ListenerView } from '@/contracts/listeners';
import type { NoticeType } from '@/core/telling/notice';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { ConnectionRow, Problem } from './ConnectionRow';
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
  const hears = types.length === 0 ? 'everything' : types.map((type) => HEARD[type]).join(', ');
  return (
    <ConnectionRow
      name={name}
      about={<>{url} hears of {hears}</>}
      mark={!enabled ? 'not taken' : problem ? 'retrying' : 'done'}
      wrong={enabled && problem !== null}
      state={!enabled ? 'Switched off' : <>Told {told}{due > 0 && `, ${due} on the way`}{toldAt && <>; last <Moment at={toldAt} /></>}</>}
      buttons={<><Button variant="outlined" onClick={onLook}>What it heard</Button><Button variant="outlined" onClick={onEdit}>Change</Button></>}
    >
      {problem && <Problem text={problem} />}
    </ConnectionRow>
  );
}

const HEARD: Readonly<Record<NoticeType, string>> = { 'leadline.run.finished': 'finished runs', 'leadline.run.stranded': 'stranded runs', 'leadline.task.opened': 'what waits at the desk' };
