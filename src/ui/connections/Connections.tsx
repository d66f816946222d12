'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useState } from 'react';
import type { PipelineView, SourceView } from '@/contracts/api';
import { nextTimes, scheduleWords, type Schedule } from '@/core/schedule/schedule';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { Asked } from './Asked';
import { ConnectionRow } from './ConnectionRow';
import { Keeping } from './Keeping';
import { Listeners } from './Listeners';
import { SourceForm } from './SourceForm';
import { Weather } from './Weather';

/** Everything outside: the mailboxes and folders that are watched, what is asked, who is told. */
export function Connections() {
  const { data: sources, error } = useQuery({ queryKey: ['sources'], queryFn: () => ask<SourceView[]>('/sources'), refetchInterval: 5_000 });
  const [editing, setEditing] = useState<SourceView | 'new' | null>(null);
  return (
    <>
      <RoomHead title="Connections" about="Where documents come from, what is asked about them, and who is told what happens. Originals are moved or marked, never deleted."><Button variant="contained" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!sources && !error && <Loading />}
      {sources?.length === 0 && editing === null && <Empty title="Nothing is connected yet"><Button variant="outlined" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></Empty>}
      <Box sx={{ mx: 2.5, border: sources?.length ? 1 : 0, borderColor: 'divider', bgcolor: 'background.paper' }}>{sources?.map((source) => <Source key={source.key} source={source} onEdit={() => setEditing(source)} />)}</Box>
      <Asked />
      <Listeners />
      <Keeping />
      <Box sx={{ px: 2.5, pb: 3 }}><Weather /></Box>
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
  const { schedule } = settings as { schedule?: Schedule };
  const [shownMs] = useState(() => dayjs().valueOf());
  const where = connector === 'mailbox' ? `${String(settings['user'])} at ${String(settings['host'])}:${String(settings['port'])}, folder ${String(settings['folder'])}` : String(settings['path']);
  return (
    <ConnectionRow
      name={name}
      about={<>{source.connectorName}: {where}{schedule ? `, ${scheduleWords(schedule)}` : ''} → {pipelines?.find((known) => known.key === pipeline)?.name ?? pipeline}</>}
      mark={!enabled ? 'not taken' : source.problem ? 'retrying' : source.watched ? 'done' : schedule ? 'resting' : 'ahead'}
      wrong={source.problem !== null}
      state={!enabled ? 'Switched off' : (source.problem ?? (schedule ? <>{source.checkedAt ? <>Looked at <Moment at={source.checkedAt} />; </> : ''}next {dayjs(nextTimes(schedule, shownMs, 1)[0]).format('ddd HH:mm')}</> : source.watched ? <>Watched{source.checkedAt && <>; looked <Moment at={source.checkedAt} /></>}</> : 'No worker watches it just now'))}
      buttons={<><Button variant="outlined" onClick={() => void toggle()}>{enabled ? 'Switch off' : 'Switch on'}</Button><Button variant="outlined" onClick={onEdit}>Change</Button></>}
    />
  );
}
