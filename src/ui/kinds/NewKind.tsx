'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { ask, post, queryOf } from '../api';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';

interface Starter {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly fields: readonly string[];
  readonly tables: readonly string[];
}

type From = { readonly from: 'sample' } | { readonly from: 'empty' } | { readonly from: 'starter'; readonly starter: string } | { readonly from: 'example' | 'yaml' };

function fromSample(name: string, sample: File | null): Promise<{ key: string }> {
  const form = new FormData();
  if (sample) form.append('file', sample);
  return ask(`/kinds/from-sample${queryOf({ name })}`, { method: 'POST', form });
}

/** Begin a kind: from a usual paper, an example of what is wanted, a file, or nothing. */
export function NewKind({ onClose }: { readonly onClose: () => void }) {
  const { data: starters } = useQuery({ queryKey: ['starters'], queryFn: () => ask<Starter[]>('/starters'), staleTime: Infinity });
  const [chosen, setChosen] = useState<From>({ from: 'starter', starter: 'bill' });
  const [name, setName] = useState('');
  const [text, setText] = useState('');
  const [sample, setSample] = useState<File | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const router = useRouter();
  const { tell } = useNotices();
  const begin = async (event: React.FormEvent) => {
    event.preventDefault();
    try {
      const { key } = chosen.from === 'sample' ? await fromSample(name.trim(), sample) : await post<{ key: string }>('/kinds', { ...chosen, name: name.trim(), ...(chosen.from === 'example' || chosen.from === 'yaml' ? { text } : {}) });
      tell(chosen.from === 'sample' ? 'Begun as a draft with its first sample. Look at what was found.' : 'Begun as a draft. Add samples next.');
      router.push(`/kinds/${key}`);
    } catch (error) {
      setWrong((error as Error).message);
    }
  };
  const is = (from: From) => chosen.from === from.from && (from.from !== 'starter' || (chosen.from === 'starter' && chosen.starter === from.starter));
  const option = (from: From, title: string, about: string) => (
    <ButtonBase key={title} disableRipple aria-pressed={is(from)} onClick={() => setChosen(from)} sx={{ display: 'block', textAlign: 'left', p: 1.25, border: 1, borderColor: is(from) ? 'chart.deep' : 'divider', boxShadow: is(from) ? (t) => `inset 3px 0 0 ${t.vars?.palette.chart.deep ?? ''}` : 'none', bgcolor: 'background.paper', '&:focus-visible': { borderColor: 'chart.middle' } }}>
      <Box sx={{ fontWeight: 650 }}>{title}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{about}</Box>
    </ButtonBase>
  );
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void begin(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>New kind</DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'text.secondary', mb: 1.5 }}>What sort of paper is it? Everything can be renamed and changed later.</Box>
        <Box role="group" aria-label="Begin with" sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: 1 }}>
          {starters?.map((starter) => option({ from: 'starter', starter: starter.key }, starter.name, `${starter.fields.slice(0, 5).join(', ').toLowerCase()}${starter.fields.length > 5 ? ' …' : ''}${starter.tables.length > 0 ? `; table of ${starter.tables.join(', ').toLowerCase()}` : ''}`))}
          {option({ from: 'sample' }, 'From a sample', 'a paper of this kind: what stands on it becomes fields')}
          {option({ from: 'example' }, 'From an example as JSON', 'fields and types from what another program wants')}
          {option({ from: 'yaml' }, 'From a file', 'a kind that was saved as YAML')}
          {option({ from: 'empty' }, 'Empty', 'fields are marked on the page of a sample')}
        </Box>
        {chosen.from === 'sample' && <Box sx={{ mt: 2, display: 'flex', gap: 1.5, alignItems: 'center', border: 1, borderStyle: 'dashed', borderColor: 'divider', p: 1.5 }}><Button component="label" variant="outlined">Choose a paper<input type="file" hidden accept=".pdf,.png,.jpg,.jpeg,.tif,.tiff,.eml,.txt,.xml" onChange={(event) => setSample(event.target.files?.[0] ?? null)} /></Button><Box sx={{ color: sample ? 'text.primary' : 'text.secondary' }}>{sample?.name ?? 'PDF, picture, mail or text'}</Box></Box>}
        {(chosen.from === 'example' || chosen.from === 'yaml') && <TextField multiline minRows={5} maxRows={12} fullWidth sx={{ mt: 2 }} label={chosen.from === 'example' ? 'Example' : 'YAML'} placeholder={chosen.from === 'example' ? '{ "number": "4711", "total": "120.00", "lines": [ { "description": "Ice", "amount": "20.00" } ] }' : ''} value={text} onChange={(event) => setText(event.target.value)} slotProps={{ htmlInput: { style: { fontFamily: VALUE_FACE, fontSize: 13 }, spellCheck: false } }} />}
        <TextField autoFocus fullWidth sx={{ mt: 2 }} label="Name" placeholder="for example Haulage bill" value={name} onChange={(event) => setName(event.target.value)} />
        {wrong && <Box role="alert" sx={{ mt: 1.5, borderLeft: 4, borderColor: 'chart.signal', pl: 1.5, whiteSpace: 'pre-wrap' }}>{wrong}</Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={chosen.from === 'sample' && sample === null}>Begin</Button>
      </DialogActions>
    </Dialog>
  );
}
