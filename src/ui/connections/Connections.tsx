'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { PipelineView, SourceView } from '@/contracts/api';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { Mark } from '../tally/Mark';
import { SourceForm } from './SourceForm';

/** The mailboxes and folders that are watched. */
export function Connections() {
  const { data: sources, error } = useQuery({ queryKey: ['sources'], queryFn: () => ask<SourceView[]>('/sources'), refetchInterval: 5_000 });
  const [editing, setEditing] = useState<SourceView | 'new' | null>(null);
  return (
    <>
      <RoomHead title="Connections" about="Where documents come from. Originals are moved or marked, never deleted."><Button variant="contained" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!sources && !error && <Loading />}
      {sources?.length === 0 && editing === null && <Empty title="Nothing is connected yet"><Button variant="outlined" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></Empty>}
      <Box sx={{ px: 2.5, display: 'grid', gap: 1.5, maxWidth: 980 }}>{sources?.map((source) => <Source key={source.key} source={source} onEdit={() => setEditing(source)} />)}</Box>
      {editing !== null && <SourceForm source={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />}
    </>
  );
}

function Source({ source, onEdit }: { readonly source: SourceView; readonly onEdit: () => void }) {
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const { name, connector, settings, pipeline, enabled } = source;
  const toggle = () => ask(`/sources/${source.key}`, { method: 'PUT', body: { name, connector, settings, pipeline, enabled: !enabled } }).then(() => { tell(enabled ? 'Switched off; nothing new is taken.' : 'Switched on.'); return client.invalidateQueries({ queryKey: ['sources'] }); }, warn);
  const where = connector === 'mailbox' ? `${String(settings['user'])} at ${String(settings['host'])}:${String(settings['port'])}, folder ${String(settings['folder'])}` : String(settings['path']);
  return (
    <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 2, display: 'grid', gridTemplateColumns: '1fr auto', gap: 0.5 }}>
      <Box sx={{ typography: 'h2' }}>{name}</Box>
      <Box sx={{ display: 'flex', gap: 1 }}><Button variant="outlined" onClick={() => void toggle()}>{enabled ? 'Switch off' : 'Switch on'}</Button><Button variant="outlined" onClick={onEdit}>Change</Button></Box>
      <Box sx={{ color: 'text.secondary' }}>{source.connectorName}: {where} → {pipelines?.find((known) => known.key === pipeline)?.name ?? pipeline}</Box>
      <Box />
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', gridColumn: '1 / -1', color: source.problem ? 'chart.signal' : 'inherit' }}>
        <Mark state={!enabled ? 'not taken' : source.problem ? 'retrying' : source.watched ? 'done' : 'ahead'} />
        {!enabled ? 'Switched off' : (source.problem ?? (source.watched ? <>Watched; all well{source.checkedAt && <>, looked <Moment at={source.checkedAt} /></>}</> : 'No worker watches it just now'))}
      </Box>
    </Box>
  );
}
