'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQueries } from '@tanstack/react-query';
import { useState } from 'react';
import type { DocumentDetail } from '@/contracts/api';
import type { Page, Place } from '@/core/page/page';
import { ask } from '../api';
import { Loading } from '../frame/Room';
import { marksOf } from '../page/marks';
import { PageView, type PageMark } from '../page/PageView';
import { Choices } from '../frame/Choices';
import { PageText } from '../page/PageText';
import { ReadingsTable } from '../page/ReadingsTable';

const SIDES = [{ value: 'values', label: 'Values' }, { value: 'text', label: 'Text' }] as const;

/** The field whose value stands at a place, as a link from a written row gives it (rounded to tenths of a point). */
function fieldOn({ readings }: DocumentDetail, place: Place | null): string | null {
  if (!readings || !place) return null;
  const same = (other: Place | null) => other?.page === place.page && other.box.every((edge, index) => Math.abs(edge - (place.box[index] ?? 0)) < 1);
  return Object.entries(readings.fields).find(([, reading]) => same(reading.place))?.[0] ?? null;
}

/** The pages with their words; asked for only when the text is shown. */
function useWords(document: DocumentDetail, wanted: boolean): readonly Page[] {
  const answers = useQueries({ queries: document.pages.map((page) => ({ queryKey: ['still', 'words', document.id, page.number], queryFn: () => ask<Page>(`/documents/${document.id}/pages/${page.number}`), enabled: wanted, staleTime: Infinity })) });
  return answers.every((answer) => answer.data) ? answers.flatMap((answer) => (answer.data ? [answer.data] : [])) : [];
}

/** The pages of a document with its readings outlined, and the values beside or below. `focus` is a place to be shown first. */
export function DocumentPanel({ document, focus = null, wide = false }: { readonly document: DocumentDetail; readonly focus?: Place | null; readonly wide?: boolean }) {
  const [active, setActive] = useState<string | null>(() => fieldOn(document, focus));
  const [side, setSide] = useState<'values' | 'text'>('values');
  const [picked, setPicked] = useState<Place | null>(null);
  const { kindDefinition: kind, reading, readings } = document;
  const read = useWords(document, side === 'text');
  if (document.pages.length === 0) {
    const deleted = document.problem?.code === 'deleted';
    return (
      <Box sx={{ p: 3 }}>
        <Box sx={{ typography: 'h2' }}>{deleted ? 'The pages are gone' : 'No page can be shown'}</Box>
        <Box sx={{ my: 1 }}>{document.problem?.text}</Box>
        {!deleted && <Button variant="outlined" href={`/api/v1/documents/${document.id}/original`}>Fetch the original</Button>}
        {deleted && kind && readings && <ReadingsTable kind={kind} readings={readings} active={active} onChoose={setActive} />}
      </Box>
    );
  }
  const pointed: PageMark[] = focus && active === null ? [{ key: 'focus', kind: 'value', place: focus, active: true }] : [];
  const selected: PageMark[] = picked && side === 'text' ? [{ key: 'picked', kind: 'value', place: picked, active: true }] : [];
  const marks = kind && reading && readings ? marksOf(kind, reading, readings, active) : [];
  const values = kind && readings && <ReadingsTable kind={kind} readings={readings} active={active} onChoose={setActive} />;
  const pages = <PageView paper={`/documents/${document.id}`} pages={side === 'text' && read.length > 0 ? read : document.pages} marks={[...marks, ...pointed, ...selected]} onMark={setActive} {...(wide && side === 'text' ? { onPick: (pick) => setPicked({ page: pick.page, box: pick.box }) } : {})} />;
  if (!wide) return <>{pages}{values && <Box sx={{ p: 2, bgcolor: 'background.paper', borderTop: 1, borderColor: 'divider' }}>{values}</Box>}</>;
  const height = 'calc(100vh - 122px)';
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(440px, 1fr) minmax(420px, 1fr)', borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ overflowY: 'auto', height, bgcolor: 'background.paper', p: 1.5 }}>
        <Choices label="Beside the page" choices={SIDES} value={side} onChoose={(next) => setSide(next === 'text' ? 'text' : 'values')} />
        {side === 'text' ? (read.length > 0 ? <PageText pages={read} selected={picked} onSelect={setPicked} /> : <Loading />) : values || <Box sx={{ p: 2, color: 'text.secondary' }}>Nothing has been read of it yet.</Box>}
      </Box>
      <Box sx={{ overflowY: 'auto', height, borderLeft: 1, borderColor: 'divider' }}>{pages}</Box>
    </Box>
  );
}
