'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { KeepingView } from '@/contracts/api';
import { ask, queryOf } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { useNotices } from '../frame/Notices';

const CHOICES: Readonly<Record<string, string>> = { '': 'for good', 30: '30 days', 90: '90 days', 180: 'half a year', 365: 'a year', 1095: '3 years', 2555: '7 years', 3650: '10 years' };
type Rule = Pick<KeepingView, 'papersDays' | 'factsDays'>;

/** How long pages and facts are kept, and what would go by another rule before it is set. */
export function Keeping() {
  const { data: now } = useQuery({ queryKey: ['keeping'], queryFn: () => ask<KeepingView>('/keeping') });
  const [changed, setChanged] = useState<Rule | null>(null);
  const [asking, setAsking] = useState(false);
  const rule: Rule | undefined = changed ?? now;
  const { data: considered } = useQuery({ queryKey: ['keeping', changed], queryFn: () => ask<KeepingView>(`/keeping${queryOf({ papersDays: changed?.papersDays, factsDays: changed?.factsDays })}`), enabled: changed !== null && (changed.papersDays ?? changed.factsDays) !== null });
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  if (!rule) return null;
  const due = changed ? (considered?.due ?? { documents: 0, bytes: 0, runs: 0 }) : (now?.due ?? { documents: 0, bytes: 0, runs: 0 });
  const goes = due.documents + due.runs > 0;
  const set = () => void ask('/keeping', { method: 'PUT', body: { papersDays: rule.papersDays, factsDays: rule.factsDays } }).then(() => { setChanged(null); tell('Set. What is over goes within the hour.'); return client.invalidateQueries({ queryKey: ['keeping'] }); }, warn);
  return (
    <Box component="section" aria-label="How long things are kept" sx={{ px: 2.5, pb: 2.5 }}>
      <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 1 }}>How long things are kept</Box>
      <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 1.5, display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
        <Days label="Originals and pages" value={rule.papersDays} onChange={(papersDays) => setChanged({ ...rule, papersDays })} />
        <Days label="What was read and done" value={rule.factsDays} onChange={(factsDays) => setChanged({ ...rule, factsDays })} />
        <Box role="status" sx={{ flex: 1, minWidth: 260, color: goes ? 'inherit' : 'text.secondary', fontSize: 13 }}>{sentence(due, changed !== null)}</Box>
        {changed && <><Button variant="outlined" onClick={() => setChanged(null)}>Leave as it was</Button><Button variant="contained" onClick={() => (goes ? setAsking(true) : set())}>Set</Button></>}
      </Box>
      <ConfirmDialog open={asking} title="Delete what is over?" text={`${sentence(due, true)} It goes for good, within the hour. Rows in lists and workbooks, and the proof of what was written, stay.`} action="Set and delete" onClose={() => setAsking(false)} onConfirm={set} />
    </Box>
  );
}

function sentence({ documents, bytes, runs }: KeepingView['due'], considered: boolean): string {
  const parts = [documents > 0 ? `the pages of ${documents} ${documents === 1 ? 'document' : 'documents'} (${Math.max(1, Math.round(bytes / 1e6))} MB)` : '', runs > 0 ? `what was read and done in ${runs} ${runs === 1 ? 'run' : 'runs'}` : ''].filter(Boolean);
  if (parts.length === 0) return 'Counted from the end of the run. Rows that were written and their proof always stay. Nothing is over now.';
  return `${considered ? 'This deletes' : 'Over, and deleted within the hour:'} ${parts.join(' and ')}.`;
}

function Days({ label, value, onChange }: { readonly label: string; readonly value: number | null; readonly onChange: (days: number | null) => void }) {
  const text = value === null ? '' : String(value);
  // A rule set over the interface may have another number of days.
  const choices = text in CHOICES ? CHOICES : { ...CHOICES, [text]: `${text} days` };
  return <TextField select size="small" label={label} value={text} onChange={(event) => onChange(event.target.value === '' ? null : Number(event.target.value))} sx={{ minWidth: 190 }} slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>{Object.entries(choices).map(([days, words]) => <MenuItem key={days} value={days}>{words}</MenuItem>)}</TextField>;
}
