import Box from '@mui/material/Box';
import Link from 'next/link';
import { VALUE_FACE } from '../theme';
import type { TriedCell, TriedDocument } from './tried';

/** Rows and lines that are shown one by one. */
const MOST_SHOWN = 12;

/** What one step would make of one document: the sentence, and exactly what would be written. */
export function CellDetail({ document, cells }: { readonly document: TriedDocument; readonly cells: readonly TriedCell[] }) {
  return (
    <Box role="region" aria-label="What the step would make" sx={{ fontSize: 13, display: 'grid', gap: 0.75, alignContent: 'start' }}>
      <Box sx={{ color: 'text.secondary' }}>With <Link href={`/documents/${document.id}`}>{document.fileName}</Link></Box>
      {cells.length === 0 && <Box>It does not come this far, or takes another way.</Box>}
      {cells.slice(0, MOST_SHOWN).map((cell) => <Made key={cell.line ?? -1} cell={cell} />)}
      {cells.length > MOST_SHOWN && <Box sx={{ color: 'text.secondary' }}>and {cells.length - MOST_SHOWN} more lines</Box>}
    </Box>
  );
}

function Made({ cell }: { readonly cell: TriedCell }) {
  return (
    <Box>
      {cell.line !== null && <Box component="span" sx={{ color: 'text.secondary' }}>Line {cell.line + 1}: </Box>}
      {(cell.writes.length === 0 || cell.state !== 'would write') && <Box component="span" sx={{ color: cell.state === 'failed' ? 'chart.signal' : 'inherit', overflowWrap: 'anywhere' }}>{cell.text}</Box>}
      {cell.writes.map(({ target, rows }) => (
        <Box key={target} sx={{ mt: 0.5 }}>
          <Box sx={{ fontWeight: 600 }}>{cell.short === '' ? `Would write to ${target}` : `${sentenceStart(cell.short)}: ${target}`}</Box>
          {rows.slice(0, MOST_SHOWN).map((row, index) => (
            <Box key={index} sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 1.5, py: 0.5, borderTop: index > 0 ? 1 : 0, borderColor: 'divider' }}>
              {Object.entries(row).map(([column, { value }]) => <Box key={column} sx={{ display: 'contents' }}><Box sx={{ color: 'text.secondary' }}>{column}</Box><Box sx={{ fontFamily: VALUE_FACE, fontSize: 12.5, overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' }}>{value ?? '–'}</Box></Box>)}
            </Box>
          ))}
          {rows.length > MOST_SHOWN && <Box sx={{ color: 'text.secondary' }}>and {rows.length - MOST_SHOWN} more rows</Box>}
        </Box>
      ))}
    </Box>
  );
}

const sentenceStart = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
