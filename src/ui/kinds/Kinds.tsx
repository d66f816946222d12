'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { KindListing } from '@/contracts/workbench';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { VALUE_FACE } from '../theme';
import { NewKind } from './NewKind';

/** The document kinds, published or still a draft, with how well they are read. */
export function Kinds() {
  const { data: kinds, error } = useQuery({ queryKey: ['workbench'], queryFn: () => ask<KindListing[]>('/workbench') });
  const [adding, setAdding] = useState(false);
  return (
    <>
      <RoomHead title="Kinds" about="What your papers hold, and how surely it is read."><Button variant="contained" onClick={() => setAdding(true)}>New kind</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!kinds && !error && <Loading />}
      {kinds?.length === 0 && <Empty title="No kinds yet"><Box sx={{ mb: 1.5 }}>A kind says what a sort of paper holds. Three to six samples teach it.</Box><Button variant="outlined" onClick={() => setAdding(true)}>New kind</Button></Empty>}
      {kinds && kinds.length > 0 && (
        <Box component="ul" sx={{ listStyle: 'none', mx: 2.5, my: 0, p: 0, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
          {kinds.map((kind) => <Listing key={kind.key} kind={kind} />)}
        </Box>
      )}
      {adding && <NewKind onClose={() => setAdding(false)} />}
    </>
  );
}

function Listing({ kind }: { readonly kind: KindListing }) {
  const { samples, sounding } = kind;
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: 'minmax(260px, 1.4fr) minmax(160px, 1fr) 150px 190px 150px', gap: 2, px: 1.5, py: 1.25, alignItems: 'baseline', '& + &': { borderTop: 1, borderColor: 'divider' }, '&:hover': { bgcolor: 'action.hover' } }}>
      <Box sx={{ minWidth: 0 }}>
        <Box component={Link} href={`/kinds/${kind.key}`} sx={{ fontWeight: 650, fontSize: 15, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{kind.name}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{kind.description}</Box>
      </Box>
      <Box sx={{ fontSize: 13 }}>{kind.fields} fields{kind.tables.length > 0 ? `, table of ${kind.tables.join(', ').toLowerCase()}` : ''}<Box sx={{ color: 'text.secondary' }}>{layoutsText(kind.layouts)}</Box></Box>
      <Box sx={{ fontSize: 13 }}>{samples.all === 0 ? 'no samples yet' : `${samples.confirmed} of ${samples.all} samples confirmed`}{samples.proposed > 0 && <Box sx={{ color: 'chart.signal' }}>{samples.proposed} from the desk to look at</Box>}</Box>
      <Box sx={{ fontSize: 13 }}>
        {sounding ? <><Box component={Link} href={`/kinds/${kind.key}/soundings/${sounding.id}`} sx={{ fontFamily: VALUE_FACE, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{((100 * sounding.right) / Math.max(1, sounding.all)).toFixed(1)} % right</Box><Box sx={{ color: 'text.secondary' }}>{Math.round(sounding.straightThrough * 100)} % of {sounding.samples} straight through</Box></> : <Box sx={{ color: 'text.secondary' }}>not sounded yet</Box>}
      </Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{kind.version === null ? 'a draft, not published' : <>version {kind.version}, <Moment at={kind.publishedAt ?? ''} />{kind.hasDraft && <Box>and a draft</Box>}</>}</Box>
    </Box>
  );
}

const layoutsText = (layouts: readonly string[]): string => (layouts.length === 0 ? 'read from its descriptions' : layouts.length <= 2 ? layouts.join(', ') : `${layouts.slice(0, 2).join(', ')} and ${layouts.length - 2} more`);
