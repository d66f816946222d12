'use client';
import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { useEffect, useRef, type ReactNode } from 'react';
import type { Counts } from '@/contracts/api';
import { ask } from '../api';
import { useLive } from '../live';
import { Plummet } from './Plummet';

/** The rooms, in the order of the work. */
const ROOMS = [
  { name: 'Intake', path: '/intake' },
  { name: 'Kinds', path: '/kinds' },
  { name: 'Lists', path: '/lists' },
  { name: 'Pipelines', path: '/pipelines' },
  { name: 'Runs', path: '/runs' },
  { name: 'Desk', path: '/desk' },
  { name: 'Connections', path: '/connections' },
] as const;

export function Frame({ children }: { readonly children: ReactNode }) {
  const connected = useLive();
  const { data: counts } = useQuery({ queryKey: ['counts'], queryFn: () => ask<Counts>('/counts') });
  const waiting: Readonly<Record<string, number>> = { Runs: counts?.stranded ?? 0, Desk: counts?.desk ?? 0 };
  return (
    <Box sx={{ minHeight: '100vh', display: 'flex', flexDirection: 'column' }}>
      <Box component="header" sx={{ display: 'flex', alignItems: 'stretch', height: 48, px: 2.5, gap: 3, borderBottom: 1, borderColor: 'divider', bgcolor: 'background.paper', position: 'sticky', top: 0, zIndex: 20 }}>
        <Box component={Link} href="/intake" sx={{ display: 'flex', alignItems: 'center', gap: 1, textDecoration: 'none', fontWeight: 700, fontSize: 16, letterSpacing: '-0.01em' }}>
          <Plummet />
          Leadline
        </Box>
        <Box component="nav" aria-label="Rooms" sx={{ display: 'flex', gap: 0.5 }}>
          {ROOMS.map((room) => <RoomLink key={room.path} {...room} waiting={waiting[room.name] ?? 0} />)}
        </Box>
        <Box sx={{ flex: 1 }} />
        {!connected && <Box role="status" sx={{ alignSelf: 'center', color: 'chart.signal', fontSize: 13 }}>No connection; trying again</Box>}
        <Search />
        <SchemeSwitch />
      </Box>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>{children}</Box>
    </Box>
  );
}

function RoomLink({ name, path, waiting }: { readonly name: string; readonly path: string; readonly waiting: number }) {
  const at = usePathname();
  const here = at.startsWith(path) || (path === '/intake' && at.startsWith('/batches'));
  return (
    <Box component={Link} href={path} aria-current={here ? 'page' : undefined} sx={{ display: 'flex', alignItems: 'center', gap: 0.75, px: 1.25, textDecoration: 'none', color: here ? 'text.primary' : 'text.secondary', fontWeight: here ? 650 : 450, boxShadow: here ? (t) => `inset 0 -3px 0 ${t.vars?.palette.chart.deep ?? ''}` : 'none', '&:hover': { color: 'text.primary' } }}>
      {name}
      {waiting > 0 && <Box component="span" aria-label={`${waiting} waiting`} sx={{ color: 'background.paper', bgcolor: 'chart.signal', borderRadius: 8, px: 0.75, fontSize: 12, fontWeight: 650, lineHeight: '18px', minWidth: 18, textAlign: 'center' }}>{waiting}</Box>}
    </Box>
  );
}

function Search() {
  const router = useRouter();
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== '/' || event.ctrlKey || event.metaKey || isTyping(event.target)) return;
      event.preventDefault();
      field.current?.focus();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Box component="form" role="search" onSubmit={(event) => { event.preventDefault(); router.push(`/intake?search=${encodeURIComponent(field.current?.value ?? '')}`); }} sx={{ alignSelf: 'center', display: 'flex', alignItems: 'center', border: 1, borderColor: 'divider', borderRadius: 1, px: 1, width: 230, bgcolor: 'background.default', '&:focus-within': { borderColor: 'primary.main' } }}>
      <InputBase inputRef={field} placeholder="Find a document" inputProps={{ 'aria-label': 'Find a document' }} sx={{ flex: 1, fontSize: 13.5 }} />
      <kbd>/</kbd>
    </Box>
  );
}

export const isTyping = (target: EventTarget | null): boolean => target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

function SchemeSwitch() {
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  const text = dark ? 'Paper by day' : 'Night bridge';
  return (
    <Tooltip title={text}>
      <IconButton aria-label={text} onClick={() => setMode(dark ? 'light' : 'dark')} sx={{ alignSelf: 'center', color: 'text.secondary' }}>{dark ? <LightModeOutlined fontSize="small" /> : <DarkModeOutlined fontSize="small" />}</IconButton>
    </Tooltip>
  );
}
