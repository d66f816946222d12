import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Link from 'next/link';
import type { BatchResult, BatchResults } from '@/contracts/batches';
import { RunMark } from '../tally/Mark';
import { VALUE_FACE } from '../theme';

interface Props {
  readonly results: BatchResults;
  /** Id of the document whose page is shown. */
  readonly chosen: string | null;
  readonly onChoose: (document: string) => void;
}

/** What came of each: how far it is, and every value that was read. Arrow keys move from row to row. */
export function Results({ results: { rows, columns }, chosen, onChoose }: Props) {
  const ids = rows.flatMap(({ document }) => document?.id ?? []);
  const move = (event: React.KeyboardEvent) => {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const next = ids[ids.indexOf(chosen ?? '') + step];
    if (step === 0 || next === undefined) return;
    event.preventDefault();
    onChoose(next);
  };
  return (
    <Box tabIndex={0} role="group" aria-label="Results; arrow keys choose" onKeyDown={move} sx={{ '&:focus-visible': { outlineOffset: -2 } }}>
      <Table size="small" stickyHeader aria-label="Results">
        <TableHead><TableRow><TableCell sx={{ left: 0, zIndex: 3 }}>Document</TableCell><TableCell>State</TableCell>{columns.map(({ key, label }) => <TableCell key={key} sx={{ whiteSpace: 'nowrap' }}>{label}</TableCell>)}</TableRow></TableHead>
        <TableBody>{rows.map((row) => <Row key={`${row.number}/${row.document?.id ?? ''}`} row={row} columns={columns} chosen={row.document !== null && row.document.id === chosen} onChoose={onChoose} />)}</TableBody>
      </Table>
    </Box>
  );
}

function Row({ row, columns, chosen, onChoose }: { readonly row: BatchResult; readonly columns: BatchResults['columns']; readonly chosen: boolean; readonly onChoose: (document: string) => void }) {
  const { document, name, values } = row;
  return (
    <TableRow hover selected={chosen} onClick={() => document && onChoose(document.id)} sx={{ cursor: document ? 'pointer' : 'default' }}>
      <TableCell sx={{ minWidth: 160, maxWidth: 260, overflowWrap: 'anywhere', position: 'sticky', left: 0, bgcolor: 'background.paper', backgroundImage: (theme) => (chosen ? `linear-gradient(color-mix(in srgb, ${theme.vars?.palette.primary.main ?? ''} 8%, transparent) 0 0)` : 'none'), zIndex: 1 }}>
        {document ? <Box component={Link} href={`/documents/${document.id}`} onClick={(event: React.MouseEvent) => event.stopPropagation()} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{document.fileName}</Box> : name}
        {row.problem && <Box sx={{ color: 'chart.signal', fontSize: 13 }}>{row.problem}</Box>}
      </TableCell>
      <TableCell><State row={row} /></TableCell>
      {columns.map(({ key }) => <TableCell key={key} sx={{ fontFamily: VALUE_FACE, fontSize: 13, whiteSpace: 'nowrap', maxWidth: 220, overflow: 'hidden', textOverflow: 'ellipsis' }} title={values[key] ?? ''}>{values[key] ?? ''}</TableCell>)}
    </TableRow>
  );
}

function State({ row: { document, item } }: { readonly row: BatchResult }) {
  if (document?.run) return <Link href={`/runs/${document.run.id}`} onClick={(event) => event.stopPropagation()} style={{ textDecoration: 'none' }}><RunMark state={document.run.state} stopped={document.run.stopped} /></Link>;
  if (document?.repeatOf) return <Link href={`/documents/${document.repeatOf}`}>a repeat</Link>;
  return <Box sx={{ color: 'text.secondary', whiteSpace: 'nowrap' }}>{item === 'waiting' ? 'not taken yet' : item === 'failed' ? 'not taken' : 'not readable'}</Box>;
}
