'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { ConnectionView, ListView } from '@/contracts/api';
import { keyFrom } from '@/core/definition/keys';
import { ask, queryOf } from '../api';
import { FormField } from '../frame/FormField';
import { useNotices } from '../frame/Notices';

interface Values {
  name: string;
  description: string;
  keyColumn: string;
  from: 'file' | 'query';
  connection: string;
  query: string;
  every: string;
}

const FRESH: Values = { name: '', description: '', keyColumn: '', from: 'file', connection: '', query: 'SELECT account, holder FROM accounts', every: '' };

/** Reference data from a file or from a database. What does not fit is told row by row, and nothing is kept then. */
export function NewList({ lists, onClose }: { readonly lists: readonly ListView[]; readonly onClose: () => void }) {
  const { control, handleSubmit, formState, setValue, getValues } = useForm<Values>({ defaultValues: FRESH });
  const from = useWatch({ control, name: 'from' });
  const [file, setFile] = useState<File | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { data: connections } = useQuery({ queryKey: ['connections'], queryFn: () => ask<ConnectionView[]>('/connections') });
  const databases = (connections ?? []).filter((connection) => connection.connector === 'database');
  const client = useQueryClient();
  const router = useRouter();
  const { tell } = useNotices();
  const choose = (chosen: File | undefined) => {
    if (!chosen) return;
    setFile(chosen);
    if (getValues('name') === '') setValue('name', chosen.name.replace(/\.[^.]+$/, '').replace(/[-_]+/g, ' '));
  };
  const save = handleSubmit(async (values) => {
    setTrouble(null);
    const key = keyFrom(values.name, 'list');
    if (lists.some((list) => list.key === key)) return setTrouble(`There is a list “${values.name}” already. Open it to replace its rows, or choose another name.`);
    try {
      const { rows } = await send(key, values, file);
      tell(`${values.name}: ${rows.toLocaleString('en')} rows.`);
      await client.invalidateQueries({ queryKey: ['lists'] });
      router.push(`/lists/${key}`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void save(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>New list of reference data</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important' }}>
        <FormField control={control} name="from" label="Its rows come from" options={{ file: 'a file (CSV, workbook)', query: 'a database' }} />
        <FormField control={control} name="name" label="Name" required />
        {from === 'file' ? (
          <Box sx={{ gridColumn: '1 / -1', display: 'flex', gap: 1.5, alignItems: 'center', border: 1, borderStyle: 'dashed', borderColor: 'divider', p: 1.5 }} onDragOver={(event) => event.preventDefault()} onDrop={(event) => { event.preventDefault(); choose(event.dataTransfer.files[0]); }}>
            <Button component="label" variant="outlined">Choose a file<input type="file" hidden accept=".csv,.txt,.xlsx" onChange={(event) => choose(event.target.files?.[0])} /></Button>
            <Box sx={{ color: file ? 'text.primary' : 'text.secondary' }}>{file ? file.name : 'or drop it here. Its first row holds the names of the columns.'}</Box>
          </Box>
        ) : (
          <>
            <FormField control={control} name="connection" label="Connection" required options={Object.fromEntries(databases.map((connection) => [connection.key, connection.name]))} help={databases.length === 0 ? 'There is no database yet; add one under Connections.' : 'Its password is kept there, sealed.'} />
            <FormField control={control} name="every" label="Again every … minutes" help="Empty: only when asked for." />
            <FormField control={control} name="query" label="Query (SQL, read-only)" required wide lines={3} />
          </>
        )}
        <FormField control={control} name="keyColumn" label="Column that tells rows apart" help="Empty: the first that can." />
        <FormField control={control} name="description" label="What it is" />
        {trouble && <Alert severity="error" variant="outlined" icon={false} sx={{ gridColumn: '1 / -1', whiteSpace: 'pre-line', color: 'chart.signal', borderColor: 'chart.signal' }}>{trouble}</Alert>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting || (from === 'file' && file === null)}>{formState.isSubmitting ? 'Reading …' : 'Make the list'}</Button>
      </DialogActions>
    </Dialog>
  );
}

function send(key: string, { name, description, keyColumn, from, connection, query, every }: Values, file: File | null): Promise<{ rows: number }> {
  const about = { name, description, ...(keyColumn.trim() === '' ? {} : { keyColumn: keyColumn.trim() }) };
  if (from === 'query') return ask(`/lists/${key}/query`, { method: 'PUT', body: { ...about, connection, query, every: every.trim() === '' ? null : Number(every) } });
  const form = new FormData();
  if (file) form.append('file', file);
  return ask(`/lists/${key}/file${queryOf(about)}`, { method: 'PUT', form });
}
