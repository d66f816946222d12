'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { KindView, PipelineView } from '@/contracts/api';
import { ask, post } from '../api';
import { VALUE_FACE } from '../theme';

const STARTS = [
  { from: 'kind', title: 'From a kind', about: 'read it, check it, ask the desk where it is not sure' },
  { from: 'sorting', title: 'From what arrives', about: 'find out which kind it is first, then read it' },
  { from: 'copy', title: 'From another pipeline', about: 'a copy to change' },
  { from: 'yaml', title: 'From a file', about: 'a pipeline that was saved as YAML' },
  { from: 'empty', title: 'Empty', about: 'every step is added by hand' },
] as const;
type From = (typeof STARTS)[number]['from'];

/** Begin a pipeline: from a kind, from whatever arrives, from another one, from a file, or from nothing. */
export function NewPipeline({ pipelines, onClose }: { readonly pipelines: readonly PipelineView[]; readonly onClose: () => void }) {
  const { data: kinds } = useQuery({ queryKey: ['kinds'], queryFn: () => ask<KindView[]>('/kinds') });
  const [from, setFrom] = useState<From>('kind');
  const [name, setName] = useState('');
  const [parts, setParts] = useState({ kind: '', pipeline: '', text: '' });
  const [wrong, setWrong] = useState<string | null>(null);
  const router = useRouter();
  const kind = parts.kind || (kinds?.[0]?.key ?? '');
  const pipeline = parts.pipeline || (pipelines.find(({ version }) => version !== null)?.key ?? '');
  const begin = async (event: React.FormEvent) => {
    event.preventDefault();
    const start = { from, ...(from === 'kind' ? { kind } : from === 'copy' ? { pipeline } : from === 'yaml' ? { text: parts.text } : {}) };
    try {
      const { key } = await post<{ key: string }>('/pipelines', { name: name.trim(), start });
      router.push(`/pipelines/${key}/edit`);
    } catch (error) {
      setWrong((error as Error).message);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void begin(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>New pipeline</DialogTitle>
      <DialogContent>
        <Box role="group" aria-label="Begin" sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
          {STARTS.map((start) => (
            <ButtonBase key={start.from} disableRipple aria-pressed={from === start.from} onClick={() => setFrom(start.from)} sx={{ display: 'block', textAlign: 'left', p: 1.25, border: 1, borderColor: from === start.from ? 'chart.deep' : 'divider', boxShadow: from === start.from ? (t) => `inset 3px 0 0 ${t.vars?.palette.chart.deep ?? ''}` : 'none', bgcolor: 'background.paper', '&:focus-visible': { borderColor: 'chart.middle' } }}>
              <Box sx={{ fontWeight: 650 }}>{start.title}</Box>
              <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{start.about}</Box>
            </ButtonBase>
          ))}
        </Box>
        {from === 'kind' && <TextField select fullWidth size="small" sx={{ mt: 2 }} label="Which kind" value={kind} onChange={(event) => setParts({ ...parts, kind: event.target.value })} helperText={kinds?.length === 0 ? 'No kind is published yet; describe one under Kinds' : undefined}>{(kinds ?? []).map((one) => <MenuItem key={one.key} value={one.key}>{one.name}</MenuItem>)}</TextField>}
        {from === 'copy' && <TextField select fullWidth size="small" sx={{ mt: 2 }} label="Which pipeline" value={pipeline} onChange={(event) => setParts({ ...parts, pipeline: event.target.value })}>{pipelines.filter(({ version }) => version !== null).map((one) => <MenuItem key={one.key} value={one.key}>{one.name}</MenuItem>)}</TextField>}
        {from === 'yaml' && <TextField multiline minRows={5} maxRows={12} fullWidth sx={{ mt: 2 }} label="YAML" value={parts.text} onChange={(event) => setParts({ ...parts, text: event.target.value })} slotProps={{ htmlInput: { style: { fontFamily: VALUE_FACE, fontSize: 13 }, spellCheck: false } }} />}
        <TextField autoFocus fullWidth sx={{ mt: 2 }} label="Name" placeholder="for example Weighbridge to list" value={name} onChange={(event) => setName(event.target.value)} />
        {wrong && <Box role="alert" sx={{ mt: 1.5, borderLeft: 4, borderColor: 'chart.signal', pl: 1.5, whiteSpace: 'pre-wrap' }}>{wrong}</Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={name.trim() === ''}>Begin</Button>
      </DialogActions>
    </Dialog>
  );
}
