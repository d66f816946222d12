'use client';
import InputBase from '@mui/material/InputBase';
import { useState, type KeyboardEvent, type Ref } from 'react';
import { typedReading } from '@/core/reading/edit';
import type { FieldDefinition } from '@/core/reading/kind';
import type { Reading } from '@/core/reading/reading';
import type { LocaleHints } from '@/core/value/normalise';
import { isFigure } from '../page/ReadingsTable';
import { VALUE_FACE } from '../theme';

interface Props {
  readonly field: FieldDefinition;
  readonly reading: Reading | null;
  readonly locale: LocaleHints;
  readonly label: string;
  readonly onCommit: (reading: Reading) => void;
  readonly onFocus?: () => void;
  /** Enter, after the value was taken over. */
  readonly onEnter?: () => void;
  readonly onEscape?: () => void;
  readonly inputRef?: Ref<HTMLInputElement>;
  readonly compact?: boolean;
}

const textOf = (reading: Reading | null): string => reading?.value ?? reading?.text ?? '';

/** One value to be typed: taken over when it is left or with Enter; what does not fit stays, with the reason. */
export function ValueInput({ field, reading, locale, label, onCommit, onFocus, onEnter, onEscape, inputRef, compact = false }: Props) {
  const [text, setText] = useState(textOf(reading));
  // Another value from outside (a click on the page, a suggestion) replaces what is being typed.
  const [shown, setShown] = useState(reading);
  if (shown !== reading) {
    setShown(reading);
    setText(textOf(reading));
  }
  const commit = () => {
    if (text.trim() !== textOf(reading)) onCommit(typedReading(field, text, locale, reading?.place ?? null));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') {
      event.preventDefault();
      event.stopPropagation();
      commit();
      onEnter?.();
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      setText(textOf(reading));
      onEscape?.();
    }
  };
  const wrong = reading?.problem !== undefined && reading.value === null;
  return (
    <InputBase
      value={text}
      inputRef={inputRef}
      onChange={(event) => setText(event.target.value)}
      onBlur={commit}
      onFocus={onFocus}
      onKeyDown={onKeyDown}
      inputProps={{ 'aria-label': label, 'aria-invalid': wrong, spellCheck: false, autoComplete: 'off' }}
      sx={{ width: '100%', fontFamily: compact && field.type === 'text' ? undefined : VALUE_FACE, fontSize: compact ? 12.5 : 15, bgcolor: compact ? 'transparent' : 'background.default', border: compact ? 0 : 1, borderColor: wrong ? 'chart.signal' : 'divider', borderRadius: '2px', px: compact ? 0.5 : 1, outline: wrong && compact ? '1px solid' : undefined, outlineColor: (t) => t.vars?.palette.chart.signal ?? '', '& input': { p: compact ? '3px 0' : '4px 0', textAlign: compact && isFigure(field) ? 'right' : 'left', textOverflow: 'ellipsis' }, '&:focus-within': { boxShadow: (t) => `0 0 0 2px ${t.vars?.palette.chart.middle ?? ''}` } }}
    />
  );
}
