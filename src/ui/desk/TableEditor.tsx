'use client';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { TableDefinition } from '@/core/reading/kind';
import { withoutRow, withRow } from '@/core/reading/edit';
import { cellPath } from '@/core/reading/reading';
import { isFigure } from '../page/ReadingsTable';
import type { ReviewWork } from './useReview';
import { ValueInput } from './ValueInput';

/** The rows of a table, to be corrected, added and taken away. Amounts follow quantity and price. */
export function TableEditor({ table, work }: { readonly table: TableDefinition; readonly work: ReviewWork }) {
  const rows = work.readings.tables[table.key] ?? [];
  const doubtful = new Set(work.open.map((doubt) => doubt.path));
  const columns = table.columns.map((column) => (column.type === 'text' && column.key !== 'unit' ? 'minmax(120px, 1fr)' : column.type === 'text' ? '64px' : '84px')).join(' ');
  const grid = { display: 'grid', gridTemplateColumns: `26px ${columns} 30px`, alignItems: 'center' } as const;
  const focusBelow = (row: number, column: string) => document.querySelector<HTMLInputElement>(`[data-cell="${cellPath(table.key, row + 1, column)}"] input`)?.focus();
  const cell = (row: number, columnIndex: number) => {
    const column = table.columns[columnIndex];
    if (!column) return null;
    const path = cellPath(table.key, row, column.key);
    return (
      <Box key={column.key} data-cell={path} sx={{ borderLeft: 1, borderColor: 'divider', bgcolor: work.active === path ? 'chart.shallow' : undefined, boxShadow: doubtful.has(path) ? (t) => `inset 0 -2px 0 ${t.vars?.palette.chart.signal ?? ''}` : 'none' }}>
        <ValueInput compact field={column} reading={rows[row]?.[column.key] ?? null} locale={work.locale} label={`${column.label}, row ${row + 1}`} onCommit={(next) => work.put(path, next)} onFocus={() => work.setActive(path)} onEnter={() => focusBelow(row, column.key)} />
      </Box>
    );
  };
  return (
    <Box role="group" aria-label={table.label}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0, flex: 1 }}>{table.label}, {rows.length} {rows.length === 1 ? 'row' : 'rows'}</Box>
        <Button startIcon={<Add />} onClick={() => work.setReadings(withRow(work.readings, table, rows.length))}>Add a row</Button>
      </Box>
      <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
        <Box sx={{ ...grid, color: 'text.secondary', fontSize: 12, fontWeight: 600 }}>
          <Box />
          {table.columns.map((column) => <Box key={column.key} sx={{ px: 0.75, py: 0.5, textAlign: isFigure(column) ? 'right' : 'left' }}>{column.label}</Box>)}
        </Box>
        {rows.map((_, row) => (
          <Box key={row} sx={{ ...grid, borderTop: 1, borderColor: 'divider' }}>
            <Box sx={{ textAlign: 'center', color: 'text.secondary', fontSize: 12 }}>{row + 1}</Box>
            {table.columns.map((_column, index) => cell(row, index))}
            <Tooltip title={`Take row ${row + 1} away`}><IconButton aria-label={`Take row ${row + 1} away`} tabIndex={-1} onClick={() => work.setReadings(withoutRow(work.readings, table.key, row))}><Close sx={{ fontSize: 16 }} /></IconButton></Tooltip>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
