'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ConnectionView } from '@/contracts/api';
import type { Offers } from '@/contracts/reading-service';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';
import { ConnectionForm } from './ConnectionForm';
import { ConnectionRow, Problem } from './ConnectionRow';

/** Services and databases that readers and lists ask. */
export function Asked() {
  const { data: connections } = useQuery({ queryKey: ['connections'], queryFn: () => ask<ConnectionView[]>('/connections') });
  const [editing, setEditing] = useState<ConnectionView | 'new' | null>(null);
  return (
    <Box component="section" sx={{ px: 2.5, pt: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0, flex: 1 }}>Services, applications and databases</Box>
        <Button variant="outlined" onClick={() => setEditing('new')}>Add a service, application or database</Button>
      </Box>
      {connections?.length === 0 && <Box sx={{ color: 'text.secondary' }}>None yet. A reading service reads what free readers could not; an application takes what was read; a database fills lists of reference data.</Box>}
      <Box sx={{ border: connections?.length ? 1 : 0, borderColor: 'divider', bgcolor: 'background.paper' }}>{connections?.map((connection) => <AskedOne key={connection.key} connection={connection} onEdit={() => setEditing(connection)} />)}</Box>
      {editing !== null && <ConnectionForm connection={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />}
    </Box>
  );
}

function AskedOne({ connection, onEdit }: { readonly connection: ConnectionView; readonly onEdit: () => void }) {
  const { settings, connector } = connection;
  const where = whereOf(connector, settings);
  const { name, connectorName, problem, paused, checkedAt } = connection;
  return (
    <ConnectionRow
      name={name}
      about={<>{connectorName}: {where}</>}
      mark={paused ? 'not taken' : problem ? 'retrying' : 'done'}
      wrong={problem !== null && paused === null}
      state={paused ? <>Paused by {paused.by} <Moment at={paused.at} /></> : problem ? 'Left alone' : <>Answered{checkedAt && <> <Moment at={checkedAt} /></>}</>}
      buttons={<><PauseButton connection={connection} /><Button variant="outlined" onClick={onEdit}>Change</Button></>}
    >
      {connector === 'reading-service' && <Tiers offers={connection.offers as Offers | null} />}
      {problem && <Problem text={problem} />}
    </ConnectionRow>
  );
}

/** Lets a connection rest without changing it; what needs it waits and uses up no attempts. */
function PauseButton({ connection: { key, name, paused } }: { readonly connection: ConnectionView }) {
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const toggle = () => ask(`/connections/${key}/paused`, { method: 'PUT', body: { paused: paused === null } }).then(() => { tell(paused ? `“${name}” is asked again; what waits for it goes on within seconds.` : `“${name}” is not asked any more; runs that need it wait.`); return client.invalidateQueries({ queryKey: ['connections'] }); }, warn);
  return <Button variant="outlined" onClick={() => void toggle()}>{paused ? 'Let it go on' : 'Pause'}</Button>;
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
    <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, display: 'flex', gap: 3, flexWrap: 'wrap', fontSize: 13 }}>
      {offers.tiers.map((tier) => <Box component="li" key={tier.name}><Box component="span" sx={{ fontWeight: 600 }}>{tier.name}</Box> <Box component="span" sx={{ fontFamily: VALUE_FACE, fontSize: 13 }}>{tier.pricePerPage} {offers.currency}</Box> a page<Box sx={{ color: 'text.secondary', fontSize: 12.5, maxWidth: 260 }}>{tier.about}</Box></Box>)}
    </Box>
  );
}
