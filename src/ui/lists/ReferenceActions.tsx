'use client';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ListView } from '@/contracts/api';
import { ask, post, queryOf } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { useNotices } from '../frame/Notices';

/** Where the rows of reference data come from. */
export function originText({ origin, syncedAt }: ListView): string {
  const when = syncedAt ? dayjs(syncedAt).format('D MMM HH:mm') : '';
  if (origin?.from === 'file') return `From ${origin.name}, ${when}.`;
  return origin ? `By a query through ${origin.connection}, ${when}${origin.every === null ? '' : `, again every ${origin.every} minutes`}.` : '';
}

/** What can be done with reference data: new rows, and taking the list away. */
export function ReferenceActions({ list }: { readonly list: ListView }) {
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const router = useRouter();
  const [removing, setRemoving] = useState(false);
  const [busy, setBusy] = useState(false);
  const doing = (work: Promise<{ rows: number }>) => {
    setBusy(true);
    void work.then(({ rows }) => { tell(`${rows.toLocaleString('en')} rows are in ${list.name} now.`); return client.invalidateQueries(); }, (error: unknown) => { warn(error); return client.invalidateQueries(); }).finally(() => setBusy(false));
  };
  const replace = (file: File | undefined) => {
    if (!file) return;
    const form = new FormData();
    form.append('file', file);
    doing(ask(`/lists/${list.key}/file${queryOf({ name: list.name, description: list.description })}`, { method: 'PUT', form }));
  };
  return (
    <>
      <Button onClick={() => setRemoving(true)}>Remove</Button>
      {list.origin?.from === 'query'
        ? <Button variant="outlined" disabled={busy} onClick={() => doing(post(`/lists/${list.key}/sync`))}>{busy ? 'Syncing …' : 'Sync now'}</Button>
        : <Button component="label" variant="outlined" disabled={busy}>{busy ? 'Reading …' : 'Replace rows'}<input type="file" hidden accept=".csv,.txt,.xlsx" onChange={(event) => { replace(event.target.files?.[0]); event.target.value = ''; }} /></Button>}
      <ConfirmDialog open={removing} title={`Remove “${list.name}”?`} text="Its rows go, and kinds that are bound to it find nothing in it any more. Its file or database stays as it is." action="Remove the list" onClose={() => setRemoving(false)} onConfirm={() => void ask(`/lists/${list.key}`, { method: 'DELETE' }).then(() => { tell(`${list.name} is gone.`); void client.invalidateQueries(); router.push('/lists'); }, warn)} />
    </>
  );
}
