'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { ListView, WorkbookView } from '@/contracts/api';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';

/** All lists, and the workbooks that pipelines write to. */
export function Lists() {
  const { data: lists, error } = useQuery({ queryKey: ['lists'], queryFn: () => ask<ListView[]>('/lists') });
  const { data: workbooks } = useQuery({ queryKey: ['workbooks'], queryFn: () => ask<WorkbookView[]>('/workbooks') });
  return (
    <>
      <RoomHead title="Lists" about="Rows that pipelines wrote; each leads back to its place on the page." />
      {error && <Trouble error={error} />}
      {!lists && !error && <Loading />}
      {lists?.length === 0 && <Empty title="No lists yet">A list is made with the pipeline that writes to it.</Empty>}
      <Box sx={{ px: 2.5, display: 'grid', gap: 1.5, maxWidth: 980 }}>
        {lists?.map((list) => (
          <Box key={list.key} component={Link} href={`/lists/${list.key}`} sx={{ textDecoration: 'none', border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, display: 'grid', gridTemplateColumns: '1fr auto', gap: 0.5, '&:hover': { borderColor: 'chart.middle' } }}>
            <Box sx={{ typography: 'h2' }}>{list.name}</Box>
            <Box sx={{ fontWeight: 600 }}>{list.rows.toLocaleString('en')} rows</Box>
            <Box sx={{ color: 'text.secondary' }}>{list.description}</Box>
            <Box />
            <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{list.columns.map((column) => column.name).join(' · ')}</Box>
          </Box>
        ))}
      </Box>
      {workbooks && workbooks.length > 0 && (
        <Box sx={{ px: 2.5, pt: 3, maxWidth: 980 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 1 }}>Workbooks</Box>
          {workbooks.map((workbook) => (
            <Box key={workbook.name} sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, display: 'flex', gap: 2, alignItems: 'baseline' }}>
              <Box component="a" href={`/api/v1/workbooks/${encodeURIComponent(workbook.name)}`} sx={{ typography: 'h2' }}>{workbook.name}</Box>
              <Box sx={{ color: 'text.secondary' }}>{Math.round(workbook.size / 1000)} kB, written <Moment at={workbook.changedAt} />. Fetches a copy as it is now.</Box>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
