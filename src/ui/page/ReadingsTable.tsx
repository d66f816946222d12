'use client';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { thresholdOf, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import { cellPath, type Reading, type Readings } from '@/core/reading/reading';
import { shownAmount } from '@/core/value/amount';
import { Gauge } from '../tally/Gauge';
import { VALUE_FACE } from '../theme';

/** A value as people read it: amounts grouped, everything else as it is kept. */
export const shownValue = (field: FieldDefinition, value: string | null): string => (value === null ? '–' : field.type === 'money' ? shownAmount(value) : value);
export const isFigure = (field: FieldDefinition): boolean => field.type === 'money' || field.type === 'number';

/** Figures and identifiers are compared letter by letter; text is read. */
const faceOf = (field: FieldDefinition): string | undefined => (field.type === 'text' ? undefined : VALUE_FACE);

/** Everything read of a document, field by field and row by row. Choosing a value shows it on the page. */
export function ReadingsTable({ kind, readings, active, onChoose }: { readonly kind: KindDefinition; readonly readings: Readings; readonly active: string | null; readonly onChoose: (path: string) => void }) {
  return (
    <Box>
      <Table size="small" aria-label="Fields">
        <TableBody>
          {kind.fields.map((field) => {
            const reading = readings.fields[field.key];
            return (
              <TableRow key={field.key} hover selected={active === field.key} onClick={() => onChoose(field.key)} sx={{ cursor: 'pointer' }}>
                <TableCell sx={{ color: 'text.secondary', width: 150 }}>{field.label}</TableCell>
                <TableCell sx={{ fontFamily: faceOf(field) }}>{shownValue(field, reading?.value ?? null)}</TableCell>
                <TableCell sx={{ width: 150, color: 'text.secondary', fontSize: 12.5 }}>{reading && <How reading={reading} field={field} />}</TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      {kind.tables.map((table) => (
        <Box key={table.key} sx={{ mt: 2, overflowX: 'auto' }}>
          <Box sx={{ typography: 'h2', px: 1, pb: 0.5 }}>{table.label}, {readings.tables[table.key]?.length ?? 0} rows</Box>
          <Table size="small" aria-label={table.label}>
            <TableHead><TableRow>{table.columns.map((column) => <TableCell key={column.key} align={isFigure(column) ? 'right' : 'left'}>{column.label}</TableCell>)}</TableRow></TableHead>
            <TableBody>
              {(readings.tables[table.key] ?? []).map((row, index) => (
                <TableRow key={index}>
                  {table.columns.map((column) => {
                    const path = cellPath(table.key, index, column.key);
                    return <TableCell key={column.key} align={isFigure(column) ? 'right' : 'left'} onClick={() => onChoose(path)} sx={{ fontFamily: faceOf(column), fontSize: 12.5, cursor: 'pointer', bgcolor: active === path ? 'chart.shallow' : undefined }}>{shownValue(column, row[column.key]?.value ?? null)}</TableCell>;
                  })}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      ))}
    </Box>
  );
}

function How({ reading, field }: { readonly reading: Reading; readonly field: FieldDefinition }) {
  if (reading.reader === 'none') return <>not there</>;
  if (reading.reader === 'person') return <>by a person</>;
  return (
    <Box component="span" sx={{ display: 'inline-flex', gap: 1, alignItems: 'center' }}>
      <Gauge confidence={reading.confidence} threshold={thresholdOf(field)} evidence={reading.evidence} />
      by {reading.reader}
    </Box>
  );
}
