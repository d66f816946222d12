'use client';
import Box from '@mui/material/Box';
import { useEffect, useMemo, useRef } from 'react';
import { layoutText } from '@/core/page/layout-text';
import { boxesMeet, type Page, type Place } from '@/core/page/page';
import { VALUE_FACE } from '../theme';

interface Props {
  readonly pages: readonly Page[];
  /** What is selected on the page; its words are marked here. */
  readonly selected: Place | null;
  readonly onSelect: (place: Place) => void;
}

/** The text of the pages with its columns kept. A click on a word shows its place on the page, and what is selected there is marked here. */
export function PageText({ pages, selected, onSelect }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const at = selected ? `${selected.page}:${selected.box.join()}` : null;
  useEffect(() => {
    if (at !== null) frame.current?.querySelector('[data-marked="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  return <Box ref={frame} sx={{ p: 2, overflowX: 'auto' }}>{pages.map((page) => <TextOfPage key={page.number} page={page} selected={selected?.page === page.number ? selected : null} of={pages.length} onSelect={onSelect} />)}</Box>;
}

function TextOfPage({ page, selected, of, onSelect }: { readonly page: Page; readonly selected: Place | null; readonly of: number; readonly onSelect: Props['onSelect'] }) {
  const lines = useMemo(() => linesWithWords(page), [page]);
  return (
    <Box component="section" aria-label={`Text of page ${page.number}`} sx={{ mb: 2 }}>
      {of > 1 && <Box sx={{ fontSize: 12, color: 'text.secondary' }}>Page {page.number} of {of}</Box>}
      <Box component="pre" sx={{ m: 0, fontFamily: VALUE_FACE, fontSize: 12.5, lineHeight: 1.5 }}>
        {lines.map((parts, index) => (
          <span key={index}>
            {parts.map(({ before, word, shown }, place) => {
              const marked = selected !== null && word !== null && boxesMeet(word.box, selected.box, 0);
              return <span key={place}>{before}{word && <Box component="span" data-marked={marked} onClick={() => onSelect({ page: page.number, box: word.box })} sx={{ cursor: 'pointer', bgcolor: marked ? 'chart.shallow' : undefined, outline: marked ? 1 : 0, outlineColor: 'chart.deep', outlineStyle: 'solid', '&:hover': { bgcolor: 'action.hover' } }}>{shown}</Box>}</span>;
            })}
            {'\n'}
          </span>
        ))}
      </Box>
    </Box>
  );
}

interface Part {
  /** Blanks before the word. */
  readonly before: string;
  readonly word: Page['words'][number] | null;
  readonly shown: string;
}

/** Each line of the laid-out text as its words with the blanks between them. */
function linesWithWords(page: Page): readonly (readonly Part[])[] {
  const { text, words } = layoutText(page);
  return text.split('\n').map((line, number) => {
    let end = 0;
    return words.filter((laid) => laid.line === number).map((laid, index, own): Part => {
      const before = ' '.repeat(Math.max(0, laid.column - end));
      const next = own[index + 1]?.column ?? line.length + 1;
      const shown = line.slice(laid.column, next).trimEnd();
      end = laid.column + shown.length;
      return { before, word: laid.word, shown };
    });
  });
}
