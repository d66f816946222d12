'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Controller, useForm, useWatch, type Control } from 'react-hook-form';
import type { ConnectionView, ListView } from '@/contracts/api';
import type { Offers } from '@/contracts/reading-service';
import type { RememberedView } from '@/contracts/workbench';
import type { KindDefinition } from '@/core/reading/kind';
import { CLEAN_UP_STEPS, type CleanUpStep } from '@/core/reading/outside';
import { ask } from '../api';
import { FormField } from '../frame/FormField';
import { useNotices } from '../frame/Notices';
import { applied, valuesOf, type KindValues } from './kind-values';

const CLEAN_UP_NAMES: Readonly<Record<CleanUpStep, string>> = { orientation: 'Turn it upright', contrast: 'Even out the light', despeckle: 'Take specks away', deskew: 'Straighten it' };

/** What belongs to a kind as a whole: its name, how it is told from others, the list it is bound to, the service it may ask. */
export function KindDialog({ kind, onClose, onKeep }: { readonly kind: KindDefinition; readonly onClose: () => void; readonly onKeep: (kind: KindDefinition) => Promise<unknown> }) {
  const { control, handleSubmit, formState } = useForm<KindValues>({ defaultValues: valuesOf(kind) });
  const { data: lists } = useQuery({ queryKey: ['lists'], queryFn: () => ask<ListView[]>('/lists') });
  const { data: connections } = useQuery({ queryKey: ['connections'], queryFn: () => ask<ConnectionView[]>('/connections') });
  const services = (connections ?? []).filter((connection) => connection.connector === 'reading-service');
  const keep = handleSubmit(async (values) => {
    const offers = services.find((connection) => connection.key === values.service)?.offers as Offers | null | undefined;
    if ((await onKeep(applied(kind, values, offers ?? null))) !== null) onClose();
  });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void keep(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>Settings of “{kind.name}”</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important', alignContent: 'start' }}>
        <FormField control={control} name="name" label="Name" required />
        <FormField control={control} name="description" label="What it is" />
        <Part title="Told from other kinds" about="Samples tell most of it; these help. Several with commas between them." />
        <FormField control={control} name="senders" label="Senders" help="Parts of addresses, as in @merrow.example." />
        <FormField control={control} name="words" label="Stands on it" />
        <FormField control={control} name="never" label="Never stands on it" />
        <Flag control={control} name="data" label="E-invoices are of this kind" />
        <ListPart control={control} kind={kind} lists={(lists ?? []).filter((list) => list.keyColumn !== null)} />
        <ServicePart control={control} kind={kind} services={services} />
        <Part title="Pictures are cleaned before they are read" about="Each step helps on most papers; switch one off where it does harm. Counts for pages read from now on." />
        <Box sx={{ gridColumn: '1 / -1', display: 'flex', gap: 2, flexWrap: 'wrap' }}>{CLEAN_UP_STEPS.map((step) => <Flag key={step} control={control} name={`clean.${step}`} label={CLEAN_UP_NAMES[step]} />)}</Box>
        <Answers kind={kind} />
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>Keep</Button>
      </DialogActions>
    </Dialog>
  );
}

function Part({ title, about, children }: { readonly title: string; readonly about: string; readonly children?: ReactNode }) {
  return <Box sx={{ gridColumn: '1 / -1', borderTop: 1, borderColor: 'divider', pt: 1.5, mt: 0.5 }}><Box component="h2" sx={{ typography: 'h2', m: 0 }}>{title}</Box><Box sx={{ color: 'text.secondary', fontSize: 13 }}>{about}</Box>{children}</Box>;
}

function Flag({ control, name, label }: { readonly control: Control<KindValues>; readonly name: 'data' | `clean.${CleanUpStep}`; readonly label: string }) {
  return <Controller control={control} name={name} render={({ field }) => <FormControlLabel control={<Checkbox checked={field.value === true} onChange={(event) => field.onChange(event.target.checked)} />} label={label} />} />;
}

const NONE = { '': 'none' };

/** Which list says more about a document than stands on it. */
function ListPart({ control, kind, lists }: { readonly control: Control<KindValues>; readonly kind: KindDefinition; readonly lists: readonly ListView[] }) {
  const chosen = useWatch({ control, name: 'list' });
  const list = lists.find((candidate) => candidate.key === chosen);
  const columns = Object.fromEntries((list?.columns ?? []).filter((column) => column.name !== list?.keyColumn).map((column) => [column.name, column.name]));
  const others = kind.fields.filter((field) => field.type !== 'money' && field.type !== 'date');
  return (
    <>
      <Part title="Bound to a list" about="The row whose key stands on the page is found, whatever else the page says; its other columns fill fields." />
      <FormField control={control} name="list" label="List" options={{ ...NONE, ...Object.fromEntries(lists.map((candidate) => [candidate.key, candidate.name])) }} />
      {list && <FormField control={control} name="listField" label={`Field that takes ${list.keyColumn ?? 'the key'}`} required options={Object.fromEntries(others.map((field) => [field.key, field.label]))} />}
      {list && others.map((field) => <FormField key={field.key} control={control} name={`fill.${field.key}`} label={`${field.label} is`} options={{ '': 'as on the page', ...columns }} />)}
    </>
  );
}

/** Which service is asked when free readers did not find enough, and what it calls our fields. */
function ServicePart({ control, kind, services }: { readonly control: Control<KindValues>; readonly kind: KindDefinition; readonly services: readonly ConnectionView[] }) {
  const chosen = useWatch({ control, name: 'service' });
  const offers = services.find((connection) => connection.key === chosen)?.offers as Offers | null | undefined;
  const names = { '': 'nothing', ...Object.fromEntries((offers?.fields ?? []).map((name) => [name, name])) };
  return (
    <>
      <Part title="A service may be asked" about="Only where a required value is missing or a value is not sure enough. A sounding compares what its tiers cost and buy." />
      <FormField control={control} name="service" label="Service" options={{ ...NONE, ...Object.fromEntries(services.map((connection) => [connection.key, connection.name])) }} />
      {offers && <FormField control={control} name="tier" label="Tier" required options={Object.fromEntries(offers.tiers.map((tier) => [tier.name, `${tier.name}, ${tier.pricePerPage} ${offers.currency} a page`]))} />}
      {offers && kind.fields.map((field) => <FormField key={field.key} control={control} name={`asks.${field.key}`} label={`${field.label} is its`} options={names} />)}
    </>
  );
}

/** Answers that were given once and are applied since; each can be undone. */
function Answers({ kind }: { readonly kind: KindDefinition }) {
  const { data: answers } = useQuery({ queryKey: ['remembered', kind.key], queryFn: () => ask<RememberedView[]>(`/kinds/${kind.key}/remembered`) });
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  if (!answers || answers.length === 0) return null;
  const label = (key: string): string => kind.fields.find((field) => field.key === key)?.label ?? key;
  const forget = (id: string) => void ask(`/remembered/${id}`, { method: 'DELETE' }).then(() => { tell('Forgotten.'); return client.invalidateQueries({ queryKey: ['remembered', kind.key] }); }, warn);
  return (
    <Part title="Remembered answers" about="Given at the desk after a correction.">
      <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0, mt: 1 }}>
        {answers.map((answer) => (
          <Box component="li" key={answer.id} sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}>
            <Box sx={{ flex: 1 }}>{answer.always ? <>Always {label(answer.field).toLowerCase()} <b>{answer.value}</b></> : <>Not always {label(answer.field).toLowerCase()} {answer.value}</>} when {label(answer.whenField).toLowerCase()} is {answer.whenValue} <Box component="span" sx={{ color: 'text.secondary' }}>({answer.answeredBy})</Box></Box>
            <Button onClick={() => forget(answer.id)}>Undo</Button>
          </Box>
        ))}
      </Box>
    </Part>
  );
}
