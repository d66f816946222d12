'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { conditionText } from '@/core/pipeline/catalogue/entry';
import { COMPARISONS, type Comparison, type Condition } from '@/core/pipeline/definition';
import { Choices } from '../../frame/Choices';
import { Picker } from './ValueField';

type Simple = Exclude<Condition, { all: unknown } | { any: unknown }>;
interface Flat {
  readonly join: 'all' | 'any';
  readonly parts: readonly Simple[];
}

const isSimple = (condition: Condition): condition is Simple => 'trusted' in condition || 'value' in condition;

/** Conditions that are one list; deeper ones are shown as a sentence and changed as text. */
function flatOf(condition: Condition): Flat | null {
  if (isSimple(condition)) return { join: 'all', parts: [condition] };
  const [join, parts] = 'all' in condition ? (['all', condition.all] as const) : (['any', condition.any] as const);
  return parts.every(isSimple) ? { join, parts } : null;
}

const conditionOf = ({ join, parts }: Flat): Condition => (parts.length === 1 && parts[0] ? parts[0] : join === 'all' ? { all: parts } : { any: parts });

const KINDS = { sure: 'it is sure', unsure: 'it is not sure', value: 'a value' } as const;
type PartKind = keyof typeof KINDS;
const kindOf = (part: Simple): PartKind => ('trusted' in part ? (part.trusted ? 'sure' : 'unsure') : 'value');
const blank = (kind: PartKind): Simple => (kind === 'value' ? { value: '', is: 'equal to', than: '' } : { trusted: kind === 'sure' });

/** A condition without syntax: what, how it compares, with what. */
export function ConditionField({ step, label, value, optional = false, onChange }: { readonly step: string; readonly label: string; readonly value: Condition | undefined; readonly optional?: boolean; readonly onChange: (condition: Condition | undefined) => void }) {
  if (value === undefined) return <Box><Button variant="outlined" onClick={() => onChange({ trusted: true })}>{label} …</Button></Box>;
  const flat = flatOf(value);
  if (!flat) return <Box><Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{label}</Box>{conditionText(value)}<Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>This one has conditions within conditions; change it as text.</Box></Box>;
  const put = (index: number, part: Simple) => onChange(conditionOf({ ...flat, parts: flat.parts.map((old, at) => (at === index ? part : old)) }));
  const drop = (index: number) => {
    const parts = flat.parts.filter((_, at) => at !== index);
    if (parts.length > 0) onChange(conditionOf({ ...flat, parts }));
    else if (optional) onChange(undefined);
  };
  return (
    <Box role="group" aria-label={label} sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{label}</Box>
        {flat.parts.length > 1 && <Choices label="How they go together" choices={[{ value: 'all', label: 'all hold' }, { value: 'any', label: 'one of them holds' }]} value={flat.join} onChoose={(join) => onChange(conditionOf({ ...flat, join: join as Flat['join'] }))} />}
      </Box>
      {flat.parts.map((part, index) => <Part key={index} step={step} part={part} onChange={(next) => put(index, next)} onDrop={flat.parts.length > 1 || optional ? () => drop(index) : null} />)}
      <Box><Button onClick={() => onChange(conditionOf({ ...flat, parts: [...flat.parts, blank('value')] }))}>And another</Button></Box>
    </Box>
  );
}

function Part({ step, part, onChange, onDrop }: { readonly step: string; readonly part: Simple; readonly onChange: (part: Simple) => void; readonly onDrop: (() => void) | null }) {
  const bare = 'value' in part && (part.is === 'missing' || part.is === 'present');
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '130px minmax(160px, 1fr) 140px minmax(100px, 1fr) auto', gap: 1, alignItems: 'start' }}>
      <TextField select size="small" label="If" value={kindOf(part)} onChange={(event) => onChange(blank(event.target.value as PartKind))}>{Object.entries(KINDS).map(([kind, text]) => <MenuItem key={kind} value={kind}>{text}</MenuItem>)}</TextField>
      {'trusted' in part ? <Box sx={{ gridColumn: 'span 3', pt: 0.75, color: 'text.secondary', fontSize: 13 }}>{conditionText(part)}</Box> : (
        <>
          <Picker step={step} label="Value" value={part.value} onChange={(value) => onChange({ ...part, value })} />
          <TextField select size="small" label="is" value={part.is} onChange={(event) => onChange(compared(part, event.target.value as Comparison))}>{COMPARISONS.map((comparison) => <MenuItem key={comparison} value={comparison}>{comparison}</MenuItem>)}</TextField>
          {bare ? <span /> : <TextField size="small" label="than / to" value={part.than ?? ''} onChange={(event) => onChange({ ...part, than: event.target.value })} />}
        </>
      )}
      {onDrop ? <Button onClick={onDrop} aria-label="Take this condition out">Take out</Button> : <span />}
    </Box>
  );
}

/** Missing and present compare with nothing. */
function compared(part: Extract<Simple, { value: string }>, is: Comparison): Simple {
  const bare = is === 'missing' || is === 'present';
  return bare ? { value: part.value, is } : { ...part, is, than: part.than ?? '' };
}
