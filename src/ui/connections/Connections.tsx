'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useState } from 'react';
import type { ConnectionView, PipelineView, SourceView } from '@/contracts/api';
import { nextTimes, scheduleWords, type Schedule } from '@/core/schedule/schedule';
import type { Offers } from '@/contracts/reading-service';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { Mark } from '../tally/Mark';
import { VALUE_FACE } from '../theme';
import { ConnectionForm } from './ConnectionForm';
import { Weather } from './Weather';
import { SourceForm } from './SourceForm';

/** The mailboxes and folders that are watched. */
export function Connections() {
  const { data: sources, error } = useQuery({ queryKey: ['sources'], queryFn: () => ask<SourceView[]>('/sources'), refetchInterval: 5_000 });
  const [editing, setEditing] = useState<SourceView | 'new' | null>(null);
  return (
    <>
      <RoomHead title="Connections" about="Where documents come from, and what is asked about them. Originals are moved or marked, never deleted."><Button variant="contained" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></RoomHead>
      {error && <Trouble error={error} />}
      {!sources && !error && <Loading />}
      {sources?.length === 0 && editing === null && <Empty title="Nothing is connected yet"><Button variant="outlined" onClick={() => setEditing('new')}>Add a mailbox or folder</Button></Empty>}
      <Box sx={{ mx: 2.5, border: sources?.length ? 1 : 0, borderColor: 'divider', bgcolor: 'background.paper' }}>{sources?.map((source) => <Source key={source.key} source={source} onEdit={() => setEditing(source)} />)}</Box>
      <Asked />
      {editing !== null && <SourceForm source={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />}
    </>
  );
}

/** Services and databases that readers and lists ask. */
function Asked() {
  const { data: connections } = useQuery({ queryKey: ['connections'], queryFn: () => ask<ConnectionView[]>('/connections') });
  const [editing, setEditing] = useState<ConnectionView | 'new' | null>(null);
  return (
    <Box component="section" sx={{ px: 2.5, pt: 3, pb: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0, flex: 1 }}>Services, applications and databases</Box>
        <Button variant="outlined" onClick={() => setEditing('new')}>Add a service, application or database</Button>
      </Box>
      {connections?.length === 0 && <Box sx={{ color: 'text.secondary' }}>None yet. A reading service reads what free readers could not; an application takes what was read; a database fills lists of reference data.</Box>}
      <Box sx={{ border: connections?.length ? 1 : 0, borderColor: 'divider', bgcolor: 'background.paper' }}>{connections?.map((connection) => <AskedOne key={connection.key} connection={connection} onEdit={() => setEditing(connection)} />)}</Box>
      <Weather />
      {editing !== null && <ConnectionForm connection={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />}
    </Box>
  );
}

function AskedOne({ connection, onEdit }: { readonly connection: ConnectionView; readonly onEdit: () => void }) {
  const { settings, connector } = connection;
  const where = whereOf(connector, settings);
  return (
    <Box sx={{ px: 1.5, py: 1, display: 'grid', gridTemplateColumns: '180px minmax(300px, 1fr) minmax(160px, 220px) auto', columnGap: 2, rowGap: 0.5, alignItems: 'center', '& + &': { borderTop: 1, borderColor: 'divider' } }}>
      <Box sx={{ fontWeight: 600 }}>{connection.name}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 13, overflowWrap: 'anywhere' }}>{connection.connectorName}: {where}</Box>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 13, color: connection.problem ? 'chart.signal' : 'inherit' }}><Mark state={connection.problem ? 'retrying' : 'done'} />{connection.problem ? 'Left alone' : <>Answered{connection.checkedAt && <> <Moment at={connection.checkedAt} /></>}</>}</Box>
      <Button variant="outlined" onClick={onEdit}>Change</Button>
      {connector === 'reading-service' && <Tiers offers={connection.offers as Offers | null} />}
      {connection.problem && <Box role="alert" sx={{ color: 'chart.signal', fontSize: 13, gridColumn: '2 / -1' }}>{connection.problem}</Box>}
    </Box>
  );
}

function whereOf(connector: string, settings: Readonly<Record<string, unknown>>): string {
  const limits = [settings['perMinute'] === undefined ? null : `${String(settings['perMinute'])} calls a minute`, settings['atOnce'] === undefined ? null : `${String(settings['atOnce'])} at once`].filter(Boolean).join(', ');
  const server = `${String(settings['host'])}:${String(settings['port'])}`;
  const place = connector === 'database' ? `${String(settings['user'])} at ${server}, ${String(settings['database'])}` : connector === 'mail' ? `${String(settings['from'])} through ${server}` : String(settings['url']);
  return limits ? `${place} · at most ${limits}` : place;
}

/** What a reading service offers, as it said itself. */
function Tiers({ offers }: { readonly offers: Offers | null }) {
  if (!offers) return null;
  return (
    <Box component="ul" sx={{ gridColumn: '2 / -1', listStyle: 'none', m: 0, p: 0, display: 'flex', gap: 3, flexWrap: 'wrap', fontSize: 13 }}>
      {offers.tiers.map((tier) => <Box component="li" key={tier.name}><Box component="span" sx={{ fontWeight: 600 }}>{tier.name}</Box> <Box component="span" sx={{ fontFamily: VALUE_FACE, fontSize: 13 }}>{tier.pricePerPage} {offers.currency}</Box> a page<Box sx={{ color: 'text.secondary', fontSize: 12.5, maxWidth: 260 }}>{tier.about}</Box></Box>)}
    </Box>
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
    <Box sx={{ px: 1.5, py: 1, display: 'grid', gridTemplateColumns: '180px minmax(300px, 1fr) minmax(220px, 300px) auto', gap: 2, alignItems: 'center', '& + &': { borderTop: 1, borderColor: 'divider' } }}>
      <Box sx={{ fontWeight: 600 }}>{name}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 13, overflowWrap: 'anywhere' }}>{source.connectorName}: {where}{schedule ? `, ${scheduleWords(schedule)}` : ''} → {pipelines?.find((known) => known.key === pipeline)?.name ?? pipeline}</Box>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 13, color: source.problem ? 'chart.signal' : 'inherit' }}>
        <Mark state={!enabled ? 'not taken' : source.problem ? 'retrying' : source.watched ? 'done' : schedule ? 'resting' : 'ahead'} />
        {!enabled ? 'Switched off' : (source.problem ?? (schedule ? <>{source.checkedAt ? <>Looked at <Moment at={source.checkedAt} />; </> : ''}next {dayjs(nextTimes(schedule, shownMs, 1)[0]).format('ddd HH:mm')}</> : source.watched ? <>Watched; all well{source.checkedAt && <>, looked <Moment at={source.checkedAt} /></>}</> : 'No worker watches it just now'))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}><Button variant="outlined" onClick={() => void toggle()}>{enabled ? 'Switch off' : 'Switch on'}</Button><Button variant="outlined" onClick={onEdit}>Change</Button></Box>
    </Box>
  );
}
