'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { DEFAULT_THRESHOLD, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import { freeFieldKey } from '@/core/teaching/propose';
import { VALUE_TYPES, type ValueType } from '@/core/value/normalise';
import { ReadersEditor, tidied, waysOf, withWays } from './ReadersEditor';

/** Which values are read by two readers that know nothing of each other. */
const CROSS_NAMES = { pictures: 'from pictures', always: 'always', never: 'never' } as const;

interface Values {
  readonly label: string;
  readonly type: ValueType;
  readonly required: boolean;
  readonly description: string;
  readonly synonyms: string;
  readonly options: string;
  readonly threshold: string;
  readonly cross: keyof typeof CROSS_NAMES;
}

const TYPE_NAMES: Readonly<Record<ValueType, string>> = { text: 'Text', number: 'Number', money: 'Money', date: 'Date', identifier: 'Identifier', choice: 'Choice', 'yes-no': 'Yes or no' };
const list = (text: string): string[] => text.split(',').map((part) => part.trim()).filter(Boolean);

/** What a field is and how it is found. Its key stays when it is renamed, so nothing that refers to it breaks. */
export function FieldDialog({ kind, field, onClose, onKeep }: { readonly kind: KindDefinition; readonly field: FieldDefinition | null; readonly onClose: () => void; readonly onKeep: (kind: KindDefinition) => Promise<unknown> }) {
  const { control, register, handleSubmit, formState } = useForm<Values>({ defaultValues: { label: field?.label ?? '', type: field?.type ?? 'text', required: field?.required ?? false, description: field?.description ?? '', synonyms: field?.synonyms?.join(', ') ?? '', options: field?.options?.join(', ') ?? '', threshold: String(Math.round((field?.threshold ?? DEFAULT_THRESHOLD) * 100)), cross: field?.cross === undefined ? 'pictures' : field.cross ? 'always' : 'never' } });
  const [ways, setWays] = useState(() => waysOf(kind, field?.key));
  const type = useWatch({ control, name: 'type' });
  const keep = handleSubmit(async (values) => {
    const next = fieldFrom(values, field, field?.key ?? freeFieldKey(values.label, kind.fields.map((other) => other.key)));
    const fields = field ? kind.fields.map((other) => (other.key === field.key ? next : other)) : [...kind.fields, next];
    if ((await onKeep(withWays({ ...kind, fields }, next.key, tidied(ways)))) !== null) onClose();
  });
  const remove = async () => {
    if (!field) return;
    const without = { ...kind, fields: kind.fields.filter((other) => other.key !== field.key), layouts: kind.layouts.map((layout) => ({ ...layout, fields: Object.fromEntries(Object.entries(layout.fields).filter(([key]) => key !== field.key)) })), checks: kind.checks.filter((check) => !JSON.stringify(check).includes(`"${field.key}"`)) };
    if ((await onKeep(without)) !== null) onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void keep(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>{field ? `Field “${field.label}”` : 'New field'}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, pt: '8px !important' }}>
        <TextField autoFocus label="Name" {...register('label', { required: 'A field needs a name.', maxLength: 200 })} error={Boolean(formState.errors.label)} helperText={formState.errors.label?.message} />
        <Controller control={control} name="type" render={({ field: input }) => <TextField {...input} select label="Type">{VALUE_TYPES.map((value) => <MenuItem key={value} value={value}>{TYPE_NAMES[value]}</MenuItem>)}</TextField>} />
        <TextField sx={{ gridColumn: '1 / -1' }} multiline maxRows={3} label="What it is, in a sentence" helperText="People see it, and it is read from it before anything is taught." {...register('description', { maxLength: 400 })} />
        <TextField sx={{ gridColumn: '1 / -1' }} label="Also printed as" placeholder="Doc no., Our number" helperText="Other names on papers, with commas between them." {...register('synonyms')} />
        {type === 'choice' && <TextField sx={{ gridColumn: '1 / -1' }} label="Choices" placeholder="cash, card" {...register('options')} />}
        <TextField type="number" label="Somebody looks below" helperText="Confidence from 0 to 100. A sounding can set it." {...register('threshold', { min: { value: 0, message: 'From 0 to 100.' }, max: { value: 100, message: 'From 0 to 100.' } })} error={Boolean(formState.errors.threshold)} />
        <Controller control={control} name="required" render={({ field: input }) => <FormControlLabel control={<Checkbox checked={input.value} onChange={input.onChange} />} label="Must be there" />} />
        <Controller control={control} name="cross" render={({ field: input }) => <TextField {...input} select label="Read twice" helperText="Two readings that differ send it to the desk.">{Object.entries(CROSS_NAMES).map(([value, text]) => <MenuItem key={value} value={value}>{text}</MenuItem>)}</TextField>} />
        {field && <Box sx={{ gridColumn: '1 / -1', borderTop: 1, borderColor: 'divider', pt: 1.5 }}><Box sx={{ typography: 'h2', mb: 0.5 }}>How it is found</Box><ReadersEditor kind={kind} ways={ways} onChange={setWays} /></Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {field && <Button onClick={() => void remove()}>Remove the field</Button>}
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>Keep</Button>
      </DialogActions>
    </Dialog>
  );
}

function fieldFrom(values: Values, before: FieldDefinition | null, key: string): FieldDefinition {
  const threshold = Number(values.threshold) / 100;
  const [synonyms, options] = [list(values.synonyms), list(values.options)];
  return {
    key, label: values.label.trim(), type: values.type,
    ...(values.required ? { required: true } : {}),
    ...(values.description.trim() === '' ? {} : { description: values.description.trim() }),
    ...(synonyms.length > 0 ? { synonyms } : {}),
    ...(values.type === 'choice' && options.length > 0 ? { options } : {}),
    ...(threshold === DEFAULT_THRESHOLD ? {} : { threshold }),
    ...(before?.unsigned ? { unsigned: true } : {}),
    ...(values.cross === 'pictures' ? {} : { cross: values.cross === 'always' }),
  };
}
