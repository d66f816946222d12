'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useState } from 'react';
import { useForm, useWatch, type Control } from 'react-hook-form';
import type { PipelineView, SourceView } from '@/contracts/api';
import { keyFrom } from '@/core/definition/keys';
import { nextTimes, scheduleProblem, scheduleWords, type Schedule } from '@/core/schedule/schedule';
import { ask, post } from '../api';
import { without } from '../member';
import { FormField } from '../frame/FormField';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';

type Values = Record<'key' | 'name' | 'connector' | 'pipeline' | 'host' | 'port' | 'secure' | 'user' | 'secret' | 'folder' | 'after' | 'moveTo' | 'path' | 'doneFolder' | 'bodies' | 'several' | 'looks' | 'cron' | 'zone' | 'missed', string>;

const FRESH: Values = { key: '', name: '', connector: 'mailbox', pipeline: '', host: '', port: '993', secure: 'yes', user: '', secret: '', folder: 'INBOX', bodies: 'report', several: 'each', after: 'mark as read', moveTo: 'Taken', path: '', doneFolder: 'taken', looks: 'always', cron: '30 7 * * 1-5', zone: Intl.DateTimeFormat().resolvedOptions().timeZone, missed: 'catch up' };

function valuesOf(source: SourceView): Values {
  const { schedule, ...own } = source.settings as { schedule?: Schedule };
  const settings = Object.fromEntries(Object.entries(own).map(([name, value]) => [name, typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)]));
  return { ...FRESH, ...settings, ...(schedule ? { looks: 'times', cron: schedule.cron, zone: schedule.zone, missed: schedule.missed } : {}), key: source.key, name: source.name, connector: source.connector, pipeline: source.pipeline, secret: '' };
}

function bodyOf(values: Values, before: SourceView | null) {
  const kept = before?.connector === values.connector ? without(before.settings as { schedule?: unknown }, 'schedule') : {};
  const schedule = values.looks === 'times' ? { schedule: { cron: values.cron.trim(), zone: values.zone, missed: values.missed } } : {};
  const mailbox = { host: values.host, port: Number(values.port), secure: values.secure === 'yes', user: values.user, folder: values.folder, bodies: values.bodies, several: values.several, after: values.after, moveTo: values.moveTo };
  return { name: values.name, connector: values.connector, pipeline: values.pipeline, secret: values.secret === '' ? null : values.secret, enabled: before?.enabled ?? true, settings: { ...kept, ...(values.connector === 'mailbox' ? mailbox : { path: values.path, doneFolder: values.doneFolder }), ...schedule } };
}


/** Add or change a mailbox or folder; "Try it" looks without saving. */
export function SourceForm({ source, onClose }: { readonly source: SourceView | null; readonly onClose: () => void }) {
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const { control, handleSubmit, formState } = useForm<Values>({ defaultValues: source ? valuesOf(source) : { ...FRESH, pipeline: pipelines?.[0]?.key ?? '' } });
  const [found, setFound] = useState<{ text: string; wrong: boolean } | null>(null);
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const [connector, after] = useWatch({ control, name: ['connector', 'after'] });
  const isMailbox = connector === 'mailbox';
  const address = (values: Values) => `/sources/${source?.key ?? keyFrom(values.name, 'source')}`;
  const tryIt = handleSubmit((values) => post<{ found: string }>(`${address(values)}/try`, bodyOf(values, source)).then(({ found: text }) => setFound({ text, wrong: false }), (error: Error) => setFound({ text: error.message, wrong: true })));
  const save = handleSubmit(async (values) => {
    try {
      await ask(address(values), { method: 'PUT', body: bodyOf(values, source) });
      tell(`“${values.name}” is watched within seconds.`);
      await client.invalidateQueries({ queryKey: ['sources'] });
      onClose();
    } catch (error) {
      warn(error);
    }
  });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void save(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>{source ? `Change “${source.name}”` : 'Add a mailbox or folder'}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important' }}>
        <FormField control={control} name="name" label="Name" required wide />
        <FormField control={control} name="connector" label="What" options={{ mailbox: 'Mailbox (IMAP)', folder: 'Watched folder' }} disabled={source !== null} />
        <FormField control={control} name="pipeline" label="Pipeline it feeds" required options={Object.fromEntries((pipelines ?? []).filter(({ version }) => version !== null).map((pipeline) => [pipeline.key, pipeline.name]))} />
        {isMailbox ? <MailboxFields control={control} hasSecret={source !== null} moves={after === 'move'} /> : <FolderFields control={control} />}
        <ScheduleFields control={control} />
        {found && <Box role={found.wrong ? 'alert' : 'status'} sx={{ gridColumn: '1 / -1', borderLeft: 4, borderColor: found.wrong ? 'chart.signal' : 'chart.middle', pl: 1.5, py: 0.5 }}>{found.text}</Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {source && <Remove source={source} onGone={onClose} />}
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button variant="outlined" onClick={() => void tryIt()} disabled={formState.isSubmitting}>Try it</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>Save</Button>
      </DialogActions>
    </Dialog>
  );
}

function MailboxFields({ control, hasSecret, moves }: { readonly control: Control<Values>; readonly hasSecret: boolean; readonly moves: boolean }) {
  return (
    <>
      <FormField control={control} name="host" label="Mail server" required />
      <FormField control={control} name="port" label="Port" required />
      <FormField control={control} name="user" label="User" required />
      <FormField control={control} name="secret" label={hasSecret ? 'Password (empty: as it is)' : 'Password'} type="password" />
      <FormField control={control} name="secure" label="Encrypted from the start" options={{ yes: 'Yes', no: 'No' }} />
      <FormField control={control} name="folder" label="Folder" required />
      <FormField control={control} name="bodies" label="Mails without attachment" options={{ report: 'are reported', read: 'are read themselves' }} />
      <FormField control={control} name="several" label="Several attachments" options={{ each: 'are a document each', first: 'only the first is one', all: 'are one document together' }} />
      <FormField control={control} name="after" label="Taken mails are" options={{ 'mark as read': 'marked as read', move: 'moved' }} />
      {moves && <FormField control={control} name="moveTo" label="Moved to" required />}
    </>
  );
}

/** All the time, or at set times: what it means in words, and when it is next. */
function ScheduleFields({ control }: { readonly control: Control<Values> }) {
  const [looks, cron, zone] = useWatch({ control, name: ['looks', 'cron', 'zone'] });
  const [openedMs] = useState(() => dayjs().valueOf());
  const problem = looks === 'times' ? scheduleProblem({ cron, zone }) : null;
  return (
    <>
      <FormField control={control} name="looks" label="It is looked at" options={{ always: 'all the time', times: 'at set times' }} wide />
      {looks === 'times' && (
        <>
          <FormField control={control} name="cron" label="Times (minute hour day month weekday)" required />
          <FormField control={control} name="zone" label="Time zone" required />
          <FormField control={control} name="missed" label="A time that was missed" options={{ 'catch up': 'is made up for', skip: 'is passed over' }} />
          <Box role="status" sx={{ fontSize: 13, color: problem ? 'chart.signal' : 'text.secondary', alignSelf: 'center' }}>{problem ?? <>{scheduleWords({ cron })}; next {nextTimes({ cron, zone }, openedMs, 3).map((ms) => dayjs(ms).format('ddd D MMM HH:mm')).join(', ')}</>}</Box>
        </>
      )}
    </>
  );
}

function FolderFields({ control }: { readonly control: Control<Values> }) {
  return (
    <>
      <FormField control={control} name="path" label="Folder on the machine of the worker" required wide />
      <FormField control={control} name="doneFolder" label="Subfolder for taken files" required wide />
    </>
  );
}

function Remove({ source, onGone }: { readonly source: SourceView; readonly onGone: () => void }) {
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const remove = () => ask(`/sources/${source.key}`, { method: 'DELETE' }).then(async () => { tell(`“${source.name}” is no longer watched.`); await client.invalidateQueries({ queryKey: ['sources'] }); onGone(); }, warn);
  return (
    <>
      <Button onClick={() => setAsking(true)}>Remove</Button>
      <ReasonDialog open={asking} optional title={`Stop watching “${source.name}”?`} text="Its settings and its password are forgotten. Documents that came from it stay, and nothing is deleted at the source." label="Note (may be empty)" action="Remove" onClose={() => setAsking(false)} onGive={remove} />
    </>
  );
}
