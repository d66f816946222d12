'use client';
import Box from '@mui/material/Box';
import Link from 'next/link';
import type { ReactNode } from 'react';
import type { Review } from '@/contracts/api';
import { SampleButton } from '../documents/SampleButton';
import { Moment } from '../frame/Moment';
import type { Saving } from './useReview';

const SAVING: Readonly<Record<Saving, string>> = { kept: 'Your changes are kept as you go', keeping: 'Keeping your changes …', 'not kept': 'Your last change is not kept' };

/** What is on the desk, where it came from, and what can be decided. */
export function ReviewHead({ review, saving, failing, children }: { readonly review: Review; readonly saving: Saving; readonly failing: number; readonly children: ReactNode }) {
  const { task, kind } = review;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 2, height: 66 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ typography: 'h1', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{task.document.fileName}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 13, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {kind.name} · <Link href={`/runs/${task.runId}`}>run</Link> · waits since <Moment at={task.openedAt} /> · <Box component="span" role="status" sx={{ color: saving === 'not kept' ? 'chart.signal' : 'inherit' }}>{SAVING[saving]}</Box>
        </Box>
      </Box>
      <Box sx={{ fontSize: 13, color: failing > 0 ? 'chart.signal' : 'chart.deep', pr: 1 }}>{failing > 0 ? `${failing} ${failing === 1 ? 'check fails' : 'checks fail'}` : 'All checks pass'}</Box>
      <SampleButton documentId={task.document.id} kind={kind.key} stay />
      {children}
    </Box>
  );
}
