'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useRef, type KeyboardEvent } from 'react';
import type { Review } from '@/contracts/api';
import { labelOf, type Doubt } from '@/core/checking/trust';
import { fieldAt } from '@/core/reading/edit';
import { thresholdOf } from '@/core/reading/kind';
import { readingAt } from '@/core/reading/reading';
import { Crop } from '../page/Crop';
import { Gauge } from '../tally/Gauge';
import { suggestionsFor, type Suggestion } from './suggestions';
import type { ReviewWork } from './useReview';
import { ValueInput } from './ValueInput';

interface Props {
  readonly review: Review;
  readonly work: ReviewWork;
  readonly doubt: Doubt;
  /** Go on to the next strip, or to the end. */
  readonly onDone: () => void;
}

const CROP_WIDTH = 520;

/**
 * One value that needs eyes: the cut from the page, the value, the reason, and up to four suggestions.
 * The strip itself has the focus for the single-key commands; Tab or `e` goes into the value.
 */
export function Strip({ review, work, doubt, onDone }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const strip = useRef<HTMLDivElement>(null);
  const { path } = doubt;
  const field = fieldAt(review.kind, path);
  const reading = readingAt(work.readings, path);
  if (!field) return null;
  const page = reading?.place ? review.pages.find((candidate) => candidate.number === reading.place?.page) : undefined;
  const open = work.open.find((candidate) => candidate.path === path);
  const suggestions = suggestionsFor(path, { kind: review.kind, reading: review.reading, readings: work.readings, findings: work.findings });
  const take = (suggestion: Suggestion | undefined) => {
    if (suggestion) work.put(suggestion.path, suggestion.reading);
    if (suggestion?.also) work.put(suggestion.also.path, suggestion.also.reading);
  };
  const accept = () => {
    work.confirm(path);
    onDone();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== strip.current) return;
    const number = Number(event.key);
    if (event.key === 'Enter') {
      event.preventDefault();
      accept();
    } else if (number >= 1 && number <= suggestions.length) take(suggestions[number - 1]);
    else if (event.key === 'e') {
      event.preventDefault();
      input.current?.select();
    }
  };
  const isActive = work.active === path;
  return (
    <Box ref={strip} tabIndex={0} role="group" aria-label={labelOf(review.kind, path)} data-strip={path} onFocus={() => work.setActive(path)} onKeyDown={onKeyDown} sx={{ p: 1.5, bgcolor: 'background.paper', border: 1, borderColor: isActive ? 'chart.deep' : 'divider', boxShadow: isActive ? (t) => `inset 3px 0 0 ${t.vars?.palette.chart.deep ?? ''}` : 'none', outline: 'none', display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Box sx={{ fontWeight: 650, flex: 1 }}>{labelOf(review.kind, path)}</Box>
        {work.looked.has(path) && !open ? <Box sx={{ color: 'chart.deep', fontSize: 12.5 }}>looked at</Box> : null}
        {reading && reading.reader !== 'none' && reading.reader !== 'person' && <Gauge confidence={reading.confidence} threshold={thresholdOf(field)} evidence={reading.evidence} />}
      </Box>
      {reading?.place && page ? <Crop paper={`/documents/${review.task.document.id}`} place={reading.place} anchor={reading.anchor} page={page} width={CROP_WIDTH} /> : <Box sx={{ color: 'text.secondary', fontSize: 13 }}>Not found on the page. Click the word there, or drag over it, to fill this in.</Box>}
      <ValueInput inputRef={input} field={field} reading={reading} locale={work.locale} label={`Value of ${labelOf(review.kind, path)}`} onCommit={(next) => work.put(path, next)} onFocus={() => work.setActive(path)} onEnter={accept} onEscape={() => strip.current?.focus()} />
      {open ? <Box sx={{ color: 'chart.signal', fontSize: 13 }}>{open.reason}</Box> : <Box sx={{ color: 'text.secondary', fontSize: 13 }}>Settled. Nothing speaks against it any more.</Box>}
      {suggestions.length > 0 && (
        <Box sx={{ display: 'grid', gap: 0.25 }}>
          {suggestions.map((suggestion, index) => (
            <ButtonBase key={`${suggestion.path}-${suggestion.reading.value}`} disableRipple onClick={() => { take(suggestion); strip.current?.focus(); }} sx={{ justifyContent: 'flex-start', gap: 1, px: 0.75, py: 0.4, fontSize: 13, textAlign: 'left', borderRadius: '2px', '&:hover, &:focus-visible': { bgcolor: 'chart.shallow' } }}>
              <kbd>{index + 1}</kbd> {suggestion.text}
            </ButtonBase>
          ))}
        </Box>
      )}
    </Box>
  );
}
