'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import Button from '@mui/material/Button';
import Link from 'next/link';
import { useState } from 'react';
import type { ListView, WorkbookView } from '@/contracts/api';
import { ask } from '../api';
import { NewList } from './NewList';
import { originText } from './ReferenceActions';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';

/** All lists, and the workbooks that pipelines write to. */
export function Lists() {
  const { data: lists, error } = useQuery({ queryKey: ['lists'], queryFn: () => ask<ListView[]>('/lists') });
  const [adding, setAdding] = useState(false);
  const { data: workbooks } = useQuery({ queryKey: ['workbooks'], queryFn: () => ask<WorkbookView[]>('/workbooks') });
  return (
    <>
      <RoomHead title="Lists" about="Rows that pipelines wrote, each leading back to its place on the page; and reference data that readers look things up in."><Button variant="contained" onClick={() => setAdding(true)}>New list of reference data</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!lists && !error && <Loading />}
      {lists?.length === 0 && <Empty title="No lists yet">A list of results is made with the pipeline that writes to it. Reference data comes from a file or a database.</Empty>}
      {adding && <NewList lists={lists ?? []} onClose={() => setAdding(false)} />}
      <Section title="Results" lists={lists?.filter((list) => list.keyColumn === null) ?? []} />
      <Section title="Reference data" lists={lists?.filter((list) => list.keyColumn !== null) ?? []} />
      {workbooks && workbooks.length > 0 && (
        <Box sx={{ px: 2.5, pt: 2.5, pb: 3 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 1 }}>Workbooks</Box>
          {workbooks.map((workbook) => (
            <Box key={workbook.name} sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', px: 1.5, py: 1, display: 'flex', gap: 2, alignItems: 'baseline' }}>
              <Box component="a" href={`/api/v1/workbooks/${encodeURIComponent(workbook.name)}`} sx={{ fontWeight: 600 }}>{workbook.name}</Box>
              <Box sx={{ color: 'text.secondary' }}>{Math.round(workbook.size / 1000)} kB, written <Moment at={workbook.changedAt} />. Fetches a copy as it is now.</Box>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}

function Section({ title, lists }: { readonly title: string; readonly lists: readonly ListView[] }) {
  if (lists.length === 0) return null;
  return (
    <Box component="section" sx={{ px: 2.5, pb: 2 }}>
      <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 1 }}>{title}</Box>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
        {lists.map((list) => (
          <Box component="li" key={list.key} sx={{ display: 'grid', gridTemplateColumns: '190px minmax(240px, 1fr) minmax(240px, 1fr) 90px', gap: 2, px: 1.5, py: 0.9, alignItems: 'baseline', '& + &': { borderTop: 1, borderColor: 'divider' }, '&:hover': { bgcolor: 'action.hover' } }}>
            <Box component={Link} href={`/lists/${list.key}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{list.name}</Box>
            <Box sx={{ fontSize: 13 }}>{list.description}{list.keyColumn !== null && <Box sx={{ color: 'text.secondary' }}>{originText(list)}</Box>}</Box>
            <Box sx={{ color: list.problem ? 'chart.signal' : 'text.secondary', fontSize: 13 }}>{list.problem ? `The last sync failed: ${list.problem.split('\n')[0] ?? ''}` : list.columns.map((column) => column.name).join(' · ')}</Box>
            <Box sx={{ textAlign: 'right', fontVariantNumeric: 'tabular-nums' }}>{list.rows.toLocaleString('en')} {list.rows === 1 ? 'row' : 'rows'}</Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
