'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { SamplePages } from '@/contracts/workbench';
import { linesOf, textOf } from '@/core/page/lines';
import { typedReading } from '@/core/reading/edit';
import { normaliseFor, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import { NOTHING_READ, type Reading } from '@/core/reading/reading';
import { rowsInBox } from '@/core/teaching/table-from-box';
import { proposeField } from '@/core/teaching/propose';
import { localeOf } from '@/core/value/locale';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { ask } from '../api';
import { ValueInput } from '../desk/ValueInput';
import { useNotices } from '../frame/Notices';
import { Loading } from '../frame/Room';
import { marksOf } from '../page/marks';
import { PageView } from '../page/PageView';
import { SampleRows } from './SampleRows';
import { standing, standingRows, standingTruth, type Column, type WorkbenchWork } from './useWorkbench';

interface Props {
  readonly kind: KindDefinition;
  readonly column: Column;
  readonly path: string;
  readonly work: WorkbenchWork;
  readonly onChoose: (path: string) => void;
  readonly onClose: () => void;
  readonly onNext: () => void;
  readonly onConfirmed: () => void;
}

type Pick = { readonly page: number; readonly box: readonly [number, number, number, number]; readonly words: readonly { readonly text: string; readonly box: readonly [number, number, number, number] }[] };

/** The page of a sample with the chosen value: to be confirmed, typed, or taken from the page by clicking or dragging. */
export function SamplePanel({ kind, column, path, work, onChoose, onClose, onNext, onConfirmed }: Props) {
  const { sample, reading } = column;
  const { data: pages } = useQuery({ queryKey: ['still', 'sample-pages', sample.id], queryFn: () => ask<SamplePages>(`/samples/${sample.id}/pages`), staleTime: Infinity });
  const [marking, setMarking] = useState(false);
  const { warn, tell } = useNotices();
  const field = kind.fields.find((candidate) => candidate.key === path);
  const table = kind.tables.find((candidate) => candidate.key === path);
  const locale = kind.layouts.find((layout) => layout.key === reading?.layout)?.locale ?? localeOf((pages?.pages ?? []).flatMap((page) => page.words.map((word) => word.text)), kind.locale);
  const give = (key: string, value: string | null) => work.keepTruth(sample, { ...sample.truth, fields: { ...sample.truth.fields, [key]: value } }, false);
  const keepRows = (rows: readonly Readonly<Record<string, string | null>>[]) => work.keepTruth(sample, { ...sample.truth, tables: { ...sample.truth.tables, ...(table ? { [table.key]: rows } : {}) } }, false);
  // Rows that were only read are replaced by what was dragged over; rows that somebody gave are added to.
  const startsAnew = table !== undefined && !standingRows(column, table.key).looked;
  const take = (pick: Pick): void => {
    if (pick.words.length === 0) return;
    const lines = (pages?.pages ?? []).flatMap((page) => linesOf(page));
    if (table && !marking) {
      const rows = rowsInBox(linesOf({ number: pick.page, width: 0, height: 0, words: pick.words }), table, kind.name, locale);
      if (rows.length === 0) return warn(`No rows of ${table.label.toLowerCase()} stand there.`);
      void keepRows([...(startsAnew ? [] : standingRows(column, table.key).rows), ...rows]).then(() => tell(`${rows.length} ${rows.length === 1 ? 'row' : 'rows'} taken from the page. Correct what is wrong; the rest is learned from it.`));
      return;
    }
    if (marking || !field) {
      const proposed = proposeField(pick.words, lines.filter((line) => line.page === pick.page), kind.fields.map((each) => each.key));
      setMarking(false);
      const fit = normaliseFor(proposed, textOf(pick.words), locale);
      void work.keepKind({ ...kind, fields: [...kind.fields, proposed] }).then(async (kept) => {
        if (kept === null) return;
        await give(proposed.key, fit.ok ? fit.value : textOf(pick.words));
        tell(`“${proposed.label}” is a field now. Rename it by its name on the left.`);
        onChoose(proposed.key);
      });
      return;
    }
    const given = typedReading(field, linesOf({ number: pick.page, width: 0, height: 0, words: pick.words }).map((line) => line.text).join(' '), locale, { page: pick.page, box: pick.box });
    if (given.value === null) warn(`${field.label}: ${given.problem ?? 'this does not fit'}.`);
    else void give(field.key, given.value);
  };
  const first = pages?.pages[0];
  return (
    <Box component="section" aria-label={sample.fileName} sx={{ borderLeft: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: 0, overflow: 'hidden' }}>
      <Box sx={{ p: 1.5, bgcolor: 'background.paper', borderBottom: 1, borderColor: 'divider', display: 'grid', gap: 1 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <Box sx={{ fontWeight: 650, flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{field?.label ?? table?.label ?? sample.fileName}</Box>
          <Button aria-pressed={marking} variant={marking ? 'contained' : 'text'} onClick={() => setMarking(!marking)}>{marking ? 'Click, drag, or click several with Shift' : 'New field from the page'}</Button>
          <Tooltip title="Close (Esc)"><IconButton aria-label="Close the page" onClick={onClose}><Close sx={{ fontSize: 18 }} /></IconButton></Tooltip>
        </Box>
        {field && <FieldValue key={field.key} field={field} column={column} locale={locale} onGive={(value) => void give(field.key, value)} onNext={onNext} />}
        {table && <SampleRows table={table} column={column} locale={locale} onKeep={(rows) => void keepRows(rows)} />}
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Button variant="contained" disabled={sample.problem !== null || reading === null} onClick={() => void work.keepTruth(sample, standingTruth(kind, column), true).then(() => onConfirmed())}>{sample.state === 'proposed' ? 'Take the values from the desk' : sample.state === 'confirmed' ? 'Confirm again' : 'All values are right'}&ensp;<kbd>c</kbd></Button>
          <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}><kbd>Enter</kbd> this value is right, <kbd>↑</kbd> <kbd>↓</kbd> <kbd>←</kbd> <kbd>→</kbd> move{table && '; drag over rows on the page to take them'}</Box>
        </Box>
      </Box>
      <Box sx={{ flex: 1, overflowY: 'auto' }}>
        {first?.why && first.origin !== 'text layer' && <Box sx={{ px: 2, pt: 1, fontSize: 12.5, color: 'text.secondary' }}>{first.why}</Box>}
        {sample.problem ? <Box role="alert" sx={{ p: 2, color: 'chart.signal' }}>{sample.problem}</Box> : !pages ? <Loading /> : <PageView paper={`/samples/${sample.id}`} pages={pages.pages} marks={reading ? marksOf(kind, reading, reading, path) : []} onPick={take} onMark={onChoose} />}
      </Box>
    </Box>
  );
}

function FieldValue({ field, column, locale, onGive, onNext }: { readonly field: FieldDefinition; readonly column: Column; readonly locale: Parameters<typeof typedReading>[2]; readonly onGive: (value: string | null) => void; readonly onNext: () => void }) {
  const read = column.reading?.fields[field.key];
  const { value, looked } = standing(column, field.key);
  const shown: Reading = looked ? { ...NOTHING_READ, text: value ?? '', value } : (read ?? NOTHING_READ);
  const others = (column.reading?.alternatives[field.key] ?? []).filter((other) => other.value !== value).slice(0, 3);
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <ValueInput field={field} reading={shown} locale={value !== null && looked ? PLAIN_LOCALE : locale} label={`Value of ${field.label}`} onCommit={(next) => onGive(next.text === '' ? null : (next.value ?? next.text))} onEnter={onNext} />
      <Box sx={{ fontSize: 12.5, color: 'text.secondary', maxHeight: 40, overflow: 'hidden' }}>{looked ? (column.sample.state === 'confirmed' ? 'Confirmed.' : 'Looked at.') : read && read.reader !== 'none' ? `By ${read.reader}: ${read.evidence.slice(0, 2).map((item) => item.what).join('; ')}.` : 'Not found. Click it on the page, type it, or leave it empty if it is not there.'}</Box>
      {others.length > 0 && <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', fontSize: 12.5, alignItems: 'center' }}>Or: {others.map((other) => <Button key={`${other.value}-${other.reader}`} variant="outlined" sx={{ minHeight: 24, py: 0 }} onClick={() => onGive(other.value)}>{other.value}</Button>)}</Box>}
    </Box>
  );
}
