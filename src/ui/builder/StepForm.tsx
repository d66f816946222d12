'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { entryOf } from '@/core/pipeline/catalogue';
import type { FormPart } from '@/core/pipeline/catalogue/entry';
import type { AnswerField, CallStep, Condition, SendStep, ToolStep, Step, Value } from '@/core/pipeline/definition';
import { targetsOf } from '@/core/pipeline/targets';
import { VALUE_FACE } from '../theme';
import { useBuilderView } from './context';
import { without } from '../member';
import { ColumnsField } from './parts/ColumnsField';
import { ComparisonsField } from './parts/ComparisonsField';
import { ConditionField } from './parts/ConditionField';
import { AnswersField, TabsField, WaysField } from './parts/ListParts';
import { Pick, SurroundingsPick } from './parts/Picks';
import { Template, ValueField } from './parts/ValueField';

type Member = string | number | boolean | readonly unknown[] | object | undefined;
type Members = Readonly<Record<string, Member>>;

const WIDE: readonly FormPart['is'][] = ['columns', 'ways', 'tabs', 'answers', 'comparisons', 'condition', 'long template', 'places', 'value'];

/** The form of a step, drawn from what its kind says of itself. */
export function StepForm({ step, onChange }: { readonly step: Step; readonly onChange: (step: Step) => void }) {
  const set = (at: string, value: Member) => onChange(withMember(step, at, value));
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, maxWidth: 980 }}>
      {entryOf(step).form.map((part) => <Box key={`${part.is}${part.at}`} sx={{ gridColumn: WIDE.includes(part.is) ? '1 / -1' : undefined, minWidth: 0 }}><Part part={part} step={step} onChange={onChange} set={(value) => set(part.at, value)} /></Box>)}
      <TextField size="small" label="A remark for whoever reads this next" value={step.remark ?? ''} onChange={(event) => set('remark', event.target.value || undefined)} sx={{ gridColumn: '1 / -1' }} />
    </Box>
  );
}

/** A member that is left out is not there at all. */
function withMember(step: Step, at: string, value: Member): Step {
  const members = step as unknown as Members;
  return (value === undefined ? without(members, at) : { ...members, [at]: value }) as unknown as Step;
}

interface PartProps {
  readonly part: FormPart;
  readonly step: Step;
  readonly onChange: (step: Step) => void;
  readonly set: (value: Member) => void;
}

function Part({ part, step, onChange, set }: PartProps) {
  const value = (step as unknown as Members)[part.at];
  const table = 'each' in step ? step.each : undefined;
  switch (part.is) {
    case 'text':
      return <TextField fullWidth size="small" label={part.label} helperText={part.help} value={(value as string | undefined) ?? ''} onChange={(event) => set(event.target.value === '' && part.optional ? undefined : event.target.value)} />;
    case 'database table':
      return step.do === 'write-table' ? <TableName label={part.label} connection={step.connection} value={step.table} onChange={set} /> : null;
    case 'template':
    case 'long template':
      return <Template step={step.id} table={table} label={part.label} help={part.help} long={part.is === 'long template'} value={(value as string | undefined) ?? ''} onChange={(text) => set(text === '' && part.optional ? undefined : text)} />;
    case 'number':
      return <NumberPart label={part.label} help={part.help} min={part.min} max={part.max} value={value as number | undefined} onChange={set} />;
    case 'pick':
      return <SurroundingsPick of={part.of} step={step} label={part.label} optional={part.optional} value={value as string | undefined} onChange={(chosen) => set(chosen ?? (part.optional ? undefined : ''))} />;
    case 'several kinds':
      return <SeveralKinds label={part.label} chosen={(value as readonly string[] | undefined) ?? []} onChange={(kinds) => set(kinds.length === 0 ? undefined : kinds)} />;
    case 'choice':
      return <Pick label={part.label} value={(value as string | undefined) ?? part.options[0]?.value} options={part.options} empty="" onChange={set} />;
    case 'switch':
      return <FormControlLabel control={<Checkbox size="small" checked={value === true} onChange={(event) => set(event.target.checked || undefined)} />} label={part.label} />;
    case 'value':
      return <ValueField step={step.id} label={part.label} value={value as Value | undefined} onChange={(next) => set(next === '' && part.optional ? undefined : next)} />;
    case 'condition':
      return <ConditionField step={step.id} label={part.label} optional={part.optional ?? false} value={value as Condition | undefined} onChange={set} />;
    case 'columns':
      return <ColumnsPart part={part} step={step} table={table} value={(value as Readonly<Record<string, Value>> | undefined) ?? {}} set={set} />;
    case 'operation':
      return step.do === 'call' || step.do === 'send' ? <OperationPart label={part.label} step={step} onChange={onChange} /> : null;
    case 'tool':
      return step.do === 'tool' ? <ToolPart label={part.label} step={step} onChange={onChange} /> : null;
    case 'places':
      return <PlacesPart label={part.label} help={part.help} value={(value as Readonly<Record<string, string>> | undefined) ?? {}} onChange={set} />;
    case 'ways':
      return step.do === 'branch' ? <WaysField step={step} onChange={onChange} /> : null;
    case 'tabs':
      return step.do === 'write-workbook' ? <TabsField step={step} onChange={onChange} /> : null;
    case 'comparisons':
      return step.do === 'match' ? <ComparisonsField step={step} onChange={onChange} /> : null;
    case 'answers':
      return <AnswersField answers={value as readonly AnswerField[]} onChange={set} />;
  }
}

/** A table that the database shows, or the name of one that is made later. */
function TableName({ label, connection, value, onChange }: { readonly label: string; readonly connection: string; readonly value: string; readonly onChange: (value: string) => void }) {
  const { around } = useBuilderView();
  const tables = around.connections.find(({ key }) => key === connection)?.tables ?? [];
  return <Autocomplete freeSolo size="small" options={tables.map(({ name }) => name)} inputValue={value} onInputChange={(_, table) => { if (table !== value) onChange(table); }} renderInput={(params) => <TextField {...params} label={label} />} />;
}

/** One of what the application says it can do; taking it fills method, path and the names of the body, and keeps what was mapped. */
function OperationPart({ label, step, onChange }: { readonly label: string; readonly step: CallStep | SendStep; readonly onChange: (step: Step) => void }) {
  const { around } = useBuilderView();
  const operations = around.connections.find((connection) => connection.key === step.connection)?.operations ?? [];
  if (operations.length === 0) return null;
  const nameOf = ({ method, path }: { readonly method: string; readonly path: string }) => `${method} ${path}`;
  const take = (chosen: string | undefined) => {
    const operation = operations.find((candidate) => nameOf(candidate) === chosen);
    if (!operation) return;
    const body = Object.fromEntries(operation.body.map((name) => [name, step.body?.[name] ?? '']));
    onChange({ ...(without(step, 'body') as typeof step), method: operation.method as CallStep['method'], path: operation.path, ...(operation.body.length > 0 ? { body } : {}) });
  };
  const current = nameOf(step);
  return <Pick label={label} value={operations.some((operation) => nameOf(operation) === current) ? current : undefined} optional="Another request" options={operations.map((operation) => ({ value: nameOf(operation), label: `${nameOf(operation)}${operation.summary ? `: ${operation.summary}` : ''}` }))} empty="" onChange={take} />;
}

/** One of the tools that the server offers; taking it fills the names of what it wants, and keeps what was mapped. */
function ToolPart({ label, step, onChange }: { readonly label: string; readonly step: ToolStep; readonly onChange: (step: Step) => void }) {
  const { around } = useBuilderView();
  const tools = around.connections.find((connection) => connection.key === step.connection)?.tools ?? [];
  const take = (chosen: string | undefined) => {
    const inputs = tools.find(({ name }) => name === chosen)?.inputs ?? [];
    onChange({ ...without(step, 'input'), tool: chosen ?? '', ...(inputs.length > 0 ? { input: Object.fromEntries(inputs.map((name) => [name, step.input?.[name] ?? ''])) } : {}) });
  };
  return <Pick label={label} value={step.tool === '' ? undefined : step.tool} options={tools.map(({ name, about }) => ({ value: name, label: `${name}${about ? `: ${about.slice(0, 80)}` : ''}` }))} empty="Choose the connection first" onChange={take} />;
}

function ColumnsPart({ part, step, table, value, set }: { readonly part: Extract<FormPart, { is: 'columns' }>; readonly step: Step; readonly table: string | undefined; readonly value: Readonly<Record<string, Value>>; readonly set: (value: Member) => void }) {
  const { around } = useBuilderView();
  const target = part.at === 'columns' ? targetsOf(step, around)[0] : undefined;
  const targets = target?.columns?.map(({ name }) => name) ?? (part.of === 'list' ? [] : null);
  const columns = part.of === 'notes' ? Object.fromEntries(Object.entries(value).map(([name, noted]) => [name, typeof noted === 'string' ? { text: noted } : noted])) : value;
  const keep = (next: Readonly<Record<string, Value>>) => set(Object.keys(next).length === 0 && part.of === 'free' && part.at !== 'columns' ? undefined : next);
  return <ColumnsField step={step.id} table={table} label={part.label} value={columns} targets={targets} begins={part.of === 'notes' ? { text: '' } : ''} onChange={keep} />;
}

/** A number is taken over when it is one within its limits. */
function NumberPart({ label, help, min, max, value, onChange }: { readonly label: string; readonly help: string | undefined; readonly min: number; readonly max: number; readonly value: number | undefined; readonly onChange: (value: number | undefined) => void }) {
  const [text, setText] = useState(value === undefined ? '' : String(value));
  const number = Number(text.replace(',', '.'));
  const wrong = text.trim() !== '' && (Number.isNaN(number) || number < min || number > max);
  return <TextField fullWidth size="small" label={label} value={text} error={wrong} helperText={wrong ? `A number from ${min} to ${max}` : help} onChange={(event) => setText(event.target.value)} onBlur={() => { if (!wrong) onChange(text.trim() === '' ? undefined : number); }} />;
}

function SeveralKinds({ label, chosen, onChange }: { readonly label: string; readonly chosen: readonly string[]; readonly onChange: (kinds: string[]) => void }) {
  const { around } = useBuilderView();
  return (
    <Box>
      <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{label}</Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap' }}>{around.kinds.map((kind) => <FormControlLabel key={kind.key} control={<Checkbox size="small" checked={chosen.includes(kind.key)} onChange={(event) => onChange(event.target.checked ? [...chosen, kind.key] : chosen.filter((key) => key !== kind.key))} />} label={kind.name} />)}</Box>
    </Box>
  );
}

/** Name and place, a line each: `id = items[0].id`. */
function PlacesPart({ label, help, value, onChange }: { readonly label: string; readonly help: string; readonly value: Readonly<Record<string, string>>; readonly onChange: (value: Member) => void }) {
  const [text, setText] = useState(Object.entries(value).map(([name, place]) => `${name} = ${place}`).join('\n'));
  const lines = text.split('\n').filter((line) => line.trim() !== '');
  const wrong = lines.find((line) => !/^[^=]+=\s*\S/.test(line));
  const take = () => {
    if (!wrong) onChange(lines.length === 0 ? undefined : Object.fromEntries(lines.map((line) => [line.slice(0, line.indexOf('=')).trim(), line.slice(line.indexOf('=') + 1).trim()])));
  };
  return <TextField fullWidth size="small" multiline minRows={2} label={label} value={text} error={wrong !== undefined} helperText={wrong === undefined ? help : `“${wrong}” needs a name, an equals sign and a place`} onChange={(event) => setText(event.target.value)} onBlur={take} slotProps={{ htmlInput: { style: { fontFamily: VALUE_FACE, fontSize: 13 } } }} />;
}
