'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { ListRowView, ListView, PageOf } from '@/contracts/api';
import type { Place } from '@/core/page/page';
import { shownAmount } from '@/core/value/amount';
import { useAddress } from '../address';
import { ask, queryOf } from '../api';
import { Moment } from '../frame/Moment';
import { Pager } from '../frame/Pager';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { originText, ReferenceActions } from './ReferenceActions';
import { VALUE_FACE } from '../theme';

const LIMIT = 50;
type Rows = PageOf<ListRowView> & { readonly list: ListView };
type Column = ListView['columns'][number];
const isFigure = (column: Column): boolean => column.type === 'money' || column.type === 'number';

/** The rows of a list. A value leads to its place on the page, the last column to the document. */
export function ListRows({ listKey }: { readonly listKey: string }) {
  const [address, change] = useAddress();
  const offset = Number(address.get('offset') ?? 0);
  const filter = address.get('filter') ?? '{}';
  const query = { sort: address.get('sort'), descending: address.get('descending'), filter };
  const { data, error } = useQuery({ queryKey: ['rows', listKey, query, offset], queryFn: () => ask<Rows>(`/lists/${listKey}/rows${queryOf({ ...query, offset, limit: LIMIT })}`) });
  if (error) return <Trouble error={error} />;
  if (!data) return <Loading />;
  const exportAt = (format: string) => `/api/v1/lists/${listKey}/export${queryOf({ ...query, format })}`;
  return (
    <>
      <RoomHead title={data.list.name} about={`${data.list.description} ${data.list.keyColumn === null ? '' : `Told apart by ${data.list.keyColumn}. ${originText(data.list)} `}${data.total.toLocaleString('en')} ${data.total === 1 ? 'row' : 'rows'}${filter === '{}' ? '' : ' fit the filter'}.`}>
        {data.list.keyColumn !== null && <ReferenceActions list={data.list} />}
        <Button variant="outlined" href={exportAt('csv')}>Export CSV</Button>
        <Button variant="outlined" href={exportAt('xlsx')}>Export workbook</Button>
      </RoomHead>
      <Box sx={{ mx: 2.5, border: 1, borderColor: 'divider', bgcolor: 'background.paper', overflowX: 'auto' }}>
        <Table size="small" aria-label={data.list.name}>
          <Head list={data.list} query={query} onChange={(changes) => change({ ...changes, offset: null })} />
          <TableBody>{data.rows.map((row) => <WrittenRow key={row.id} row={row} columns={data.list.columns} />)}</TableBody>
        </Table>
      </Box>
      {data.list.problem && <Box role="alert" sx={{ px: 2.5, pb: 1, color: 'chart.signal', whiteSpace: 'pre-line' }}>The last sync failed, the rows are those from before: {data.list.problem}</Box>}
      {data.total === 0 && <Empty title={filter === '{}' ? 'No rows yet' : 'No row fits'}>{filter === '{}' ? 'Rows appear here as pipelines write them.' : <Button onClick={() => change({ filter: null })}>Clear the filter</Button>}</Empty>}
      <Pager offset={offset} limit={LIMIT} total={data.total} onMove={(next) => change({ offset: String(next) })} />
    </>
  );
}

type Query = { readonly sort: string | undefined; readonly descending: string | undefined; readonly filter: string };

function Head({ list, query, onChange }: { readonly list: ListView; readonly query: Query; readonly onChange: (changes: Record<string, string | null>) => void }) {
  const filters = JSON.parse(query.filter) as Record<string, string>;
  const descending = query.descending === 'true';
  const sortBy = (name: string) => onChange({ sort: name, descending: query.sort === name && !descending ? 'true' : null });
  const filterBy = (name: string, value: string) => {
    const next = Object.fromEntries(Object.entries({ ...filters, [name]: value }).filter(([, part]) => part !== ''));
    onChange({ filter: Object.keys(next).length === 0 ? null : JSON.stringify(next) });
  };
  return (
    <TableHead>
      <TableRow>
        {list.columns.map((column) => (
          <TableCell key={column.name} align={isFigure(column) ? 'right' : 'left'} sortDirection={query.sort === column.name ? (descending ? 'desc' : 'asc') : false}>
            <TableSortLabel active={query.sort === column.name} direction={query.sort === column.name && descending ? 'desc' : 'asc'} onClick={() => sortBy(column.name)}>{column.name}</TableSortLabel>
            <FilterField column={column} value={filters[column.name] ?? ''} onChange={(value) => filterBy(column.name, value)} />
          </TableCell>
        ))}
        {list.keyColumn === null && <><TableCell sx={{ verticalAlign: 'top' }}>Document</TableCell><TableCell sx={{ verticalAlign: 'top' }}>Written</TableCell></>}
      </TableRow>
    </TableHead>
  );
}

/** Filters while typing, after a short rest. */
function FilterField({ column, value, onChange }: { readonly column: Column; readonly value: string; readonly onChange: (value: string) => void }) {
  const [text, setText] = useState(value);
  useEffect(() => {
    if (text === value) return;
    const timer = setTimeout(() => onChange(text), 300);
    return () => clearTimeout(timer);
  }, [text, value, onChange]);
  return <InputBase value={text} onChange={(event) => setText(event.target.value)} placeholder="filter" inputProps={{ 'aria-label': `Filter ${column.name}`, size: 6 }} sx={{ display: 'block', fontSize: 12.5, '& input': { p: 0, textAlign: isFigure(column) ? 'right' : 'left', width: '100%' }, borderBottom: 1, borderColor: text ? 'chart.deep' : 'transparent', '&:hover, &:focus-within': { borderColor: 'divider' } }} />;
}

const linkTo = (row: ListRowView, place: Place | undefined): string => `/documents/${row.document?.id ?? ''}${place ? `?page=${place.page}&at=${place.box.map((edge) => Math.round(edge * 10) / 10).join(',')}` : ''}`;

function WrittenRow({ row, columns }: { readonly row: ListRowView; readonly columns: readonly Column[] }) {
  return (
    <TableRow hover>
      {columns.map((column) => {
        const value = row.cells[column.name] ?? null;
        const place = row.places[column.name];
        const shown = value === null ? '–' : column.type === 'money' ? shownAmount(value) : value;
        return (
          <TableCell key={column.name} align={isFigure(column) ? 'right' : 'left'} sx={{ fontFamily: column.type === 'text' ? undefined : VALUE_FACE, whiteSpace: column.type === 'text' ? undefined : 'nowrap', color: value === null ? 'text.secondary' : undefined }}>
            {place && value !== null ? <Box component={Link} href={linkTo(row, place)} title="Show where it stands on the page" sx={{ textDecoration: 'none', '&:hover, &:focus-visible': { textDecoration: 'underline' } }}>{shown}</Box> : shown}
          </TableCell>
        );
      })}
      {row.document && <TableCell sx={{ maxWidth: 200, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}><Link href={linkTo(row, undefined)}>{row.document.fileName}</Link></TableCell>}
      {row.writtenAt && <TableCell sx={{ whiteSpace: 'nowrap', color: 'text.secondary' }}><Moment at={row.writtenAt} /></TableCell>}
    </TableRow>
  );
}
