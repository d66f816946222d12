'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { KindTally, KindView } from '@/contracts/api';
import { thresholdOf, type FieldDefinition, type KindDefinition, type TableDefinition } from '@/core/reading/kind';
import { cellPath, readingAt } from '@/core/reading/reading';
import { ask } from '../api';
import { Moment } from '../frame/Moment';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { DefinitionText } from '../tally/DefinitionText';
import { Gauge } from '../tally/Gauge';
import { VALUE_FACE } from '../theme';
import { isFigure, shownValue } from '../page/ReadingsTable';
import { checkText, readersText } from './words';

type Documents = KindTally['documents'];

/** The kind tally: fields down the side, documents across, and in each cell what was read and how sure it is. */
export function Kind({ kindKey }: { readonly kindKey: string }) {
  const { data: kind, error } = useQuery({ queryKey: ['kind', kindKey], queryFn: () => ask<KindView>(`/kinds/${kindKey}`) });
  const { data: tally } = useQuery({ queryKey: ['kind-tally', kindKey], queryFn: () => ask<KindTally>(`/kinds/${kindKey}/tally?most=12`) });
  if (error) return <Trouble error={error} />;
  if (!kind) return <Loading />;
  return (
    <>
      <RoomHead title={kind.name} about={<>{kind.definition.description} Version {kind.version}, published <Moment at={kind.publishedAt} />.</>}><DefinitionText yaml={kind.yaml} name={`${kind.key}.yaml`} /></RoomHead>
      <Box sx={{ mx: 2.5, mb: 2, overflow: 'auto', border: 1, borderColor: 'divider', bgcolor: 'background.paper', maxHeight: 'calc(100vh - 150px)' }}>
        <Box component="table" aria-label="Fields and documents" sx={{ borderCollapse: 'separate', borderSpacing: 0, '& td, & th': { borderBottom: 1, borderRight: 1, borderColor: 'divider', p: '5px 10px', textAlign: 'left', verticalAlign: 'top', fontSize: 13 } }}>
          <thead><TallyHead documents={tally?.documents ?? []} kind={kind.definition} /></thead>
          <tbody>
            {kind.definition.fields.map((field) => <FieldRow key={field.key} field={field} kind={kind.definition} documents={tally?.documents ?? []} path={field.key} />)}
            {kind.definition.tables.map((table) => <TableRows key={table.key} table={table} documents={tally?.documents ?? []} />)}
          </tbody>
        </Box>
        <Box sx={{ p: 2 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 0.5 }}>Checks</Box>
          {kind.definition.checks.map((check, index) => <Box key={index}>{checkText(kind.definition, check)}</Box>)}
        </Box>
      </Box>
    </>
  );
}

const stuck = { position: 'sticky', left: 0, bgcolor: 'background.paper', zIndex: 1, minWidth: 300, maxWidth: 300, boxShadow: 'inset 0 -1px 0 var(--mui-palette-divider)' } as const;

function TallyHead({ documents, kind }: { readonly documents: Documents; readonly kind: KindDefinition }) {
  return (
    <tr>
      <Box component="th" sx={{ ...stuck, top: 0, zIndex: 3, bgcolor: 'background.default', color: 'text.secondary' }}>Field and how it is found</Box>
      {documents.map((document) => (
        <Box component="th" key={document.id} sx={{ position: 'sticky', top: 0, bgcolor: 'background.default', zIndex: 2, minWidth: 150, fontWeight: 450 }}>
          <Box component={Link} href={`/documents/${document.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{document.fileName.replace(/\.pdf$/i, '')}</Box>
          <Box sx={{ color: 'text.secondary', fontSize: 12 }}>{kind.layouts.find((layout) => layout.key === document.layout)?.name ?? 'no known layout'}</Box>
        </Box>
      ))}
      {documents.length === 0 && <Box component="th" sx={{ fontWeight: 450, color: 'text.secondary' }}>No document of this kind has been read yet</Box>}
    </tr>
  );
}

function FieldRow({ field, kind, documents, path }: { readonly field: FieldDefinition; readonly kind: KindDefinition; readonly documents: Documents; readonly path: string }) {
  return (
    <tr>
      <Box component="th" scope="row" sx={{ ...stuck, fontWeight: 450 }}>
        <Box sx={{ fontWeight: 600 }}>{field.label} <Box component="span" sx={{ color: 'text.secondary', fontWeight: 450 }}>{field.type}{field.required ? '' : ', may be missing'}</Box></Box>
        <Box sx={{ color: 'text.secondary', fontSize: 12 }}>{readersText(kind, field.key)}</Box>
      </Box>
      {documents.map((document) => <ValueCell key={document.id} document={document} field={field} path={path} />)}
    </tr>
  );
}

function ValueCell({ document, field, path }: { readonly document: Documents[number]; readonly field: FieldDefinition; readonly path: string }) {
  const reading = readingAt(document.readings, path);
  const value = reading?.value ?? null;
  return (
    <Box component="td" sx={{ fontFamily: VALUE_FACE, color: value === null ? 'text.secondary' : undefined }}>
      <Box sx={{ display: 'flex', gap: 1, justifyContent: isFigure(field) ? 'flex-end' : 'space-between', alignItems: 'flex-start' }}>
        <Box sx={{ maxWidth: 180, overflowWrap: 'anywhere' }}>{shownValue(field, value)}</Box>
        {reading && reading.reader !== 'none' && reading.reader !== 'person' && <Gauge confidence={reading.confidence} threshold={thresholdOf(field)} evidence={reading.evidence} figure={false} />}
        {reading?.reader === 'person' && <Box component="span" title="given by a person" sx={{ fontFamily: 'inherit', fontSize: 11, color: 'text.secondary' }}>by hand</Box>}
      </Box>
    </Box>
  );
}

/** A table folds into one row that says how many rows were found; opened, each of its rows is one. */
function TableRows({ table, documents }: { readonly table: TableDefinition; readonly documents: Documents }) {
  const [open, setOpen] = useState(false);
  const most = Math.min(60, Math.max(0, ...documents.map((document) => document.readings.tables[table.key]?.length ?? 0)));
  const amount = table.columns.at(-1);
  return (
    <>
      <tr>
        <Box component="th" scope="row" sx={{ ...stuck, fontWeight: 450 }}>
          <ButtonBase disableRipple aria-expanded={open} onClick={() => setOpen(!open)} sx={{ fontWeight: 600, fontSize: 13 }}>{open ? '▾' : '▸'} {table.label}</ButtonBase>
          <Box sx={{ color: 'text.secondary', fontSize: 12 }}>Table: {table.columns.map((column) => column.label.toLowerCase()).join(', ')}</Box>
        </Box>
        {documents.map((document) => <Box component="td" key={document.id}>{document.readings.tables[table.key]?.length ?? 0} rows</Box>)}
      </tr>
      {open && amount && Array.from({ length: most }, (_, row) => (
        <tr key={row}>
          <Box component="th" scope="row" sx={{ ...stuck, fontWeight: 450, color: 'text.secondary', pl: '28px !important' }}>{amount.label}, row {row + 1}</Box>
          {documents.map((document) => <ValueCell key={document.id} document={document} field={amount} path={cellPath(table.key, row, amount.key)} />)}
        </tr>
      ))}
    </>
  );
}
