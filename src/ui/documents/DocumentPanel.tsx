'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { DocumentDetail } from '@/contracts/api';
import type { Place } from '@/core/page/page';
import { marksOf } from '../page/marks';
import { PageView, type PageMark } from '../page/PageView';
import { ReadingsTable } from '../page/ReadingsTable';

/** The field whose value stands at a place, as a link from a written row gives it (rounded to tenths of a point). */
function fieldOn({ readings }: DocumentDetail, place: Place | null): string | null {
  if (!readings || !place) return null;
  const same = (other: Place | null) => other?.page === place.page && other.box.every((edge, index) => Math.abs(edge - (place.box[index] ?? 0)) < 1);
  return Object.entries(readings.fields).find(([, reading]) => same(reading.place))?.[0] ?? null;
}

/** The pages of a document with its readings outlined, and the values beside or below. `focus` is a place to be shown first. */
export function DocumentPanel({ document, focus = null, wide = false }: { readonly document: DocumentDetail; readonly focus?: Place | null; readonly wide?: boolean }) {
  const [active, setActive] = useState<string | null>(() => fieldOn(document, focus));
  const { kindDefinition: kind, reading, readings } = document;
  if (document.pages.length === 0) {
    return (
      <Box sx={{ p: 3 }}>
        <Box sx={{ typography: 'h2' }}>No page can be shown</Box>
        <Box sx={{ my: 1 }}>{document.problem?.text}</Box>
        <Button variant="outlined" href={`/api/v1/documents/${document.id}/original`}>Fetch the original</Button>
      </Box>
    );
  }
  const pointed: PageMark[] = focus && active === null ? [{ key: 'focus', kind: 'value', place: focus, active: true }] : [];
  const marks = kind && reading && readings ? marksOf(kind, reading, readings, active) : [];
  const values = kind && readings && <ReadingsTable kind={kind} readings={readings} active={active} onChoose={setActive} />;
  const pages = <PageView paper={`/documents/${document.id}`} pages={document.pages} marks={[...marks, ...pointed]} onMark={setActive} />;
  if (!wide) return <>{pages}{values && <Box sx={{ p: 2, bgcolor: 'background.paper', borderTop: 1, borderColor: 'divider' }}>{values}</Box>}</>;
  const height = 'calc(100vh - 122px)';
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(440px, 1fr) minmax(420px, 1fr)', borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ overflowY: 'auto', height, bgcolor: 'background.paper', p: 1.5 }}>{values || <Box sx={{ p: 2, color: 'text.secondary' }}>Nothing has been read of it yet.</Box>}</Box>
      <Box sx={{ overflowY: 'auto', height, borderLeft: 1, borderColor: 'divider' }}>{pages}</Box>
    </Box>
  );
}
