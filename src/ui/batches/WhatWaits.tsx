'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import { useRouter } from 'next/navigation';
import Link from 'next/link';
import { useState } from 'react';
import type { BatchFrom, BatchLook, WaitingView } from '@/contracts/batches';
import { partOf, type Forecast } from '@/core/measuring/forecast';
import { post } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Empty } from '../frame/Room';
import { forecastWords } from './words';

/** Rows that are drawn; all of them are counted and taken. */
const SHOWN = 300;
/** A good number to begin with. */
const FIRST_FEW = 2;

/** What waits at the place: choose, see what it is expected to take, begin. */
export function WhatWaits({ look, asked }: { readonly look: BatchLook; readonly asked: { readonly from: BatchFrom; readonly pipeline: string } }) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [words, setWords] = useState('');
  const [first, setFirst] = useState(String(FIRST_FEW));
  const { warn } = useNotices();
  const router = useRouter();
  const fitting = look.items.filter(({ name }) => name.toLowerCase().includes(words.toLowerCase()));
  const chosen = fitting.filter(({ ref }) => !left.has(ref));
  const toggle = (refs: readonly string[], on: boolean) => setLeft(new Set(on ? [...left].filter((ref) => !refs.includes(ref)) : [...left, ...refs]));
  const begin = (count: number | null) => void post<{ id: string }>('/batches', { ...asked, refs: chosen.length === look.items.length ? null : chosen.map(({ ref }) => ref), first: count }).then(({ id }) => router.push(`/batches/${id}`), warn);
  if (look.items.length === 0) return <Empty title="Nothing waits there">{look.watched ? <>This source is watched: what arrives is taken by itself and stands under <Link href="/intake">Intake</Link>.</> : 'The place can be reached, and it is empty.'}</Empty>;
  const few = Math.min(Math.max(1, Math.round(Number(first)) || 1), chosen.length);
  return (
    <Box sx={{ px: 2.5, pb: 3, display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 320px', gap: 2.5, alignItems: 'start' }}>
      <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', overflow: 'auto', maxHeight: 'calc(100vh - 230px)' }}>
        <Table size="small" stickyHeader aria-label="What waits">
          <TableHead>
            <TableRow>
              <TableCell padding="checkbox"><Checkbox size="small" slotProps={{ input: { 'aria-label': 'All of them' } }} checked={chosen.length === fitting.length && fitting.length > 0} indeterminate={chosen.length > 0 && chosen.length < fitting.length} onChange={(_event, on) => toggle(fitting.map(({ ref }) => ref), on)} /></TableCell>
              <TableCell><TextField size="small" placeholder="Name contains…" value={words} onChange={(event) => setWords(event.target.value)} slotProps={{ htmlInput: { 'aria-label': 'Name contains' } }} /></TableCell>
              <TableCell align="right">Size</TableCell>
              <TableCell>Since</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>{fitting.slice(0, SHOWN).map((item) => <Row key={item.ref} item={item} on={!left.has(item.ref)} onToggle={(on) => toggle([item.ref], on)} />)}</TableBody>
        </Table>
        {fitting.length > SHOWN && <Box sx={{ p: 1.5, color: 'text.secondary' }}>And {fitting.length - SHOWN} more.</Box>}
      </Box>
      <Box component="section" aria-label="Begin" sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, display: 'grid', gap: 1.5 }}>
        <Box sx={{ typography: 'h2' }}>{chosen.length} of {look.items.length} chosen</Box>
        <Expected expected={look.expected && partOf(look.expected, chosen.length / look.items.length)} />
        {look.watched && <Box role="alert" sx={{ borderLeft: 4, borderColor: 'chart.signal', pl: 1.5 }}>This source is watched and takes what arrives by itself. Switch it off under <Link href="/connections">Connections</Link> first.</Box>}
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Button variant="contained" disabled={chosen.length === 0 || look.watched} onClick={() => begin(few)} sx={{ flex: 1 }}>Begin with the first {few}</Button>
          <TextField size="small" type="number" label="How many" value={first} onChange={(event) => setFirst(event.target.value)} sx={{ width: 96 }} slotProps={{ htmlInput: { min: 1, max: chosen.length } }} />
        </Box>
        <Button variant="outlined" disabled={chosen.length === 0 || look.watched} onClick={() => begin(null)}>Take all {chosen.length} at once</Button>
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}>They are really worked on and written. After the first few it waits for you to look at them and say go on.</Box>
      </Box>
    </Box>
  );
}

export function Expected({ expected }: { readonly expected: Forecast | null }) {
  if (!expected) return <Box sx={{ color: 'text.secondary' }}>This pipeline has finished no run yet, so nobody knows what they will take. Begin with a few.</Box>;
  return (
    <Box>
      <Box component="ul" sx={{ m: 0, pl: 2.25 }}>{forecastWords(expected).map((line) => <li key={line}>{line}</li>)}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 13, mt: 0.5 }}>Going by the last {expected.from} that {expected.from === 1 ? 'was' : 'were'} finished.</Box>
    </Box>
  );
}

function Row({ item, on, onToggle }: { readonly item: WaitingView; readonly on: boolean; readonly onToggle: (on: boolean) => void }) {
  return (
    <TableRow hover>
      <TableCell padding="checkbox"><Checkbox size="small" checked={on} slotProps={{ input: { 'aria-label': item.name } }} onChange={(_event, next) => onToggle(next)} /></TableCell>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>{item.name}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>{item.size === null ? '–' : `${Math.max(1, Math.round(item.size / 1000))} kB`}</TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>{item.at === null ? '–' : <Moment at={item.at} />}</TableCell>
    </TableRow>
  );
}
