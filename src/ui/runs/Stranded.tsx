'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { StrandedView } from '@/contracts/api';
import { ask, post } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';
import { Mark } from '../tally/Mark';

/** What is stranded, by where and why: mend the cause, then set the whole group going again. */
export function Stranded() {
  const { data: groups } = useQuery({ queryKey: ['stranded'], queryFn: () => ask<StrandedView[]>('/stranded') });
  if (!groups || groups.length === 0) return null;
  return (
    <Box component="section" aria-label="Stranded" sx={{ mx: 2.5, mb: 2, border: 1, borderColor: 'chart.signal', bgcolor: 'background.paper' }}>
      {groups.map((group) => <Group key={`${group.pipeline}/${group.step}/${group.code}`} group={group} />)}
    </Box>
  );
}

function Group({ group }: { readonly group: StrandedView }) {
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [busy, setBusy] = useState(false);
  const { pipeline, step, code } = group;
  const act = async (path: string, said: (runs: number) => string, more = {}) => {
    setBusy(true);
    await post<{ runs: number }>(`/stranded/${path}`, { pipeline, step, code, ...more }).then(({ runs }) => tell(said(runs)), warn);
    setBusy(false);
    await client.invalidateQueries();
  };
  const count = `${group.runs} ${group.runs === 1 ? 'run' : 'runs'}`;
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '20px 1fr auto', gap: 1.5, px: 1.5, py: 1, alignItems: 'center', '& + &': { borderTop: 1, borderColor: 'divider' } }}>
      <Mark state="stranded" />
      <Box>
        <Box><b>{count}</b> of {group.pipelineName} stranded at <b>{group.stepName}</b>, the first <Moment at={group.since} /></Box>
        <Box sx={{ color: 'chart.signal', fontSize: 13 }}>{group.message}</Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="contained" disabled={busy} onClick={() => void act('refloat', (runs) => `${runs} refloated; they go on from where they stood.`)}>Refloat {group.runs === 1 ? 'it' : `all ${group.runs}`}</Button>
        <Button variant="outlined" disabled={busy} onClick={() => setAsking(true)}>Give up</Button>
      </Box>
      <ReasonDialog open={asking} title={`Give up ${count}?`} text="They stay on record and nothing that was written is taken back. They cannot be refloated afterwards." label="Reason" action="Give up" onClose={() => setAsking(false)} onGive={(reason) => act('give-up', (runs) => `${runs} given up.`, { reason })} />
    </Box>
  );
}
