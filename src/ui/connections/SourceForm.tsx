'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller, useForm, useWatch, type Control, type FieldValues } from 'react-hook-form';
import type { PipelineView, SourceView } from '@/contracts/api';
import { ask, post } from '../api';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';

type Values = Record<'key' | 'name' | 'connector' | 'pipeline' | 'host' | 'port' | 'secure' | 'user' | 'secret' | 'folder' | 'after' | 'moveTo' | 'path' | 'doneFolder', string>;

const FRESH: Values = { key: '', name: '', connector: 'mailbox', pipeline: '', host: '', port: '993', secure: 'yes', user: '', secret: '', folder: 'INBOX', after: 'mark as read', moveTo: 'Taken', path: '', doneFolder: 'taken' };

function valuesOf(source: SourceView): Values {
  const settings = Object.fromEntries(Object.entries(source.settings).map(([name, value]) => [name, typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)]));
  return { ...FRESH, ...settings, key: source.key, name: source.name, connector: source.connector, pipeline: source.pipeline, secret: '' };
}

function bodyOf(values: Values, before: SourceView | null) {
  const kept = before?.connector === values.connector ? before.settings : {};
  const mailbox = { host: values.host, port: Number(values.port), secure: values.secure === 'yes', user: values.user, folder: values.folder, after: values.after, moveTo: values.moveTo };
  return { name: values.name, connector: values.connector, pipeline: values.pipeline, secret: values.secret === '' ? null : values.secret, enabled: before?.enabled ?? true, settings: { ...kept, ...(values.connector === 'mailbox' ? mailbox : { path: values.path, doneFolder: values.doneFolder }) } };
}

const keyFrom = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^[^a-z]+|-+$/g, '').slice(0, 60) || 'source';

/** Add or change a mailbox or folder; "Try it" looks without saving. */
export function SourceForm({ source, onClose }: { readonly source: SourceView | null; readonly onClose: () => void }) {
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const { control, handleSubmit, formState } = useForm<Values>({ defaultValues: source ? valuesOf(source) : { ...FRESH, pipeline: pipelines?.[0]?.key ?? '' } });
  const [found, setFound] = useState<{ text: string; wrong: boolean } | null>(null);
  const { tell, warn } = useNotices();
  const client = useQueryClient();
  const [connector, after] = useWatch({ control, name: ['connector', 'after'] });
  const isMailbox = connector === 'mailbox';
  const address = (values: Values) => `/sources/${source?.key ?? keyFrom(values.name)}`;
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
        <Field control={control} name="name" label="Name" required wide />
        <Field control={control} name="connector" label="What" options={{ mailbox: 'Mailbox (IMAP)', folder: 'Watched folder' }} disabled={source !== null} />
        <Field control={control} name="pipeline" label="Pipeline it feeds" required options={Object.fromEntries((pipelines ?? []).map((pipeline) => [pipeline.key, pipeline.name]))} />
        {isMailbox ? <MailboxFields control={control} hasSecret={source !== null} moves={after === 'move'} /> : <FolderFields control={control} />}
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
      <Field control={control} name="host" label="Mail server" required />
      <Field control={control} name="port" label="Port" required />
      <Field control={control} name="user" label="User" required />
      <Field control={control} name="secret" label={hasSecret ? 'Password (empty: as it is)' : 'Password'} type="password" />
      <Field control={control} name="secure" label="Encrypted from the start" options={{ yes: 'Yes', no: 'No' }} />
      <Field control={control} name="folder" label="Folder" required />
      <Field control={control} name="after" label="Taken mails are" options={{ 'mark as read': 'marked as read', move: 'moved' }} />
      {moves && <Field control={control} name="moveTo" label="Moved to" required />}
    </>
  );
}

function FolderFields({ control }: { readonly control: Control<Values> }) {
  return (
    <>
      <Field control={control} name="path" label="Folder on the machine of the worker" required wide />
      <Field control={control} name="doneFolder" label="Subfolder for taken files" required wide />
    </>
  );
}

interface FieldProps {
  readonly control: Control<Values>;
  readonly name: keyof Values;
  readonly label: string;
  readonly required?: boolean;
  readonly wide?: boolean;
  readonly type?: string;
  readonly disabled?: boolean;
  readonly options?: Readonly<Record<string, string>>;
}

function Field({ control, name, label, required = false, wide = false, type, disabled = false, options }: FieldProps) {
  return (
    <Controller
      control={control as unknown as Control<FieldValues>}
      name={name}
      rules={required ? { required: `${label} is needed.` } : {}}
      render={({ field, fieldState }) => (
        <TextField {...field} label={label} disabled={disabled} error={Boolean(fieldState.error)} helperText={fieldState.error?.message} {...(type ? { type, autoComplete: 'new-password' } : {})} select={options !== undefined} sx={{ gridColumn: wide ? '1 / -1' : undefined }}>
          {options && Object.entries(options).map(([value, text]) => <MenuItem key={value} value={value}>{text}</MenuItem>)}
        </TextField>
      )}
    />
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
