'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import type { KindView } from '@/contracts/api';
import type { Option } from '@/core/pipeline/facts';
import { ask } from '../../api';

/** Answers to take by a click or a number key. */
export function Choices({ options, onTake }: { readonly options: readonly Option[]; readonly onTake: (value: string) => void }) {
  return <Box sx={{ display: 'grid', gap: 1 }}>{options.map((option, index) => <Choice key={option.value} option={option} number={index + 1} onTake={() => onTake(option.value)} />)}</Box>;
}

function Choice({ option, number, onTake }: { readonly option: Option; readonly number: number; readonly onTake: () => void }) {
  const reasons = option.reasons.filter((reason) => !reason.startsWith('other words'));
  return (
    <ButtonBase onClick={onTake} sx={{ display: 'grid', gridTemplateColumns: '28px 1fr auto', gap: 1, textAlign: 'left', alignItems: 'baseline', p: 1.25, border: 1, borderColor: 'divider', bgcolor: 'background.paper', '&:hover, &:focus-visible': { borderColor: 'chart.deep' } }}>
      <Box><kbd>{number}</kbd></Box>
      <Box><Box sx={{ fontWeight: 600 }}>{option.label}</Box><Box sx={{ color: 'text.secondary', fontSize: 13 }}>{reasons.length > 0 ? reasons.slice(0, 3).join('; ') : option.share === undefined ? '' : 'nothing speaks for it'}</Box></Box>
      {option.share !== undefined && <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{Math.round(option.share * 100)} of 100</Box>}
    </ButtonBase>
  );
}

/** Kinds that looked too unlikely to be offered. */
export function OtherKind({ shown, onTake }: { readonly shown: readonly string[]; readonly onTake: (kind: string) => void }) {
  const { data: kinds } = useQuery({ queryKey: ['kinds'], queryFn: () => ask<KindView[]>('/kinds') });
  return <OtherChoice label="Another kind" options={(kinds ?? []).filter((kind) => !shown.includes(kind.key)).map((kind) => ({ value: kind.key, label: kind.name }))} onTake={onTake} />;
}

/** Rows of the list that are not near the value. */
export function OtherRow({ list, shown, onTake }: { readonly list: string; readonly shown: readonly string[]; readonly onTake: (key: string) => void }) {
  const { data } = useQuery({ queryKey: ['lists', list, 'keys'], queryFn: () => ask<{ list: { keyColumn: string | null }; rows: { cells: Record<string, string | null> }[] }>(`/lists/${list}/rows?limit=200`) });
  const key = data?.list.keyColumn ?? null;
  const options = key === null ? [] : (data?.rows ?? []).flatMap(({ cells }) => (cells[key] && !shown.includes(cells[key]) ? [{ value: cells[key], label: Object.values(cells).filter(Boolean).slice(0, 3).join(' · ') }] : []));
  return <OtherChoice label="Another row of the list" options={options} onTake={onTake} />;
}

function OtherChoice({ label, options, onTake }: { readonly label: string; readonly options: readonly { readonly value: string; readonly label: string }[]; readonly onTake: (value: string) => void }) {
  if (options.length === 0) return null;
  return <TextField select fullWidth size="small" label={label} value="" onChange={(event) => onTake(event.target.value)} sx={{ mt: 2 }}>{options.map((option) => <MenuItem key={option.value} value={option.value}>{option.label}</MenuItem>)}</TextField>;
}
