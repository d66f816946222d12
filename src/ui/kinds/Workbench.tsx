'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import type { FieldDefinition, KindDefinition } from '@/core/reading/kind';
import { ask, post } from '../api';
import { isTyping } from '../frame/Frame';
import { ReasonDialog } from '../frame/ReasonDialog';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { DefinitionText } from '../tally/DefinitionText';
import { DropFiles } from '../frame/DropFiles';
import { KindDialog } from './KindDialog';
import { FieldDialog } from './FieldDialog';
import { SamplePanel } from './SamplePanel';
import { KindTally } from './KindTally';
import { standing, standingTruth, useWorkbench, type Column, type WorkbenchWork } from './useWorkbench';

/** What is looked at: a sample, and a field or table of it. */
export interface Chosen {
  readonly sample: string;
  readonly path: string;
}

/** A kind being built: the tally of fields and samples, and the page of the chosen one beside it. */
export function WorkbenchRoom({ kindKey }: { readonly kindKey: string }) {
  const work = useWorkbench(kindKey);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [editing, setEditing] = useState<FieldDefinition | 'new' | null>(null);
  const { bench, columns } = work;
  const kind = bench.data?.kind;
  useKeys(kind, columns, work, chosen, setChosen);
  if (bench.error) return <Trouble error={bench.error} />;
  if (!kind) return <Loading />;
  const column = columns.find((candidate) => candidate.sample.id === chosen?.sample) ?? null;
  const add = (files: readonly File[]) => addFiles(kindKey, files, work);
  return (
    <DropFiles fill onFiles={add} text={`Let go: they become samples of “${kind.name}”`}>
      <Head kindKey={kindKey} work={work} kind={kind} onAdd={add} />
      <Box sx={{ flex: 1, display: 'grid', gridTemplateColumns: column || columns.length === 0 ? 'minmax(0, 1fr) minmax(430px, 46%)' : '1fr', gridTemplateRows: 'minmax(0, 1fr)', borderTop: 1, borderColor: 'divider', minHeight: 0 }}>
        <Box sx={{ overflow: 'auto', minWidth: 0, minHeight: 0 }}>
          <KindTally kind={kind} columns={columns} chosen={chosen} onChoose={setChosen} onField={setEditing} onAddField={() => setEditing('new')} onSample={(sample, change) => void work.doing('changing the sample', () => ask(`/samples/${sample.id}`, { method: 'PUT', body: { revision: sample.revision, ...change } }))} onRemove={(sample) => void work.doing('removing the sample', () => ask(`/samples/${sample.id}`, { method: 'DELETE' }), () => `${sample.fileName} is no sample any more.`)} />
        </Box>
        {columns.length === 0 && (
          <Empty title="No samples yet">
            <Box sx={{ mb: 1.5 }}>Drop a few papers of this kind here. Each is read at once from the names of the fields; you confirm or correct, and three to six teach the rest.</Box>
            <AddButton onFiles={add} contained />
          </Empty>
        )}
        {column && chosen && <SamplePanel key={column.sample.id} kind={kind} column={column} path={chosen.path} work={work} onChoose={(path) => setChosen({ sample: column.sample.id, path })} onClose={() => setChosen(null)} onNext={() => setChosen(nextOf(kind, columns, chosen))} onConfirmed={() => setChosen(nextSample(kind, columns, chosen))} />}
      </Box>
      {editing !== null && <FieldDialog kind={kind} field={editing === 'new' ? null : editing} onClose={() => setEditing(null)} onKeep={(next) => work.keepKind(next)} />}
    </DropFiles>
  );
}

async function addFiles(key: string, files: readonly File[], work: WorkbenchWork): Promise<void> {
  if (files.length === 0) return;
  const form = new FormData();
  for (const file of files) form.append('file', file);
  await work.doing(`reading ${files.length === 1 ? (files[0]?.name ?? 'a file') : `${files.length} files`}`, () => ask<{ added: number; known: number }>(`/kinds/${key}/samples`, { method: 'POST', form }), ({ added, known }) => `${added === 1 ? 'One sample' : `${added} samples`} added${known > 0 ? `, ${known} ${known === 1 ? 'was' : 'were'} there already` : ''}.`);
}

function AddButton({ onFiles, contained = false }: { readonly onFiles: (files: readonly File[]) => void; readonly contained?: boolean }) {
  return (
    <Button component="label" variant={contained ? 'contained' : 'outlined'}>
      Add samples
      <input type="file" multiple hidden accept=".pdf,.png,.jpg,.jpeg,.tif,.tiff,.eml,.txt,.xml" onChange={(event) => { onFiles([...(event.target.files ?? [])]); event.target.value = ''; }} />
    </Button>
  );
}

function Head({ kindKey, work, kind, onAdd }: { readonly kindKey: string; readonly work: WorkbenchWork; readonly kind: KindDefinition; readonly onAdd: (files: readonly File[]) => void }) {
  const [publishing, setPublishing] = useState(false);
  const [settings, setSettings] = useState(false);
  const router = useRouter();
  const { data } = work.bench;
  const samples = data?.samples ?? [];
  const confirmed = samples.filter((sample) => sample.state === 'confirmed').length;
  const proposed = samples.filter((sample) => sample.state === 'proposed').length;
  const state = data?.revision ? (data.version === null ? 'A draft, not published yet' : `A draft over version ${data.version}`) : `Version ${data?.version ?? '–'}`;
  const learn = () => work.doing('learning', () => post<{ lessons: readonly { isNew: boolean; layout: string }[] }>(`/kinds/${kindKey}/teach`), ({ lessons }) => `Learned from ${lessons.length} ${lessons.length === 1 ? 'sample' : 'samples'}: ${new Set(lessons.map((lesson) => lesson.layout)).size} ${new Set(lessons.map((lesson) => lesson.layout)).size === 1 ? 'layout' : 'layouts'}.`);
  const sound = async () => {
    const asked = await work.doing('asking for a sounding', () => post<{ id: string }>(`/kinds/${kindKey}/soundings`));
    if (asked) router.push(`/kinds/${kindKey}/soundings/${asked.id}`);
  };
  return (
    <RoomHead title={kind.name} about={<>{state} · {samples.length} samples, {confirmed} confirmed{proposed > 0 && <Box component="span" sx={{ color: 'chart.signal' }}> · {proposed} from the desk to look at</Box>}{work.busy ? <Box component="span" role="status"> · {work.busy} …</Box> : work.reading ? ' · reading the samples …' : ''}</>}>
      <AddButton onFiles={onAdd} />
      <Button variant="outlined" disabled={confirmed === 0 || work.busy !== null} onClick={() => void learn()}>Learn from samples</Button>
      <Button variant="outlined" disabled={confirmed === 0 || work.busy !== null} onClick={() => void sound()}>Sound</Button>
      <Button variant="outlined" onClick={() => setSettings(true)}>Settings</Button>
      <Button component={Link} variant="outlined" href={`/kinds/${kindKey}/before-after`}>Before/after</Button>
      <DefinitionText yaml={data?.yaml ?? ''} name={`${kindKey}.yaml`} />
      <Button variant="contained" disabled={!data?.revision || work.busy !== null} onClick={() => setPublishing(true)}>Publish</Button>
      {settings && <KindDialog kind={kind} onClose={() => setSettings(false)} onKeep={(next) => work.keepKind(next)} />}
      <ReasonDialog open={publishing} optional title={`Publish “${kind.name}”`} text={`It becomes version ${(data?.version ?? 0) + 1}. Pipelines read with it from their next document on; documents read before stay as they are.`} label="What is new (may be empty)" action="Publish" onClose={() => setPublishing(false)} onGive={(note) => work.doing('publishing', () => post<{ version: number }>(`/kinds/${kindKey}/publish`, { note }), ({ version }) => `Published as version ${version}.`)} />
    </RoomHead>
  );
}

const pathsOf = (kind: KindDefinition): string[] => [...kind.fields.map((field) => field.key), ...kind.tables.map((table) => table.key)];

/** Downwards through the fields of a sample, then to the next sample that is not confirmed. */
function nextOf(kind: KindDefinition, columns: readonly Column[], { sample, path }: Chosen): Chosen | null {
  const paths = pathsOf(kind);
  const next = paths[paths.indexOf(path) + 1];
  return next === undefined ? nextSample(kind, columns, { sample, path }) : { sample, path: next };
}

function nextSample(kind: KindDefinition, columns: readonly Column[], { sample, path }: Chosen): Chosen | null {
  const at = columns.findIndex((column) => column.sample.id === sample);
  const next = [...columns.slice(at + 1), ...columns.slice(0, at)].find((column) => column.sample.state !== 'confirmed' && column.sample.problem === null);
  return next ? { sample: next.sample.id, path: pathsOf(kind)[0] ?? path } : { sample, path };
}

/** Arrows move in the tally, Enter confirms the value and goes on, c confirms the sample and goes on. */
function useKeys(kind: KindDefinition | undefined, columns: readonly Column[], work: WorkbenchWork, chosen: Chosen | null, setChosen: (chosen: Chosen | null) => void): void {
  const handle = (event: KeyboardEvent): void => {
    if (!kind || !chosen || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role="dialog"]')) return;
    const paths = pathsOf(kind);
    const [row, at] = [paths.indexOf(chosen.path), columns.findIndex((column) => column.sample.id === chosen.sample)];
    const go = (path: string | undefined, sample: string | undefined) => {
      event.preventDefault();
      if (path && sample) setChosen({ path, sample });
    };
    const column = columns[at];
    if (event.key === 'ArrowDown') go(paths[row + 1], chosen.sample);
    else if (event.key === 'ArrowUp') go(paths[row - 1], chosen.sample);
    else if (event.key === 'ArrowRight') go(chosen.path, columns[at + 1]?.sample.id);
    else if (event.key === 'ArrowLeft') go(chosen.path, columns[at - 1]?.sample.id);
    else if (event.key === 'Escape') setChosen(null);
    else if (event.key === 'Enter' && column && !(event.target instanceof HTMLButtonElement)) {
      event.preventDefault();
      if (kind.fields.some((field) => field.key === chosen.path)) void work.keepTruth(column.sample, { ...column.sample.truth, fields: { ...column.sample.truth.fields, [chosen.path]: standing(column, chosen.path).value } }, false);
      setChosen(nextOf(kind, columns, chosen));
    } else if (event.key === 'c' && column && column.sample.problem === null) {
      event.preventDefault();
      void work.keepTruth(column.sample, standingTruth(kind, column), true);
      setChosen(nextSample(kind, columns, chosen));
    }
  };
  const newest = useRef(handle);
  useEffect(() => {
    newest.current = handle;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => newest.current(event);
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
