'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from 'next/link';
import { Fragment, useState, type KeyboardEvent } from 'react';
import { entryOf } from '@/core/pipeline/catalogue';
import { eachStep, type PipelineDefinition, type Step } from '@/core/pipeline/definition';
import { copyStep, insertStep, moveStep, newStep, nudgeStep, removeStep, replaceStep, slotOf, stepOf, type Slot } from '@/core/pipeline/edit';
import { useNotices } from '../frame/Notices';
import { AddStep } from './AddStep';
import { CellDetail } from './CellDetail';
import { BuilderProvider } from './context';
import { DocumentsTried, ServicesAsked } from './DocumentsTried';
import { without } from '../member';
import { nameIn } from './names';
import { rowsOf } from './rows';
import { StepForm } from './StepForm';
import { PlainRow, StepRow, type RowActions } from './StepRow';
import { cellsOf, type TriedDocument } from './tried';
import type { Building } from './useBuilder';

const WIDTH_OF_SENTENCES = 500;
const WIDTH_OF_DOCUMENT = 158;

interface Props {
  readonly builder: Building;
  readonly documents: readonly string[];
  readonly onDocuments: (ids: readonly string[]) => void;
  /** The last step that is tried; null: all of them. */
  readonly onUntil: (step: string | null) => void;
  readonly onAsks: (asks: boolean) => void;
}

/** Steps down the lead line, documents across; a step opens in its place. */
export function StepTable({ builder, documents: wanted, onDocuments, onUntil, onAsks }: Props) {
  const { pipeline, around, tried, change } = builder;
  const [open, setOpen] = useState<string | null>(null);
  const [shown, setShown] = useState<string | null>(null);
  const [adding, setAdding] = useState<Slot | null>(null);
  const act = useActions(builder, { open, setOpen, setShown, setAdding });
  const documents = tried.data?.documents ?? [];
  const document = documents.find(({ id }) => id === shown) ?? documents[0] ?? null;
  const rows = rowsOf(pipeline);
  const step = open === null ? null : stepOf(pipeline, open);
  const complaintsOf = (id: string) => (tried.data?.complaints ?? []).filter((complaint) => complaint.step === id).map(({ text }) => text);
  return (
    <BuilderProvider value={{ pipeline, around, documents, document: document?.id ?? null }}>
      <Box sx={{ mx: 2.5, mb: 2, overflow: 'auto', border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
        <Box component="table" aria-label="Steps and documents tried" sx={{ borderCollapse: 'separate', borderSpacing: 0, tableLayout: 'fixed', width: Math.max(WIDTH_OF_SENTENCES + documents.length * WIDTH_OF_DOCUMENT, 900), minWidth: '100%', '& td, & th': { textAlign: 'left', verticalAlign: 'top', fontSize: 13, p: 0 } }}>
          <thead>
            <tr>
              <Box component="th" sx={{ width: WIDTH_OF_SENTENCES, bgcolor: 'background.default', borderBottom: 1, borderColor: 'divider' }}><DocumentsTried wanted={wanted} onChoose={onDocuments} trying={tried.isFetching} />{asksServices(pipeline) && <ServicesAsked asks={builder.asks} onAsks={onAsks} />}</Box>
              {documents.map((one) => <DocumentHead key={one.id} document={one} />)}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, index) => {
              const ends = { first: index === 0, last: index === rows.length - 1 };
              if (row.is !== 'step') return <PlainRow key={`${row.is}${index}`} row={row} {...ends} documents={documents} onAdd={act.onAdd} onDrop={act.onDrop} />;
              return (
                <Fragment key={row.step.id}>
                  <StepRow row={row} {...ends} open={open === row.step.id} chosen={open === row.step.id ? (document?.id ?? null) : null} documents={documents} before={builder.before} complaints={complaintsOf(row.step.id)} nameOf={nameIn(around)} {...act} />
                  {step && open === row.step.id && (
                    <tr>
                      <Box component="td" colSpan={documents.length + 1} sx={{ borderBottom: 1, borderColor: 'divider', bgcolor: 'background.default' }}>
                        <OpenStep id={step.id} builder={builder} document={document} onClose={() => setOpen(null)} onOpen={setOpen} onUntil={onUntil} />
                      </Box>
                    </tr>
                  )}
                </Fragment>
              );
            })}
          </tbody>
        </Box>
        {tried.data?.documents.length === 0 && <Box sx={{ p: 2, color: 'text.secondary' }}>No document has arrived yet. Drop one on <Link href="/intake">Intake</Link>, and it is tried here.</Box>}
      </Box>
      <Box sx={{ px: 2.5, pb: 3, display: 'flex', gap: 2, alignItems: 'center' }}>
        <Button variant="contained" onClick={() => setAdding({ of: null, way: null, index: pipeline.steps.length })}>Add a step</Button>
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}><kbd>Enter</kbd> opens a step, <kbd>↑</kbd> <kbd>↓</kbd> go through them, with <kbd>Alt</kbd> they move it, <kbd>+</kbd> adds one after it, <kbd>Del</kbd> takes it out, <kbd>Ctrl Z</kbd> takes back</Box>
      </Box>
      {adding && <AddStep onClose={() => setAdding(null)} onAdd={(kind) => { const made = newStep(pipeline, kind); change(insertStep(pipeline, adding, made)); setAdding(null); setOpen(made.id); }} />}
    </BuilderProvider>
  );
}

/** Whether a pipeline asks services anything that can be asked again. */
const asksServices = ({ steps }: PipelineDefinition): boolean => [...eachStep(steps)].some(({ step }) => step.do === 'call' && !step.off);

function DocumentHead({ document }: { readonly document: TriedDocument }) {
  return (
    <Box component="th" sx={{ width: WIDTH_OF_DOCUMENT, bgcolor: 'background.default', borderLeft: 1, borderBottom: 1, borderColor: 'divider' }}>
      <Box sx={{ p: '6px 10px' }}>
        <Box component={Link} href={`/documents/${document.id}`} title={document.fileName} sx={{ display: 'block', fontWeight: 600, textDecoration: 'none', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', '&:hover': { textDecoration: 'underline' } }}>{document.fileName.replace(/\.\w+$/, '')}</Box>
        <Box sx={{ fontWeight: 450, fontSize: 12, color: document.straight ? 'chart.deep' : 'chart.signal' }}>{document.stopped ? 'stops' : document.straight ? 'straight through' : 'needs somebody'}</Box>
      </Box>
    </Box>
  );
}

interface Opening {
  readonly open: string | null;
  readonly setOpen: (id: string | null) => void;
  readonly setShown: (document: string) => void;
  readonly setAdding: (slot: Slot) => void;
}

function useActions({ pipeline, change }: Building, { open, setOpen, setShown, setAdding }: Opening): RowActions {
  const { tell } = useNotices();
  const takeOut = (id: string) => {
    change(removeStep(pipeline, id));
    if (open === id) setOpen(null);
    tell('Taken out. Undo brings it back.');
  };
  return {
    onOpen: (id) => setOpen(open === id ? null : id),
    onCell: (id, document) => {
      setOpen(id);
      setShown(document);
    },
    onAdd: setAdding,
    onDrop: (id, slot) => {
      if (id !== '') change(moveStep(pipeline, id, slot));
    },
    onKey: (id, event) => {
      if (onStepKey(id, event, { pipeline, change, setOpen: () => setOpen(open === id ? null : id), setAdding, takeOut })) event.preventDefault();
    },
  };
}

interface KeyActs {
  readonly pipeline: PipelineDefinition;
  readonly change: (next: PipelineDefinition) => void;
  readonly setOpen: () => void;
  readonly setAdding: (slot: Slot) => void;
  readonly takeOut: (id: string) => void;
}

/** True when the key meant something. */
function onStepKey(id: string, event: KeyboardEvent, { pipeline, change, setOpen, setAdding, takeOut }: KeyActs): boolean {
  const by = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : null;
  const slot = slotOf(pipeline, id);
  if (by !== null && event.altKey) change(nudgeStep(pipeline, id, by));
  else if (by !== null) focusNext(event.currentTarget as HTMLElement, by);
  else if (event.key === 'Enter' || event.key === ' ') setOpen();
  else if (event.key === 'Delete') takeOut(id);
  else if (event.key === '+' && slot) setAdding({ ...slot, index: slot.index + 1 });
  else return false;
  return true;
}

function focusNext(from: HTMLElement, by: 1 | -1): void {
  const all = [...(from.closest('table')?.querySelectorAll<HTMLElement>('tr[data-step] > th > [role="button"]') ?? [])];
  all[all.indexOf(from) + by]?.focus();
}

/** The step that is open: its form, and beside it what it would make of the document that is shown. */
function OpenStep({ id, builder, document, onClose, onOpen, onUntil }: { readonly id: string; readonly builder: Building; readonly document: TriedDocument | null; readonly onClose: () => void; readonly onOpen: (id: string) => void; readonly onUntil: Props['onUntil'] }) {
  const { pipeline, change, until } = builder;
  const step = stepOf(pipeline, id);
  if (!step) return null;
  const copy = () => {
    const made = copyStep(pipeline, id);
    change(made.pipeline);
    onOpen(made.id);
  };
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(260px, 380px)', gap: 2.5, p: 2, pl: 5.5, maxWidth: 'calc(100vw - 60px)', position: 'sticky', left: 0 }}>
      <Box>
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', mb: 1.5 }}>
          <Box sx={{ typography: 'h2' }}>{entryOf(step).name}</Box>
          <Box sx={{ color: 'text.secondary', flex: 1 }}>{entryOf(step).about}. Later steps know it as <Box component="code" sx={{ fontSize: 12.5 }}>{step.id}</Box>.</Box>
        </Box>
        <StepForm key={id} step={step} onChange={(next) => change(replaceStep(pipeline, id, next))} />
        <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
          <Button variant="outlined" onClick={copy}>Copy</Button>
          <Button variant="outlined" onClick={() => change(replaceStep(pipeline, id, step.off ? (without(step, 'off') as Step) : { ...step, off: true }))}>{step.off ? 'Switch on' : 'Switch off'}</Button>
          <Button variant="outlined" onClick={() => { change(removeStep(pipeline, id)); onClose(); }}>Take out</Button>
          <Button variant="outlined" onClick={() => onUntil(until === id ? null : id)}>{until === id ? 'Try all steps' : 'Try up to here'}</Button>
          <Button onClick={onClose}>Close</Button>
        </Box>
      </Box>
      <Box sx={{ borderLeft: 1, borderColor: 'divider', pl: 2 }}>{document ? <CellDetail document={document} cells={cellsOf(document, id)} /> : <Box sx={{ color: 'text.secondary', fontSize: 13 }}>As soon as a document has arrived, what this step would make of it stands here.</Box>}</Box>
    </Box>
  );
}
