'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { ConnectionView } from '@/contracts/api';
import { keyFrom } from '@/core/definition/keys';
import { ask, post } from '../api';
import { ConfirmDialog } from '../frame/ConfirmDialog';
import { FormField } from '../frame/FormField';
import { useNotices } from '../frame/Notices';

type Values = Record<'name' | 'connector' | 'url' | 'host' | 'port' | 'user' | 'database' | 'auth' | 'authName' | 'checkPath' | 'keepsKeys' | 'secure' | 'from' | 'perMinute' | 'atOnce' | 'secret', string>;
type Field = { readonly name: keyof Values; readonly label: string; readonly required?: true; readonly wide?: true; readonly help?: string; readonly options?: Readonly<Record<string, string>> };

const FRESH: Values = { name: '', connector: 'reading-service', url: 'https://', host: '', port: '3306', user: '', database: '', auth: 'bearer', authName: '', checkPath: '/', keepsKeys: 'yes', secure: 'no', from: '', perMinute: '', atOnce: '', secret: '' };
const YES_NO = { yes: 'yes', no: 'no' } as const;

/** What each sort of connection asks for. */
const FIELDS: Readonly<Record<string, readonly Field[]>> = {
  'reading-service': [{ name: 'url', label: 'Address', required: true, wide: true }],
  http: [
    { name: 'url', label: 'Address', required: true, wide: true },
    { name: 'auth', label: 'The key goes as', options: { bearer: 'bearer token', header: 'a header', basic: 'user and password', none: 'not at all' } },
    { name: 'authName', label: 'Header or user name' },
    { name: 'checkPath', label: 'Path to try', help: 'One that answers when all is well' },
    { name: 'keepsKeys', label: 'Keeps idempotency keys', options: YES_NO, help: 'The same request twice is done once' },
  ],
  mail: [{ name: 'host', label: 'Server', required: true }, { name: 'port', label: 'Port', required: true }, { name: 'user', label: 'User' }, { name: 'secure', label: 'TLS from the start', options: YES_NO }, { name: 'from', label: 'Mails come from', required: true, wide: true }],
  mcp: [{ name: 'url', label: 'Address', required: true, wide: true }],
  database: [{ name: 'host', label: 'Host', required: true }, { name: 'port', label: 'Port', required: true }, { name: 'user', label: 'User', required: true }, { name: 'database', label: 'Database', required: true }],
};
const NAMES = { 'reading-service': 'Reading service (HTTP)', http: 'Application or service (HTTP)', mail: 'Outgoing mail (SMTP)', database: 'Database (MariaDB, MySQL)', mcp: 'Tools (Model Context Protocol)' } as const;
const LIMITS: readonly Field[] = [{ name: 'perMinute', label: 'Calls a minute, at most', help: 'Empty: no limit' }, { name: 'atOnce', label: 'Calls at once, at most', help: 'Over all workers' }];

/** Numbers and yes or no are typed by what they are; what is empty is left out. */
function settingsOf(values: Values): Record<string, unknown> {
  const fields = [...(FIELDS[values.connector] ?? []), ...LIMITS].filter(({ name }) => values[name] !== '');
  return Object.fromEntries(fields.map(({ name, options }) => [name, options === YES_NO ? values[name] === 'yes' : ['port', 'perMinute', 'atOnce'].includes(name) ? Number(values[name]) : values[name]]));
}

const bodyOf = (values: Values) => ({ name: values.name, connector: values.connector, settings: settingsOf(values), secret: values.secret === '' ? null : values.secret });

const textOf = (value: unknown): string => (typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value));

const valuesOf = (connection: ConnectionView): Values => ({ ...FRESH, ...Object.fromEntries(Object.entries(connection.settings).map(([name, value]) => [name, textOf(value)])), name: connection.name, connector: connection.connector, secret: '' });

/** A service or database that is asked by name. It is tried before it is kept; its secret is sealed and never shown again. */
export function ConnectionForm({ connection, onClose }: { readonly connection: ConnectionView | null; readonly onClose: () => void }) {
  const { control, handleSubmit, formState } = useForm<Values>({ defaultValues: connection ? valuesOf(connection) : FRESH });
  const connector = useWatch({ control, name: 'connector' });
  const [found, setFound] = useState<{ readonly text: string; readonly wrong: boolean } | null>(null);
  const [removing, setRemoving] = useState(false);
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const address = ({ name }: Values) => `/connections/${connection?.key ?? keyFrom(name, 'connection')}`;
  const wrong = (error: Error) => setFound({ text: error.message, wrong: true });
  const tryIt = handleSubmit((values) => post<{ found: string }>(`${address(values)}/try`, bodyOf(values)).then(({ found: text }) => setFound({ text, wrong: false }), wrong));
  const save = handleSubmit((values) => ask<{ found: string }>(address(values), { method: 'PUT', body: bodyOf(values) }).then(async ({ found: text }) => { tell(text); await client.invalidateQueries({ queryKey: ['connections'] }); onClose(); }, wrong));
  const remove = () => void ask(`/connections/${connection?.key ?? ''}`, { method: 'DELETE' }).then(async () => { tell(`“${connection?.name ?? ''}” and its secret are forgotten.`); await client.invalidateQueries({ queryKey: ['connections'] }); onClose(); }, warn);
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void save(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>{connection ? `Change “${connection.name}”` : 'Add a service, application or database'}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important' }}>
        <FormField control={control} name="name" label="Name" required />
        <FormField control={control} name="connector" label="What" options={NAMES} disabled={connection !== null} />
        {[...(FIELDS[connector] ?? []), ...LIMITS].map((field) => <FormField key={`${connector}${field.name}`} control={control} {...field} />)}
        <FormField control={control} name="secret" label={`${connector === 'database' || connector === 'mail' ? 'Password' : 'Key'}${connection ? ' (empty: as it is)' : ''}`} type="password" wide help="Kept sealed; it is never shown again." />
        {found && <Box role={found.wrong ? 'alert' : 'status'} sx={{ gridColumn: '1 / -1', borderLeft: 4, borderColor: found.wrong ? 'chart.signal' : 'chart.middle', pl: 1.5, py: 0.5 }}>{found.text}</Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {connection && <Button onClick={() => setRemoving(true)}>Remove</Button>}
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button variant="outlined" onClick={() => void tryIt()} disabled={formState.isSubmitting}>Try it</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>Save</Button>
      </DialogActions>
      <ConfirmDialog open={removing} title={`Remove “${connection?.name ?? ''}”?`} text="Its settings and its secret are forgotten. Kinds and lists that use it say so the next time they ask." action="Remove the connection" onClose={() => setRemoving(false)} onConfirm={remove} />
    </Dialog>
  );
}
