'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { PipelineView, SourceView } from '@/contracts/api';
import type { BatchFrom, BatchLook } from '@/contracts/batches';
import { useAddress } from '../address';
import { ask, post } from '../api';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { VALUE_FACE } from '../theme';
import { WhatWaits } from './WhatWaits';

/** Not sources, but places that are named here. */
const FOLDER = 'a folder';
const ADDRESSES = 'addresses';

/** Choose a place and a pipeline, look at what waits, begin with a few. */
export function NewBatch() {
  const [address] = useAddress();
  const { data: sources } = useQuery({ queryKey: ['sources'], queryFn: () => ask<SourceView[]>('/sources') });
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const [choice, setChoice] = useState({ where: '', pipeline: address.get('pipeline') ?? '', folder: '', addresses: '' });
  const [looked, setLooked] = useState<{ readonly from: BatchFrom; readonly pipeline: string } | null>(null);
  const look = useMutation({ mutationFn: (asked: { from: BatchFrom; pipeline: string }) => post<BatchLook>('/batches/look', asked), onMutate: setLooked });
  const published = (pipelines ?? []).filter(({ version }) => version !== null);
  const change = (next: Partial<typeof choice>) => {
    look.reset();
    setLooked(null);
    setChoice({ ...choice, ...next });
  };
  const chosen = choice.pipeline || (sources?.find(({ key }) => key === choice.where)?.pipeline ?? '');
  const from = fromOf(choice);
  return (
    <>
      <RoomHead title="New batch" about="Nothing is taken until you say so." />
      <Box component="form" sx={{ px: 2.5, pb: 2, display: 'grid', gridTemplateColumns: 'minmax(220px, 320px) minmax(220px, 320px) auto 1fr', gap: 2, alignItems: 'start' }} onSubmit={(event: React.FormEvent) => { event.preventDefault(); if (from) look.mutate({ from, pipeline: chosen }); }}>
        <TextField select label="From" value={choice.where} onChange={(event) => change({ where: event.target.value })}>
          {sources?.map((source) => <MenuItem key={source.key} value={source.key}>{source.name}{source.enabled ? ' (is watched)' : ''}</MenuItem>)}
          <MenuItem value={FOLDER}>Another folder</MenuItem>
          <MenuItem value={ADDRESSES}>A list of addresses</MenuItem>
        </TextField>
        <TextField select label="Through" value={published.some(({ key }) => key === chosen) ? chosen : ''} onChange={(event) => change({ pipeline: event.target.value })}>{published.map(({ key, name }) => <MenuItem key={key} value={key}>{name}</MenuItem>)}</TextField>
        <Button type="submit" variant={look.data ? 'outlined' : 'contained'} disabled={from === null || chosen === '' || look.isPending} sx={{ height: 35 }}>See what waits</Button>
        {choice.where === FOLDER && <TextField label="Folder on the machine of the worker" value={choice.folder} onChange={(event) => change({ folder: event.target.value })} sx={{ gridColumn: '1 / 3' }} />}
        {choice.where === ADDRESSES && <TextField label="Addresses, one a line" multiline minRows={4} maxRows={10} value={choice.addresses} onChange={(event) => change({ addresses: event.target.value })} slotProps={{ htmlInput: { style: { fontFamily: VALUE_FACE, fontSize: 13 } } }} sx={{ gridColumn: '1 / 3' }} />}
      </Box>
      {look.isPending && <Loading />}
      {look.error && <Trouble error={look.error} />}
      {look.data && looked && <WhatWaits look={look.data} asked={looked} />}
    </>
  );
}

/** Null while something is still to be filled in. */
function fromOf({ where, folder, addresses }: { readonly where: string; readonly folder: string; readonly addresses: string }): BatchFrom | null {
  const lines = addresses.split(/\s+/).filter(Boolean);
  if (where === FOLDER) return folder.trim() === '' ? null : { folder: folder.trim() };
  if (where === ADDRESSES) return lines.length === 0 ? null : { addresses: [...new Set(lines)] };
  return where === '' ? null : { source: where };
}
