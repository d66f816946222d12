'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { AnswerField } from '@/core/pipeline/definition';

/** A small form; Enter in the last field answers. */
export function FormAnswers({ answers, onAnswer }: { readonly answers: readonly AnswerField[]; readonly onAnswer: (values: Record<string, string>) => void }) {
  const [values, setValues] = useState<Record<string, string>>({});
  const missing = answers.filter((field) => field.required && !values[field.key]?.trim());
  return (
    <Box component="form" onSubmit={(event) => { event.preventDefault(); if (missing.length === 0) onAnswer(values); }} sx={{ display: 'grid', gap: 1.5 }}>
      {answers.map((field, index) => <AnswerInput key={field.key} field={field} autoFocus={index === 0} value={values[field.key] ?? ''} onChange={(value) => setValues({ ...values, [field.key]: value })} />)}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button type="submit" variant="contained" disabled={missing.length > 0}>Answer</Button>
        {missing.length > 0 && <Box sx={{ color: 'text.secondary', fontSize: 13 }}>Still needed: {missing.map((field) => field.label).join(', ')}</Box>}
      </Box>
    </Box>
  );
}

function AnswerInput({ field, value, autoFocus, onChange }: { readonly field: AnswerField; readonly value: string; readonly autoFocus: boolean; readonly onChange: (value: string) => void }) {
  const options = field.type === 'choice' ? (field.options ?? []) : field.type === 'yes-no' ? ['yes', 'no'] : null;
  const label = field.required ? field.label : `${field.label} (may stay empty)`;
  const shared = { label, value, autoFocus, size: 'small', fullWidth: true, onChange: (event: { target: { value: string } }) => onChange(event.target.value) } as const;
  if (options) return <TextField {...shared} select>{options.map((option) => <MenuItem key={option} value={option}>{option}</MenuItem>)}</TextField>;
  return <TextField {...shared} {...(field.type === 'date' ? { type: 'date', slotProps: { inputLabel: { shrink: true } } } : field.type === 'number' || field.type === 'money' ? { slotProps: { htmlInput: { inputMode: 'decimal' } } } : {})} />;
}
