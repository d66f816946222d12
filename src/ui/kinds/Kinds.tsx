'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { KindView } from '@/contracts/api';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';

/** The published document kinds. */
export function Kinds() {
  const { data: kinds, error } = useQuery({ queryKey: ['kinds'], queryFn: () => ask<KindView[]>('/kinds') });
  return (
    <>
      <RoomHead title="Kinds" about="What the documents hold, and how each value is found." />
      {error && <Trouble error={error} />}
      {!kinds && !error && <Loading />}
      {kinds?.length === 0 && <Empty title="No kinds yet">Publish one with <kbd>bin/leadline publish KIND.yaml</kbd>, or start the demo with <kbd>npm run demo</kbd>.</Empty>}
      <Box sx={{ px: 2.5, display: 'grid', gap: 1.5, maxWidth: 980 }}>
        {kinds?.map(({ key, name, version, publishedAt, definition }) => (
          <Box key={key} component={Link} href={`/kinds/${key}`} sx={{ textDecoration: 'none', border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, '&:hover': { borderColor: 'chart.middle' } }}>
            <Box sx={{ display: 'flex', gap: 2 }}><Box sx={{ typography: 'h2', flex: 1 }}>{name}</Box><Box sx={{ color: 'text.secondary' }}>version {version}, <Moment at={publishedAt} /></Box></Box>
            <Box sx={{ color: 'text.secondary' }}>{definition.description}</Box>
            <Box sx={{ mt: 1 }}>{definition.fields.length} fields, {definition.tables.map((table) => `${table.label.toLowerCase()} with ${table.columns.length} columns`).join(', ')}; {definition.layouts.length} known layouts: {definition.layouts.map((layout) => layout.name).join(', ')}</Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
