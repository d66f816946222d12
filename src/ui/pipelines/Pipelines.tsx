'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { PipelineView } from '@/contracts/api';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';

/** The published pipelines. */
export function Pipelines() {
  const { data, error } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  return (
    <>
      <RoomHead title="Pipelines" about="What happens to a document from its arrival to its written rows." />
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data?.length === 0 && <Empty title="No pipelines yet">Publish one with <kbd>bin/leadline publish PIPELINE.yaml</kbd>, or start the demo with <kbd>npm run demo</kbd>.</Empty>}
      <Box sx={{ px: 2.5, display: 'grid', gap: 1.5, maxWidth: 980 }}>
        {data?.map((pipeline) => (
          <Box key={pipeline.key} component={Link} href={`/pipelines/${pipeline.key}`} sx={{ textDecoration: 'none', border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, '&:hover': { borderColor: 'chart.middle' } }}>
            <Box sx={{ display: 'flex', gap: 2 }}><Box sx={{ typography: 'h2', flex: 1 }}>{pipeline.name}</Box><Box sx={{ color: 'text.secondary' }}>version {pipeline.version}, <Moment at={pipeline.publishedAt} /></Box></Box>
            <Box sx={{ color: 'text.secondary' }}>{pipeline.description}</Box>
            <Box sx={{ mt: 1 }}>{pipeline.steps.length} steps. Begins with {pipeline.sources.map((source) => source.name).join(', ') || 'what is sent to its endpoint'}.</Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
