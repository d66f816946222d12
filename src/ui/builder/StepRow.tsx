'use client';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import AddIcon from '@mui/icons-material/Add';
import DragIcon from '@mui/icons-material/DragIndicator';
import type { DragEvent, KeyboardEvent } from 'react';
import { sentenceOf, type NameOf } from '@/core/pipeline/catalogue';
import type { Slot } from '@/core/pipeline/edit';
import { Mark } from '../tally/Mark';
import { Sentence } from '../tally/Sentence';
import type { BuilderRow } from './rows';
import { cellsOf, glimpse, madeBefore, type TriedDocument } from './tried';

const INDENT = 24;
const cell = { borderLeft: 1, borderBottom: 1, borderColor: 'divider', verticalAlign: 'top' } as const;

export interface RowActions {
  readonly onOpen: (id: string) => void;
  readonly onAdd: (slot: Slot) => void;
  readonly onDrop: (id: string, slot: Slot) => void;
  readonly onKey: (id: string, event: KeyboardEvent) => void;
  readonly onCell: (id: string, document: string) => void;
}

interface Props extends RowActions {
  readonly row: Extract<BuilderRow, { is: 'step' }>;
  readonly first: boolean;
  readonly last: boolean;
  readonly open: boolean;
  readonly chosen: string | null;
  readonly documents: readonly TriedDocument[];
  /** What the published version makes of them; null where that is not asked for. */
  readonly before: readonly TriedDocument[] | null;
  readonly complaints: readonly string[];
  readonly nameOf: NameOf;
}

/** A step as a sentence on the lead line, and beside it what it would make of each document. */
export function StepRow({ row, first, last, open, chosen, documents, before, complaints, nameOf, ...act }: Props) {
  const { step, depth, slot } = row;
  return (
    <tr data-step={step.id} onDragOver={allowDrop} onDrop={(event) => act.onDrop(event.dataTransfer.getData(DRAGGED), { ...slot, index: slot.index + (inLowerHalf(event) ? 1 : 0) })}>
      <Box component="th" scope="row" sx={{ fontWeight: 450, position: 'relative', borderBottom: 1, borderColor: 'divider', bgcolor: open ? 'chart.shallow' : 'transparent', '& .tools': { opacity: 0 }, '&:hover .tools, &:focus-within .tools': { opacity: 1 } }}>
        <Line first={first} last={last} />
        <Box
          role="button"
          tabIndex={0}
          aria-expanded={open}
          onClick={() => act.onOpen(step.id)}
          onKeyDown={(event) => act.onKey(step.id, event)}
          sx={{ p: '8px 34px 8px 12px', pl: `${44 + depth * INDENT}px`, cursor: 'pointer', opacity: step.off ? 0.55 : 1, '&:focus-visible': { outline: 2, outlineColor: 'chart.deep', outlineOffset: -2 } }}
        >
          <Sentence parts={sentenceOf(step, nameOf)} />
          {step.remark && <Box sx={{ color: 'text.secondary', fontSize: 12.5, fontStyle: 'italic' }}>{step.remark}</Box>}
          {complaints.map((text) => <Box key={text} role="alert" sx={{ color: 'chart.signal', fontSize: 12.5 }}>{text}</Box>)}
        </Box>
        <Box className="tools" draggable onDragStart={(event) => { event.dataTransfer.setData(DRAGGED, step.id); event.dataTransfer.effectAllowed = 'move'; }} title="Drag to another place (Alt and arrows by key)" sx={{ position: 'absolute', right: 4, top: 8, cursor: 'grab', color: 'text.secondary', display: 'grid' }}><DragIcon sx={{ fontSize: 18 }} /></Box>
        <AddHere className="tools" label={`Add a step after “${step.id}”`} onAdd={() => act.onAdd({ ...slot, index: slot.index + 1 })} />
      </Box>
      {documents.map((document) => <TriedBox key={document.id} document={document} was={madeBefore(before?.find(({ id }) => id === document.id), document, step.id)} step={step.id} chosen={chosen === document.id} onChoose={() => act.onCell(step.id, document.id)} />)}
    </tr>
  );
}

const DRAGGED = 'application/x-leadline-step';
const allowDrop = (event: DragEvent) => {
  if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault();
};
const inLowerHalf = (event: DragEvent<HTMLTableRowElement>): boolean => {
  const box = event.currentTarget.getBoundingClientRect();
  return event.clientY > box.top + box.height / 2;
};

/** The lead line runs through every row; a notch stands at each step. */
function Line({ first, last, notch = true }: { readonly first: boolean; readonly last: boolean; readonly notch?: boolean }) {
  return (
    <>
      <Box aria-hidden sx={{ position: 'absolute', left: 19, top: first ? 14 : 0, bottom: last ? 'calc(100% - 22px)' : -1, width: '2px', bgcolor: 'chart.middle' }} />
      {notch && <Box aria-hidden sx={{ position: 'absolute', left: 13, top: 18, width: 14, height: '2px', bgcolor: 'chart.deep' }} />}
    </>
  );
}

/** A place between two rows where a step can be added. */
function AddHere({ label, className, onAdd }: { readonly label: string; readonly className: string; readonly onAdd: () => void }) {
  return (
    <Tooltip title={label}>
      <IconButton className={className} aria-label={label} onClick={onAdd} sx={{ position: 'absolute', left: 10, bottom: -11, zIndex: 1, p: 0, width: 20, height: 20, border: 1, borderColor: 'chart.middle', bgcolor: 'background.paper', '&:hover, &:focus-visible': { bgcolor: 'chart.shallow', opacity: 1 } }}><AddIcon sx={{ fontSize: 15 }} /></IconButton>
    </Tooltip>
  );
}

function TriedBox({ document, was, step, chosen, onChoose }: { readonly document: TriedDocument; readonly was: string | null; readonly step: string; readonly chosen: boolean; readonly onChoose: () => void }) {
  const cells = cellsOf(document, step);
  const seen = glimpse(cells);
  return (
    <Box component="td" sx={{ ...cell, bgcolor: chosen ? 'chart.shallow' : undefined, boxShadow: was === null ? 'none' : (t) => `inset 3px 0 0 ${t.vars?.palette.chart.deep ?? ''}` }}>
      {seen && <Box component="button" type="button" onClick={onChoose} title={cells[0]?.text} sx={{ all: 'unset', boxSizing: 'border-box', width: '100%', p: '8px 10px', cursor: 'pointer', display: 'flex', gap: 0.75, alignItems: 'flex-start', lineHeight: 1.35, '&:focus-visible': { outline: 2, outlineColor: 'chart.deep', outlineOffset: -2 } }}><Mark state={seen.mark} size={14} /><Box component="span" sx={{ display: '-webkit-box', WebkitLineClamp: 2, WebkitBoxOrient: 'vertical', overflow: 'hidden', overflowWrap: 'anywhere' }}>{seen.text}</Box></Box>}
      {was !== null && <Box sx={{ px: 1.25, pb: 0.75, color: 'text.secondary', fontSize: 12 }}>before: {was}</Box>}
    </Box>
  );
}

/** The head of a way, or the place for the first step of an empty sequence. */
export function PlainRow({ row, first, last, documents, onAdd, onDrop }: Pick<RowActions, 'onAdd' | 'onDrop'> & { readonly row: Exclude<BuilderRow, { is: 'step' }>; readonly first: boolean; readonly last: boolean; readonly documents: readonly TriedDocument[] }) {
  const slot: Slot = row.is === 'gap' ? row.slot : { of: row.branch, way: row.way, index: 0 };
  return (
    <tr onDragOver={allowDrop} onDrop={(event) => onDrop(event.dataTransfer.getData(DRAGGED), slot)}>
      <Box component="th" scope="row" sx={{ position: 'relative', borderBottom: row.is === 'gap' ? 1 : 0, borderColor: 'divider', '& .tools': { opacity: 0 }, '&:hover .tools, &:focus-within .tools': { opacity: 1 } }}>
        <Line first={first} last={last && !first} notch={false} />
        <Box sx={{ pl: `${44 + row.depth * INDENT}px`, py: row.is === 'way' ? 0.5 : 1, fontSize: row.is === 'way' ? 12 : 13, color: 'text.secondary', fontWeight: row.is === 'way' ? 650 : 450 }}>{row.is === 'way' ? row.name : row.text}</Box>
        <AddHere className={row.is === 'gap' ? 'always' : 'tools'} label={row.is === 'way' ? `Add a step to “${row.name}”` : 'Add a step here'} onAdd={() => onAdd(slot)} />
      </Box>
      {documents.map((document) => <Box component="td" key={document.id} sx={{ ...cell, borderBottom: row.is === 'gap' ? 1 : 0 }} />)}
    </tr>
  );
}
