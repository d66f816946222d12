'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { ListenerView } from '@/contracts/listeners';
import { keyFrom } from '@/core/definition/keys';
import { NOTICE_TYPES, type NoticeType } from '@/core/telling/notice';
import { ask, post } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { FormField } from '../frame/FormField';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';

type Values = Record<'name' | 'url' | 'secret' | 'enabled', string>;
const FRESH: Values = { name: '', url: 'https://', secret: '', enabled: 'yes' };
const ALL = Object.keys(NOTICE_TYPES) as NoticeType[];

/** Add or change a listener. A secret that is made here is shown once, to be copied to the other side. */
export function ListenerForm({ listener, onClose }: { readonly listener: ListenerView | null; readonly onClose: () => void }) {
  const { control, handleSubmit, formState } = useForm<Values>({ defaultValues: listener ? { name: listener.name, url: listener.url, secret: '', enabled: listener.enabled ? 'yes' : 'no' } : FRESH });
  const [types, setTypes] = useState<readonly NoticeType[]>(listener && listener.types.length > 0 ? listener.types : ALL);
  const [wrong, setWrong] = useState<string | null>(null);
  const [made, setMade] = useState<string | null>(null);
  const { tell } = useNotices();
  const client = useQueryClient();
  const done = async (text: string) => {
    tell(text);
    await client.invalidateQueries({ queryKey: ['listeners'] });
    onClose();
  };
  const save = handleSubmit(async ({ name, url, secret, enabled }) => {
    if (types.length === 0) return setWrong('Choose at least one thing it is told of.');
    try {
      const answer = await ask<{ secret: string | null }>(`/listeners/${listener?.key ?? keyFrom(name, 'listener')}`, { method: 'PUT', body: { name, url, types: types.length === ALL.length ? [] : types, secret: secret === '' ? null : secret, enabled: enabled === 'yes' } });
      if (answer.secret) setMade(answer.secret);
      else await done(`“${name}” is told from now on.`);
    } catch (error) {
      setWrong((error as Error).message);
    }
  });
  if (made) return <Secret secret={made} onClose={() => void done('The listener is told from now on.')} />;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void save(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>{listener ? `Change “${listener.name}”` : 'Add a listener'}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important' }}>
        <FormField control={control} name="name" label="Name" required />
        <FormField control={control} name="enabled" label="It is told" options={{ yes: 'yes', no: 'not for now' }} />
        <FormField control={control} name="url" label="Address that takes the events" required wide />
        <FormField control={control} name="secret" label={listener ? 'Secret (empty: as it is)' : 'Secret (empty: one is made)'} type="password" wide help="Signs each event, so that the other side knows it is from here. It begins with “whsec_”." />
        <Box role="group" aria-label="Told of" sx={{ gridColumn: '1 / -1', display: 'grid' }}>
          {ALL.map((type) => <FormControlLabel key={type} control={<Checkbox size="small" checked={types.includes(type)} onChange={(_event, on) => setTypes(on ? ALL.filter((one) => one === type || types.includes(one)) : types.filter((one) => one !== type))} />} label={NOTICE_TYPES[type]} />)}
        </Box>
        {wrong && <Box role="alert" sx={{ gridColumn: '1 / -1', borderLeft: 4, borderColor: 'chart.signal', pl: 1.5, py: 0.5 }}>{wrong}</Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {listener && <Existing listener={listener} onWrong={setWrong} onGone={(text) => void done(text)} />}
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>Save</Button>
      </DialogActions>
    </Dialog>
  );
}

function Existing({ listener, onWrong, onGone }: { readonly listener: ListenerView; readonly onWrong: (text: string) => void; readonly onGone: (text: string) => void }) {
  const [removing, setRemoving] = useState(false);
  const { tell } = useNotices();
  const wrong = (error: Error) => onWrong(error.message);
  return (
    <>
      <Button onClick={() => setRemoving(true)}>Remove</Button>
      <Button variant="outlined" onClick={() => void post<{ found: string }>(`/listeners/${listener.key}/try`).then(({ found }) => tell(found), wrong)}>Send a test</Button>
      <ConfirmDialog open={removing} title={`Remove “${listener.name}”?`} text="It is told nothing more. The log of what happened stays, so it can be told again when it is added once more." action="Remove the listener" onClose={() => setRemoving(false)} onConfirm={() => void ask(`/listeners/${listener.key}`, { method: 'DELETE' }).then(() => onGone(`“${listener.name}” is told nothing more.`), wrong)} />
    </>
  );
}

function Secret({ secret, onClose }: { readonly secret: string; readonly onClose: () => void }) {
  const [copied, setCopied] = useState(false);
  return (
    <Dialog open maxWidth="sm" fullWidth>
      <DialogTitle sx={{ typography: 'h1' }}>The secret of this listener</DialogTitle>
      <DialogContent>
        <Box sx={{ mb: 1.5 }}>Give it to the other side now: it checks with it that an event is from here. It is kept sealed and never shown again.</Box>
        <Box component="code" sx={{ fontFamily: VALUE_FACE, fontSize: 14, p: 1.5, display: 'block', bgcolor: 'background.default', border: 1, borderColor: 'divider', overflowWrap: 'anywhere', userSelect: 'all' }}>{secret}</Box>
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={() => void navigator.clipboard.writeText(secret).then(() => setCopied(true))}>{copied ? 'Copied' : 'Copy'}</Button>
        <Button variant="contained" onClick={onClose}>I have it</Button>
      </DialogActions>
    </Dialog>
  );
}
