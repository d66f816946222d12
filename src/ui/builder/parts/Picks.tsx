'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Pickable } from '@/core/pipeline/catalogue/entry';
import type { Step } from '@/core/pipeline/definition';
import { kindsRead } from '@/core/pipeline/offers';
import { useBuilderView, type BuilderView } from '../context';

interface PickOption {
  readonly value: string;
  readonly label: string;
}

interface PickProps {
  readonly label: string;
  readonly value: string | undefined;
  /** What leaving it out means; absent: it must be chosen. */
  readonly optional?: string | undefined;
  readonly onChange: (value: string | undefined) => void;
}

const NOTHING = '';

/** One of what is there, by name. */
export function Pick({ label, value, optional, options, empty, onChange }: PickProps & { readonly options: readonly PickOption[]; readonly empty: string }) {
  const gone = value !== undefined && value !== '' && !options.some((option) => option.value === value);
  return (
    <TextField select fullWidth size="small" label={label} value={gone ? '' : (value ?? NOTHING)} error={gone} helperText={gone ? `“${value}” is not there` : options.length === 0 ? empty : undefined} onChange={(event) => onChange(event.target.value === NOTHING ? undefined : event.target.value)} slotProps={{ inputLabel: optional ? { shrink: true } : {}, select: { displayEmpty: optional !== undefined } }}>
      {optional && <MenuItem value={NOTHING}><Box component="span" sx={{ color: 'text.secondary' }}>{optional}</Box></MenuItem>}
      {options.map((option) => <MenuItem key={option.value} value={option.value}>{option.label}</MenuItem>)}
    </TextField>
  );
}

/** A table of the kinds that are read. */
export function TablePick(props: PickProps) {
  const view = useBuilderView();
  return <Pick {...props} options={tablesIn(view)} empty="No kind that is read here has a table" />;
}

function tablesIn({ pipeline, around }: BuilderView): PickOption[] {
  const tables = kindsRead(pipeline, around.kinds).flatMap((kind) => kind.tables.map((table) => [table.key, table.label] as const));
  return [...new Map(tables)].map(([value, label]) => ({ value, label }));
}

const EMPTY: Readonly<Record<Pickable, string>> = {
  kind: 'No kind is published yet; describe one under Kinds',
  'results list': 'There is no list to write to yet; make one under Lists',
  'reference list': 'There is no reference list yet; import one under Lists',
  'list column': 'Choose the list first',
  table: 'No kind that is read here has a table',
  pipeline: 'No other pipeline is published',
  'http connection': 'None yet; add one under Connections',
  'database connection': 'None yet; add one under Connections',
  'mail connection': 'None yet; add outgoing mail under Connections',
  'tool connection': 'None yet; add a server of tools under Connections',
};

/** What can be picked for a part of a step. */
export function SurroundingsPick({ of, step, ...props }: PickProps & { readonly of: Pickable; readonly step: Step }) {
  const view = useBuilderView();
  return <Pick {...props} options={optionsFor(of, step, view)} empty={EMPTY[of]} />;
}

function optionsFor(of: Pickable, step: Step, view: BuilderView): PickOption[] {
  const { around, pipeline } = view;
  const named = (rows: readonly { readonly key: string; readonly name: string }[]): PickOption[] => rows.map(({ key, name }) => ({ value: key, label: name }));
  switch (of) {
    case 'kind':
      return named(around.kinds);
    case 'results list':
      return named(around.lists.filter((list) => list.results));
    case 'reference list':
      return named(around.lists.filter((list) => !list.results));
    case 'list column':
      return (around.lists.find((list) => 'list' in step && list.key === step.list)?.columns ?? []).map((column) => ({ value: column, label: column }));
    case 'table':
      return tablesIn(view);
    case 'pipeline':
      return named(around.pipelines.filter((other) => other.key !== pipeline.key));
    case 'http connection':
      return named(around.connections.filter((connection) => connection.connector === 'http'));
    case 'database connection':
      return named(around.connections.filter((connection) => connection.connector === 'database'));
    case 'tool connection':
      return named(around.connections.filter((connection) => connection.connector === 'mcp'));
    case 'mail connection':
      return named(around.connections.filter((connection) => connection.connector === 'mail'));
  }
}
