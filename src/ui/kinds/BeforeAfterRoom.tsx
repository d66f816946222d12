'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import type { BeforeAfter, Workbench } from '@/contracts/workbench';
import { ask, post } from '../api';
import { useNotices } from '../frame/Notices';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { VALUE_FACE } from '../theme';

/** Changed cells of one document that are shown at once; the rest is counted. */
const MOST_SHOWN = 12;

/** What the draft would have made of documents that were read before, cell by cell, before it is published. */
export function BeforeAfterRoom({ kindKey }: { readonly kindKey: string }) {
  const { data, error } = useQuery({ queryKey: ['still', 'before-after', kindKey], queryFn: () => ask<BeforeAfter>(`/kinds/${kindKey}/before-after`), gcTime: 0 });
  const { data: bench } = useQuery({ queryKey: ['still', 'workbench', kindKey], queryFn: () => ask<Workbench>(`/kinds/${kindKey}/workbench`) });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const { tell, warn } = useNotices();
  if (error) return <Trouble error={error} />;
  if (!data || !bench) return <Loading />;
  const changed = data.documents.filter((document) => document.changes.length > 0);
  const straight = (when: 'straightBefore' | 'straightAfter') => data.documents.filter((document) => document[when]).length;
  const rerun = async () => {
    try {
      for (const id of chosen) await post(`/documents/${id}/runs`);
      tell(`${chosen.size} ${chosen.size === 1 ? 'document runs' : 'documents run'} once more.`);
      setChosen(new Set());
    } catch (problem) {
      warn(problem);
    }
  };
  const toggle = (id: string) => setChosen((before) => new Set(before.has(id) ? [...before].filter((other) => other !== id) : [...before, id]));
  return (
    <>
      <RoomHead title={`Before and after: ${bench.kind.name}`} about={bench.revision === 0 ? 'There is no draft; the published version is compared with what was read at the time.' : 'What the draft would read on past documents. Nothing is written.'}>
        {chosen.size > 0 && <Button variant="outlined" onClick={() => void rerun()}>Run {chosen.size} once more</Button>}
        <Button component={Link} variant="outlined" href={`/kinds/${kindKey}`}>Back to the kind</Button>
      </RoomHead>
      {data.documents.length === 0 ? <Empty title="No past documents">Documents of this kind that pipelines have read appear here.</Empty> : (
        <Box sx={{ px: 2.5, pb: 3, display: 'grid', gap: 2 }}>
          <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 1.5 }}>
            <Box sx={{ fontWeight: 650 }}>{changed.length === 0 ? `None of the ${data.documents.length} newest documents would be read differently.` : `${changed.length} of the ${data.documents.length} newest documents would be read differently.`}</Box>
            <Box sx={{ color: 'text.secondary' }}>Straight through: {straight('straightBefore')} before, {straight('straightAfter')} after. Reading takes {Math.round(data.documents.reduce((sum, document) => sum + document.tookMs, 0) / data.documents.length)} ms a document.</Box>
            {data.difference.length > 0 && <Box component="ul" sx={{ m: 0, mt: 1, pl: 2.5 }}>{data.difference.map((text) => <li key={text}>{text}</li>)}</Box>}
          </Box>
          {changed.map((document) => (
            <Box key={document.id} component="section" sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
              <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', p: 1.25, borderBottom: 1, borderColor: 'divider' }}>
                <input type="checkbox" aria-label={`Choose ${document.fileName}`} checked={chosen.has(document.id)} onChange={() => toggle(document.id)} />
                <Box component={Link} href={`/documents/${document.id}`} sx={{ fontWeight: 650, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{document.fileName}</Box>
                <Box sx={{ flex: 1, color: 'text.secondary', fontSize: 13 }}>{document.changes.length} {document.changes.length === 1 ? 'value' : 'values'}</Box>
                {document.straightBefore !== document.straightAfter && <Box sx={{ fontSize: 13, color: document.straightAfter ? 'chart.deep' : 'chart.signal' }}>{document.straightAfter ? 'would go straight through' : 'would need somebody'}</Box>}
              </Box>
              {document.changes.slice(0, MOST_SHOWN).map((change) => (
                <Box key={change.path} sx={{ display: 'grid', gridTemplateColumns: '220px 1fr 24px 1fr', gap: 1, px: 1.5, py: 0.5, fontSize: 13, '& + &': { borderTop: 1, borderColor: 'divider' } }}>
                  <Box sx={{ color: 'text.secondary' }}>{change.label}</Box>
                  <Box sx={{ fontFamily: VALUE_FACE, overflowWrap: 'anywhere' }}>{change.before ?? '–'}</Box><Box aria-label="becomes">→</Box>
                  <Box sx={{ fontFamily: VALUE_FACE, overflowWrap: 'anywhere', fontWeight: 650 }}>{change.after ?? '–'}</Box>
                </Box>
              ))}
              {document.changes.length > MOST_SHOWN && <Box sx={{ px: 1.5, py: 0.5, color: 'text.secondary', fontSize: 13 }}>and {document.changes.length - MOST_SHOWN} more</Box>}
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
