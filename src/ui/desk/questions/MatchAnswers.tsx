'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useState, type KeyboardEvent } from 'react';
import type { Place } from '@/core/page/page';
import type { ProposedMatch } from '@/core/pipeline/match';
import { isTyping } from '../../frame/Frame';
import { aboutRow, choose, mainOf, rowsFor, rowsLeft, rowText, sharedText, sides, type Chosen } from './match-choice';

/** Rows of the page, each with the row it is thought to belong to; what is not sure stands out. Keys 1 to 5 take what comes near, 0 nothing. */
export function MatchAnswers({ match, onAnswer, onLine }: { readonly match: ProposedMatch; readonly onAnswer: (values: Record<string, string>) => void; readonly onLine: (place: Place | null) => void }) {
  const [chosen, setChosen] = useState<Chosen>(() => match.lines.map(({ row }) => row));
  const answer = () => onAnswer(Object.fromEntries(chosen.map((row, line) => [String(line), row === null ? '' : String(row)])));
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      if (event.key !== 'a' || isTyping(event.target) || event.ctrlKey || event.metaKey || document.querySelector('[role="dialog"], [role="listbox"]')) return;
      event.preventDefault();
      answer();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  const left = rowsLeft(match, chosen);
  const nothing = chosen.filter((row) => row === null).length;
  return (
    <Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: `28px ${SIDES} 64px`, gap: 1, pl: '3px', pr: 0.5, pb: 0.5, color: 'text.secondary', fontSize: 12.5, borderBottom: 1, borderColor: 'divider' }}>
        <span /><span>On the paper{sharedText(match) === '' ? '' : `, ${sharedText(match)}`}</span><span>Belongs to</span>
      </Box>
      <Box sx={{ display: 'grid' }}>
        {match.lines.map((_, line) => <Line key={line} match={match} line={line} row={chosen[line] ?? null} onChoose={(row) => setChosen((now) => choose(now, line, row))} onFocus={() => onLine(match.lines[line]?.place ?? null)} />)}
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', position: 'sticky', bottom: -16, zIndex: 2, py: 1.5, mb: -2, bgcolor: 'background.default' }}>
        <Button variant="contained" onClick={answer}>These belong together&ensp;<kbd>a</kbd></Button>
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{nothing === 0 ? 'Every row has its partner.' : `${nothing} ${nothing === 1 ? 'row belongs' : 'rows belong'} to nothing.`}</Box>
      </Box>
      {left.length > 0 && (
        <Box component="details" sx={{ mt: 2, fontSize: 13 }}>
          <Box component="summary" sx={{ color: 'text.secondary', cursor: 'pointer' }}>{left.length === 1 ? 'One more that could be matched' : `${left.length} more that could be matched`}</Box>
          {left.map((row) => <Box key={row} sx={{ py: 0.5 }}>{rowText(match, row)}</Box>)}
        </Box>
      )}
    </Box>
  );
}

interface LineProps {
  readonly match: ProposedMatch;
  readonly line: number;
  readonly row: number | null;
  readonly onChoose: (row: number | null) => void;
  readonly onFocus: () => void;
}

/** A line that is sure takes one row of the screen until somebody wants to see it. */
function Line(props: LineProps) {
  const { match, line, row, onFocus } = props;
  const proposed = match.lines[line];
  const [open, setOpen] = useState(proposed?.sure === false);
  const both = sides(match, line, row);
  return (
    <Box onFocus={onFocus} sx={{ borderBottom: '1px solid', borderBottomColor: 'divider', borderLeft: '3px solid', borderLeftColor: proposed?.sure === false ? 'chart.signal' : 'transparent' }}>
      <ButtonBase aria-expanded={open} onClick={() => setOpen(!open)} sx={{ width: '100%', display: 'grid', gridTemplateColumns: `28px ${SIDES} 64px`, gap: 1, py: 1, pr: 0.5, textAlign: 'left', alignItems: 'baseline', fontSize: 13.5, '&:hover, &:focus-visible': { bgcolor: 'background.paper' } }}>
        <Box sx={{ color: 'text.secondary', textAlign: 'right' }}>{line + 1}</Box>
        <Box sx={{ fontWeight: open ? 600 : 400, overflowWrap: 'anywhere' }}>{mainOf(both.map(({ ours }) => ours))}</Box>
        <Box sx={{ fontWeight: open ? 600 : 400, overflowWrap: 'anywhere', color: row === null ? 'chart.signal' : undefined }}>{row === null ? 'nothing' : mainOf(both.map(({ theirs }) => theirs))}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 12.5, textAlign: 'right' }}>{row !== null && row === proposed?.row ? `${Math.round(proposed.score * 100)} of 100` : ''}</Box>
      </ButtonBase>
      {open && <Opened {...props} both={both} />}
    </Box>
  );
}

const SIDES = 'minmax(0, 1fr) minmax(0, 1fr)';
const NOTHING = 'nothing';

function Opened({ match, line, row, onChoose, both }: LineProps & { readonly both: ReturnType<typeof sides> }) {
  const proposed = match.lines[line];
  const main = { ours: mainOf(both.map(({ ours }) => ours)), theirs: mainOf(both.map(({ theirs }) => theirs)) };
  const takeByKey = (event: KeyboardEvent) => {
    const near = proposed?.near[Number(event.key) - 1];
    if (event.key !== '0' && !near) return;
    event.preventDefault();
    event.stopPropagation();
    onChoose(event.key === '0' ? null : (near?.row ?? null));
  };
  const why = proposed && row === proposed.row ? proposed : null;
  return (
    <Box onKeyDown={takeByKey} sx={{ pl: '36px', pb: 1.25, display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: SIDES, columnGap: 1, pr: '72px', fontSize: 13 }}>
        {both.filter(({ ours, theirs }) => (ours !== null || theirs !== null) && (ours !== main.ours || theirs !== main.theirs)).map(({ name, ours, theirs }) => <Side key={name} name={name} ours={ours} theirs={theirs} />)}
      </Box>
      <TextField select fullWidth size="small" label={`Row ${line + 1} belongs to`} value={row === null ? NOTHING : String(row)} onChange={(event) => onChoose(event.target.value === NOTHING ? null : Number(event.target.value))} slotProps={{ select: { renderValue: () => (row === null ? 'nothing' : `${main.theirs} · ${aboutRow(match, row)}`) } }}>
        <MenuItem value={NOTHING} sx={{ gap: 1 }}><kbd>0</kbd>It belongs to nothing</MenuItem>
        {rowsFor(match, line).map((option, at) => <MenuItem key={option.row} value={String(option.row)} sx={{ whiteSpace: 'normal', gap: 1, maxWidth: 560 }}>{option.score !== null && <kbd>{at + 1}</kbd>}<Box component="span" sx={{ flex: 1 }}>{rowText(match, option.row)}</Box>{option.score !== null && <Box component="span" sx={{ color: 'text.secondary', fontSize: 13, whiteSpace: 'nowrap' }}>{Math.round(option.score * 100)} of 100</Box>}</MenuItem>)}
      </TextField>
      {why && (
        <Box sx={{ fontSize: 12.5 }}>
          {why.differences.map((text) => <Box key={text} sx={{ color: 'chart.signal', fontWeight: 600 }}>{text}</Box>)}
          <Box sx={{ color: 'text.secondary' }}>{why.reasons.join('; ')}</Box>
        </Box>
      )}
    </Box>
  );
}

function Side({ name, ours, theirs }: { readonly name: string; readonly ours: string | null; readonly theirs: string | null }) {
  return (
    <>
      <Box><Box component="span" sx={{ color: 'text.secondary' }}>{name}</Box> {ours ?? '–'}</Box>
      <Box>{theirs ?? '–'}</Box>
    </>
  );
}
