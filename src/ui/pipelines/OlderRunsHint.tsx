'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { OlderRuns } from '@/contracts/api';
import { ask, post } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { useNotices } from '../frame/Notices';

const runs = (count: number): string => `${count} ${count === 1 ? 'run' : 'runs'}`;

/** Runs finish on the version they began with; those that wait or are stranded can be moved, on purpose. */
export function OlderRunsHint({ pipelineKey }: { readonly pipelineKey: string }) {
  const { data } = useQuery({ queryKey: ['pipelines', pipelineKey, 'older'], queryFn: () => ask<OlderRuns>(`/pipelines/${pipelineKey}/older-runs`) });
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  if (!data || (data.movable === 0 && data.stuck.length === 0)) return null;
  const move = () => void post<{ moved: number }>(`/pipelines/${pipelineKey}/move-runs`).then(({ moved }) => { tell(`${runs(moved)} moved to version ${data.version}.`); return client.invalidateQueries(); }, warn);
  return (
    <Box sx={{ mx: 2.5, mb: 2, p: 1.5, border: 1, borderColor: 'divider', bgcolor: 'background.paper', display: 'flex', gap: 2, alignItems: 'center' }}>
      <Box sx={{ flex: 1 }}>
        {data.movable > 0 && <>{runs(data.movable)} {data.movable === 1 ? 'waits or is' : 'wait or are'} stranded on an earlier version and would finish on it. </>}
        {data.stuck.map(({ why, runs: count }) => <Box key={why} sx={{ color: 'text.secondary', fontSize: 13 }}>{runs(count)} must finish on the earlier version: {why}.</Box>)}
      </Box>
      {data.movable > 0 && <Button variant="outlined" onClick={() => setAsking(true)}>Move to version {data.version}</Button>}
      <ConfirmDialog open={asking} title={`Move ${runs(data.movable)} to version ${data.version}?`} text="What they have done stays. What is still ahead of them is done as the newest version says; what waits at the desk goes on waiting." action="Move them" onClose={() => setAsking(false)} onConfirm={move} />
    </Box>
  );
}
