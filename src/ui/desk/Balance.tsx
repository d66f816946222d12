'use client';
import Box from '@mui/material/Box';
import Decimal from 'decimal.js';
import type { KindDefinition, ReconcileCheck } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import { decimalOf, plainAmount, shownAmount } from '@/core/value/amount';
import { VALUE_FACE } from '../theme';

const shown = (amount: Decimal): string => shownAmount(plainAmount(amount, 2));

/** How the parts come to the total, and what is missing; kept up while values change. */
export function Balance({ kind, readings }: { readonly kind: KindDefinition; readonly readings: Readings }) {
  const check = kind.checks.find((candidate): candidate is ReconcileCheck => candidate.check === 'reconcile');
  if (!check) return null;
  const label = (key: string) => kind.fields.find((field) => field.key === key)?.label ?? key;
  const field = (key: string) => decimalOf(readings.fields[key]?.value) ?? new Decimal(0);
  const lines = (readings.tables[check.lines.table] ?? []).reduce((sum, row) => sum.plus(decimalOf(row[check.lines.column]?.value) ?? 0), new Decimal(0));
  const parts = [{ name: kind.tables.find((table) => table.key === check.lines.table)?.label ?? '', sign: '', value: lines }, ...(check.minus ?? []).map((key) => ({ name: label(key), sign: '−', value: field(key) })), ...(check.plus ?? []).map((key) => ({ name: label(key), sign: '+', value: field(key) }))];
  const sum = parts.reduce((total, part) => (part.sign === '−' ? total.minus(part.value) : total.plus(part.value)), new Decimal(0));
  const gap = field(check.equals).minus(sum);
  const closed = gap.abs().lte(check.tolerance ?? '0.01');
  return (
    <Box aria-label="How it adds up" role="group" sx={{ display: 'grid', gridTemplateColumns: '1fr auto', rowGap: 0.25, p: 1.5, border: 1, borderColor: 'divider', bgcolor: 'background.paper', fontSize: 13, '& > :nth-of-type(even)': { pl: 2, fontFamily: VALUE_FACE, textAlign: 'right' } }}>
      {parts.filter((part) => part.sign === '' || !part.value.isZero()).flatMap((part) => [<Box key={part.name} sx={{ color: 'text.secondary' }}>{part.sign} {part.name}</Box>, <Box key={`${part.name}-value`}>{shown(part.value)}</Box>])}
      <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 0.25 }}>comes to</Box><Box sx={{ borderTop: 1, borderColor: 'divider', pt: 0.25 }}>{shown(sum)}</Box>
      <Box>{label(check.equals)} as it stands</Box><Box>{shown(field(check.equals))}</Box>
      <Box sx={{ fontWeight: 650, color: closed ? 'chart.deep' : 'chart.signal' }}>{closed ? 'It adds up' : 'Gap'}</Box><Box sx={{ fontWeight: 650, color: closed ? 'chart.deep' : 'chart.signal' }}>{shown(gap)}</Box>
    </Box>
  );
}
