'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import MoreHoriz from '@mui/icons-material/MoreHoriz';
import { useEffect, useRef, useState } from 'react';
import type { SampleView } from '@/contracts/workbench';
import { isRight } from '@/core/measuring/compare';
import { thresholdOf, type FieldDefinition, type KindDefinition, type TableDefinition } from '@/core/reading/kind';
import { isFigure, shownValue } from '../page/ReadingsTable';
import { Gauge } from '../tally/Gauge';
import { VALUE_FACE } from '../theme';
import { standing, standingRows, type Column } from './useWorkbench';
import type { Chosen } from './Workbench';
import { checkText, readersText } from './words';

interface Props {
  readonly kind: KindDefinition;
  readonly columns: readonly Column[];
  readonly chosen: Chosen | null;
  readonly onChoose: (chosen: Chosen) => void;
  readonly onField: (field: FieldDefinition) => void;
  readonly onAddField: () => void;
  readonly onSample: (sample: SampleView, change: { state?: 'new'; heldBack?: boolean }) => void;
  readonly onRemove: (sample: SampleView) => void;
}

const stuck = { position: 'sticky', left: 0, bgcolor: 'background.paper', zIndex: 1, minWidth: 210, maxWidth: 210, boxShadow: 'inset 0 -1px 0 var(--mui-palette-divider)' } as const;

/** Fields down, samples across: in each cell the value, how sure it is, and whether it is the confirmed one. */
export function KindTally(props: Props) {
  const { kind, columns, onAddField } = props;
  const changed = useChanges(columns);
  return (
    <Box component="table" aria-label="Fields and samples" sx={{ borderCollapse: 'separate', borderSpacing: 0, bgcolor: 'background.paper', '& td, & th': { borderBottom: 1, borderRight: 1, borderColor: 'divider', p: '5px 8px', textAlign: 'left', verticalAlign: 'top', fontSize: 13, fontWeight: 450 } }}>
      <thead>
        <tr>
          <Box component="th" sx={{ ...stuck, top: 0, zIndex: 3, bgcolor: 'background.default', color: 'text.secondary' }}>Field and how it is found</Box>
          {columns.map((column) => <SampleHead key={column.sample.id} column={column} {...props} />)}
        </tr>
      </thead>
      <tbody>
        {kind.fields.map((field) => <FieldRow key={field.key} field={field} changed={changed} {...props} />)}
        {kind.tables.map((table) => <TableRow key={table.key} table={table} {...props} />)}
        <tr><Box component="th" sx={{ ...stuck, boxShadow: 'none' }}><Button onClick={onAddField}>Add a field</Button></Box></tr>
        {kind.checks.length > 0 && <tr><Box component="td" colSpan={columns.length + 1} sx={{ color: 'text.secondary' }}><Box sx={{ fontWeight: 650, color: 'text.primary' }}>Checks</Box>{kind.checks.map((check, index) => <Box key={index}>{checkText(kind, check)}</Box>)}</Box></tr>}
      </tbody>
    </Box>
  );
}

interface Seen {
  readonly columns: readonly Column[];
  readonly values: ReadonlyMap<string, string>;
  readonly changed: ReadonlySet<string>;
}

/** Cells whose reading is another than it was before, since the workbench was opened: an edit shows its effect on every sample at once. */
function useChanges(columns: readonly Column[]): ReadonlySet<string> {
  const [seen, setSeen] = useState<Seen>({ columns: [], values: new Map(), changed: new Set() });
  if (seen.columns !== columns) setSeen(seenNow(seen, columns));
  return seen.changed;
}

function seenNow(before: Seen, columns: readonly Column[]): Seen {
  const values = new Map(before.values);
  const changed = new Set(before.changed);
  for (const { sample, reading } of columns) for (const [key, { value }] of Object.entries(reading?.fields ?? {})) {
    const name = `${sample.id}/${key}`;
    const was = values.get(name);
    if (was !== undefined && was !== (value ?? '')) changed.add(name);
    values.set(name, value ?? '');
  }
  return { columns, values, changed };
}

const STATES = { new: 'to be confirmed', proposed: 'corrected at the desk', confirmed: 'confirmed' } as const;

function SampleHead({ column, kind, onSample, onRemove }: Props & { readonly column: Column }) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const { sample, tally } = column;
  const right = tally?.judged.filter((judged) => isRight(judged.verdict)).length ?? 0;
  const layout = kind.layouts.find((candidate) => candidate.key === column.reading?.layout)?.name;
  return (
    <Box component="th" scope="col" sx={{ position: 'sticky', top: 0, bgcolor: 'background.default', zIndex: 2, minWidth: 148, maxWidth: 220 }}>
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 0.5 }}>
        <Box sx={{ fontWeight: 650, flex: 1, overflowWrap: 'anywhere' }}>{sample.fileName.replace(/\.(pdf|png|jpe?g|tiff?|eml|xml)$/i, '')}</Box>
        <IconButton size="small" aria-label={`More about ${sample.fileName}`} onClick={(event) => setMenu(event.currentTarget)} sx={{ p: 0 }}><MoreHoriz sx={{ fontSize: 16 }} /></IconButton>
        <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)} onClick={() => setMenu(null)}>
          <MenuItem onClick={() => onSample(sample, { heldBack: !sample.heldBack })}>{sample.heldBack ? 'Use it for teaching too' : 'Hold it back: measure only'}</MenuItem>
          {sample.state === 'confirmed' && <MenuItem onClick={() => onSample(sample, { state: 'new' })}>Not confirmed after all</MenuItem>}
          {sample.documentId && <MenuItem component="a" href={`/documents/${sample.documentId}`}>The document it came from</MenuItem>}
          <MenuItem onClick={() => onRemove(sample)}>Remove this sample</MenuItem>
        </Menu>
      </Box>
      <Box sx={{ fontSize: 12, color: sample.problem ? 'chart.signal' : 'text.secondary' }}>{sample.problem ?? <>{STATES[sample.state]}{sample.heldBack ? ', held back' : ''}</>}</Box>
      {!sample.problem && <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{tally && tally.judged.length > 0 ? `${right} of ${tally.judged.length} right` : layout ? layout : 'from descriptions'}</Box>}
    </Box>
  );
}

function FieldRow({ field, kind, columns, chosen, onChoose, onField, changed }: Props & { readonly field: FieldDefinition; readonly changed: ReadonlySet<string> }) {
  return (
    <tr>
      <Box component="th" scope="row" sx={stuck}>
        <ButtonBase disableRipple onClick={() => onField(field)} sx={{ fontWeight: 650, fontSize: 13, textAlign: 'left', '&:hover, &:focus-visible': { textDecoration: 'underline' } }}>{field.label}</ButtonBase>
        <Box component="span" sx={{ color: 'text.secondary', fontSize: 12 }}> {field.type === 'yes-no' ? 'yes or no' : field.type}{field.required ? ', required' : ''}</Box>
        <Tooltip title={readersText(kind, field.key)}><Box sx={{ color: 'text.secondary', fontSize: 12, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{readersText(kind, field.key)}</Box></Tooltip>
      </Box>
      {columns.map((column) => <Cell key={column.sample.id} column={column} field={field} active={chosen?.sample === column.sample.id && chosen.path === field.key} changed={changed.has(`${column.sample.id}/${field.key}`)} onChoose={() => onChoose({ sample: column.sample.id, path: field.key })} />)}
    </tr>
  );
}

function Cell({ column, field, active, changed, onChoose }: { readonly column: Column; readonly field: FieldDefinition; readonly active: boolean; readonly changed: boolean; readonly onChoose: () => void }) {
  const cell = useRef<HTMLTableCellElement>(null);
  useEffect(() => {
    if (active) cell.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [active]);
  const reading = column.reading?.fields[field.key];
  const { looked } = standing(column, field.key);
  const judged = column.tally?.judged.find((one) => one.path === field.key);
  const wrong = judged !== undefined && !isRight(judged.verdict);
  return (
    <Box component="td" ref={cell} data-active={active} onClick={onChoose} sx={{ cursor: 'pointer', bgcolor: active ? 'chart.shallow' : undefined, boxShadow: changed ? (t) => `inset 3px 0 0 ${t.vars?.palette.chart.middle ?? ''}` : undefined, '&:hover': { bgcolor: active ? 'chart.shallow' : 'action.hover' } }}>
      <Box sx={{ display: 'flex', gap: 1, justifyContent: isFigure(field) ? 'flex-end' : 'space-between', alignItems: 'flex-start' }}>
        <Box sx={{ fontFamily: field.type === 'text' ? undefined : VALUE_FACE, overflowWrap: 'anywhere', maxWidth: 170, color: (reading?.value ?? null) === null ? 'text.secondary' : undefined }}>{column.reading ? shownValue(field, reading?.value ?? null) : '…'}</Box>
        {reading && reading.reader !== 'none' && <Gauge confidence={reading.confidence} threshold={thresholdOf(field)} evidence={reading.evidence} figure={false} />}
      </Box>
      {wrong && <Box sx={{ fontSize: 12, color: 'chart.signal' }}>confirmed: {shownValue(field, judged.expected)}</Box>}
      {!wrong && judged === undefined && looked && <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{standing(column, field.key).value === (reading?.value ?? null) ? 'looked at' : <>given: {shownValue(field, standing(column, field.key).value)}</>}</Box>}
    </Box>
  );
}

/** A table folds into one row; its cells are corrected beside the page. */
function TableRow({ table, columns, chosen, onChoose }: Props & { readonly table: TableDefinition }) {
  return (
    <tr>
      <Box component="th" scope="row" sx={stuck}>
        <Box sx={{ fontWeight: 650 }}>{table.label}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 12 }}>table: {table.columns.map((column) => column.label.toLowerCase()).join(', ')}</Box>
      </Box>
      {columns.map((column) => {
        const active = chosen?.sample === column.sample.id && chosen.path === table.key;
        const judged = column.tally?.judged.filter((one) => one.path.startsWith(`${table.key}.`)) ?? [];
        const right = judged.filter((one) => isRight(one.verdict)).length;
        return (
          <Box component="td" key={column.sample.id} onClick={() => onChoose({ sample: column.sample.id, path: table.key })} sx={{ cursor: 'pointer', bgcolor: active ? 'chart.shallow' : undefined, '&:hover': { bgcolor: active ? 'chart.shallow' : 'action.hover' } }}>
            {counted(standingRows(column, table.key).rows.length)}
            {judged.length > 0 && <Box sx={{ fontSize: 12, color: right < judged.length ? 'chart.signal' : 'text.secondary' }}>{right} of {judged.length} cells right</Box>}
          </Box>
        );
      })}
    </tr>
  );
}

const counted = (rows: number): string => `${rows} ${rows === 1 ? 'row' : 'rows'}`;
