'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useState } from 'react';
import type { Review } from '@/contracts/api';
import { thresholdOf } from '@/core/reading/kind';
import { Gauge } from '../tally/Gauge';
import type { ReviewWork } from './useReview';
import { ValueInput } from './ValueInput';

/** Fields that need nobody, folded; opened, each can still be corrected. */
export function Settled({ review, work }: { readonly review: Review; readonly work: ReviewWork }) {
  const [open, setOpen] = useState(false);
  const inStrips = new Set(work.doubts.map((doubt) => doubt.path));
  const fields = review.kind.fields.filter((field) => !inStrips.has(field.key));
  return (
    <Box>
      <ButtonBase disableRipple aria-expanded={open} onClick={() => setOpen(!open)} sx={{ typography: 'h2', py: 0.5 }}>{open ? '▾' : '▸'} {fields.length} settled {fields.length === 1 ? 'value' : 'values'}</ButtonBase>
      {open && (
        <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
          {fields.map((field) => {
            const reading = work.readings.fields[field.key] ?? null;
            return (
              <Box key={field.key} sx={{ display: 'grid', gridTemplateColumns: '130px 1fr 46px', alignItems: 'center', gap: 1, px: 1.25, py: 0.25, '& + &': { borderTop: 1, borderColor: 'divider' }, bgcolor: work.active === field.key ? 'chart.shallow' : undefined }}>
                <Box sx={{ color: 'text.secondary' }}>{field.label}</Box>
                <ValueInput compact field={field} reading={reading} locale={work.locale} label={field.label} onCommit={(next) => work.put(field.key, next)} onFocus={() => work.setActive(field.key)} />
                {reading && reading.reader !== 'person' && reading.reader !== 'none' ? <Gauge confidence={reading.confidence} threshold={thresholdOf(field)} evidence={reading.evidence} /> : <Box />}
              </Box>
            );
          })}
        </Box>
      )}
    </Box>
  );
}
