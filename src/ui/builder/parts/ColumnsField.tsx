'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { Value } from '@/core/pipeline/definition';
import { matchByName } from '@/core/pipeline/match-names';
import { useOffers } from '../context';
import { ValueField } from './ValueField';

type Columns = Readonly<Record<string, Value>>;

interface Props {
  readonly step: string;
  readonly table?: string | undefined;
  readonly label: string;
  readonly value: Columns;
  /** Columns that the target has; null: names are free. */
  readonly targets: readonly string[] | null;
  /** What a new value begins as. */
  readonly begins?: Value;
  readonly onChange: (columns: Columns) => void;
}

/** Target columns and what goes into each. Columns of a known target are listed; what is alike is matched with one click. */
export function ColumnsField({ step, table, label, value, targets, begins = '', onChange }: Props) {
  const offers = useOffers(step, table);
  const names = targets ? [...targets, ...Object.keys(value).filter((name) => !targets.includes(name))] : Object.keys(value);
  const put = (name: string, next: Value) => onChange({ ...value, [name]: next });
  const open = targets ? targets.filter((name) => value[name] === undefined || value[name] === '') : [];
  const matched = Object.entries(matchByName(open, offers));
  return (
    <Box role="group" aria-label={label} sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Box sx={{ color: 'text.secondary', fontSize: 12.5, flex: 1 }}>{label}</Box>
        {matched.length > 0 && <Button variant="outlined" onClick={() => onChange({ ...value, ...Object.fromEntries(matched) })}>Match {matched.length} by name</Button>}
      </Box>
      {names.map((name) => (
        <Box key={name} sx={{ display: 'grid', gridTemplateColumns: '150px minmax(0, 1fr) auto', gap: 1, alignItems: 'start' }}>
          <Box sx={{ pt: 0.75, fontWeight: 600, overflowWrap: 'anywhere' }}>{name}{targets && !targets.includes(name) && <Box sx={{ color: 'chart.signal', fontSize: 12 }}>not in the target</Box>}</Box>
          {value[name] === undefined ? <Box><Button onClick={() => put(name, begins)}>Give it a value</Button></Box> : <ValueField step={step} table={table} label={`${name} is`} value={value[name]} onChange={(next) => put(name, next)} />}
          {value[name] === undefined ? <span /> : <Button aria-label={`Leave ${name} empty`} onClick={() => onChange(Object.fromEntries(Object.entries(value).filter(([other]) => other !== name)))}>{targets ? 'Clear' : 'Take out'}</Button>}
        </Box>
      ))}
      {targets === null && <NewName taken={Object.keys(value)} onAdd={(name) => put(name, begins)} />}
    </Box>
  );
}

function NewName({ taken, onAdd }: { readonly taken: readonly string[]; readonly onAdd: (name: string) => void }) {
  const [name, setName] = useState('');
  const wrong = taken.includes(name.trim()) ? 'This name is there already' : null;
  const add = () => {
    if (name.trim() === '' || wrong) return;
    onAdd(name.trim());
    setName('');
  };
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
      <TextField size="small" label="Another name" value={name} error={wrong !== null} helperText={wrong} onChange={(event) => setName(event.target.value)} onKeyDown={(event) => { if (event.key === 'Enter') { event.preventDefault(); add(); } }} />
      <Button variant="outlined" disabled={name.trim() === '' || wrong !== null} onClick={add}>Add</Button>
    </Box>
  );
}
