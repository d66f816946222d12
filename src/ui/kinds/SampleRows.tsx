'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import type { TableDefinition } from '@/core/reading/kind';
import { NOTHING_READ } from '@/core/reading/reading';
import type { LocaleHints } from '@/core/value/normalise';
import { ValueInput } from '../desk/ValueInput';
import { isFigure } from '../page/ReadingsTable';
import { standingRows, type Column } from './useWorkbench';

type TruthRow = Readonly<Record<string, string | null>>;

/** The rows of a table of one sample, to be corrected, added and taken away. */
export function SampleRows({ table, column, locale, onKeep }: { readonly table: TableDefinition; readonly column: Column; readonly locale: LocaleHints; readonly onKeep: (rows: readonly TruthRow[]) => void }) {
  const { rows } = standingRows(column, table.key);
  const grid = { display: 'grid', gridTemplateColumns: `24px ${table.columns.map((cell) => (cell.type === 'text' && cell.key !== 'unit' ? 'minmax(100px, 1fr)' : '78px')).join(' ')} 28px`, alignItems: 'center' } as const;
  const put = (row: number, key: string, value: string | null) => onKeep(rows.map((cells, index) => (index === row ? { ...cells, [key]: value } : cells)));
  return (
    <Box role="group" aria-label={table.label} sx={{ maxHeight: 230, overflow: 'auto', border: 1, borderColor: 'divider' }}>
      <Box sx={{ ...grid, color: 'text.secondary', fontSize: 12, fontWeight: 600, position: 'sticky', top: 0, bgcolor: 'background.default', zIndex: 1 }}><Box />{table.columns.map((cell) => <Box key={cell.key} sx={{ px: 0.75, py: 0.5, textAlign: isFigure(cell) ? 'right' : 'left' }}>{cell.label}</Box>)}<Box /></Box>
      {rows.map((cells, row) => (
        <Box key={row} sx={{ ...grid, borderTop: 1, borderColor: 'divider' }}>
          <Box sx={{ textAlign: 'center', color: 'text.secondary', fontSize: 12 }}>{row + 1}</Box>
          {table.columns.map((cell) => <Box key={cell.key} sx={{ borderLeft: 1, borderColor: 'divider' }}><ValueInput compact field={cell} reading={{ ...NOTHING_READ, text: cells[cell.key] ?? '', value: cells[cell.key] ?? null }} locale={locale} label={`${cell.label}, row ${row + 1}`} onCommit={(next) => put(row, cell.key, next.text === '' ? null : (next.value ?? next.text))} /></Box>)}
          <IconButton size="small" aria-label={`Take row ${row + 1} away`} onClick={() => onKeep(rows.filter((_, index) => index !== row))}><Close sx={{ fontSize: 14 }} /></IconButton>
        </Box>
      ))}
      <Button onClick={() => onKeep([...rows, Object.fromEntries(table.columns.map((cell) => [cell.key, null]))])}>Add a row</Button>
    </Box>
  );
}
