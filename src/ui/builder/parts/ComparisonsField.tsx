'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { MATCH_WAYS, type MatchWay } from '@/core/matching/rows';
import type { MatchComparison, MatchStep } from '@/core/pipeline/definition';
import { recordsIn } from '@/core/pipeline/match';
import { without } from '../../member';
import { useBuilderView, valueIn, type BuilderView } from '../context';
import { drop, put } from './items';
import { Picker } from './ValueField';

const WAYS: Readonly<Record<MatchWay, string>> = { identifier: 'the same number', text: 'a text that is alike', amount: 'the same amount', 'at most': 'at most as much' };

/** Columns to compare with: those of the list, or of the records that the document which is shown would be matched with. */
function columnsOfTheirs({ list, among }: MatchStep, { around, documents, document }: BuilderView): readonly string[] {
  if (list !== undefined) return around.lists.find(({ key }) => key === list)?.columns ?? [];
  const data = documents.find(({ id }) => id === document)?.data;
  if (!data || typeof among !== 'string') return [];
  try {
    return Object.keys(recordsIn(valueIn(data, among, undefined))[0] ?? {});
  } catch {
    // What is no list of records offers no columns; the try-out says so.
    return [];
  }
}

/** What is compared with what, a line each. */
export function ComparisonsField({ step, onChange }: { readonly step: MatchStep; readonly onChange: (step: MatchStep) => void }) {
  const view = useBuilderView();
  const theirs = columnsOfTheirs(step, view);
  const set = (compare: readonly MatchComparison[]) => onChange({ ...step, compare });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>They belong together when</Box>
      {step.compare.map((comparison, index) => {
        const change = (changes: Partial<MatchComparison>) => set(put(step.compare, index, { ...comparison, ...changes }));
        return (
          <Box key={index} sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.2fr) 180px minmax(0, 1fr) 110px auto', gap: 1, alignItems: 'start' }}>
            <Picker step={step.id} table={step.each} label="Our value" value={comparison.ours} onChange={(ours) => change({ ours })} />
            <TextField select size="small" label="is" value={comparison.by} onChange={(event) => set(put(step.compare, index, { ...without(comparison, 'tolerance'), by: event.target.value as MatchWay }))}>{MATCH_WAYS.map((way) => <MenuItem key={way} value={way}>{WAYS[way]}</MenuItem>)}</TextField>
            <Autocomplete freeSolo size="small" options={theirs} inputValue={comparison.theirs} onInputChange={(_, column) => { if (column !== comparison.theirs) change({ theirs: column }); }} renderInput={(params) => <TextField {...params} label="as their column" />} />
            {comparison.by === 'amount' || comparison.by === 'at most' ? <TextField size="small" label="give or take" value={comparison.tolerance ?? ''} onChange={(event) => set(put(step.compare, index, event.target.value === '' ? without(comparison, 'tolerance') : { ...comparison, tolerance: event.target.value }))} /> : <span />}
            <Button disabled={step.compare.length === 1} onClick={() => set(drop(step.compare, index))}>Take out</Button>
          </Box>
        );
      })}
      <Box><Button variant="outlined" onClick={() => set([...step.compare, { ours: '', theirs: '', by: 'text' }])}>Another comparison</Button></Box>
    </Box>
  );
}
