'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { CATALOGUE, STEP_KINDS } from '@/core/pipeline/catalogue';
import type { StepKind } from '@/core/pipeline/definition';

const GROUPS = ['Read', 'Ask', 'Decide', 'Write', 'Flow'] as const;

/** Step kinds that fit what was typed, the best first: what a name begins with comes before what its words say. */
export function findKinds(typed: string): StepKind[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const score = (kind: StepKind): number => {
    const { name, about, words: more } = CATALOGUE[kind];
    const [title, rest] = [name.toLowerCase(), ` ${about} ${more}`.toLowerCase()];
    // Words count from their beginnings: “if” is not in “verify”.
    return words.reduce((sum, word) => sum + (title.startsWith(word) ? 3 : rest.includes(` ${word}`) ? 1 : -100), 0);
  };
  const fitting = STEP_KINDS.map((kind) => ({ kind, score: score(kind) })).filter((one) => one.score >= 0);
  return words.length === 0 ? [...STEP_KINDS] : fitting.sort((a, b) => b.score - a.score).map(({ kind }) => kind);
}

/** Type what is wanted, or choose from all there is. Enter takes the first. */
export function AddStep({ onAdd, onClose }: { readonly onAdd: (kind: StepKind) => void; readonly onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const found = findKinds(typed);
  const chosen = found[Math.min(at, found.length - 1)];
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter' && chosen) onAdd(chosen);
    else if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, at + 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
    else return;
    event.preventDefault();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth slotProps={{ paper: { sx: { alignSelf: 'flex-start', mt: 8 } } }}>
      <Box sx={{ p: 2 }}>
        <TextField fullWidth autoFocus label="What should happen?" placeholder="read, look up, approve, mail, write to a list …" value={typed} onChange={(event) => { setTyped(event.target.value); setAt(0); }} onKeyDown={onKey} />
        {found.length === 0 && <Box sx={{ mt: 2, color: 'text.secondary' }}>Nothing here does that. What an application can do over HTTP, “Call” and “Send” can ask of it.</Box>}
        {typed === '' ? (
          <Box sx={{ mt: 2, columnCount: 2, columnGap: '20px' }}>
            {GROUPS.map((group) => (
              <Box key={group} sx={{ mb: 1.5, breakInside: 'avoid' }}>
                <Box sx={{ color: 'text.secondary', fontSize: 12.5, fontWeight: 600, mb: 0.25 }}>{group}</Box>
                {found.filter((kind) => CATALOGUE[kind].group === group).map((kind) => <KindChoice key={kind} kind={kind} chosen={false} onTake={() => onAdd(kind)} />)}
              </Box>
            ))}
          </Box>
        ) : <Box sx={{ mt: 2 }}>{found.map((kind) => <KindChoice key={kind} kind={kind} chosen={kind === chosen} onTake={() => onAdd(kind)} />)}</Box>}
      </Box>
    </Dialog>
  );
}

function KindChoice({ kind, chosen, onTake }: { readonly kind: StepKind; readonly chosen: boolean; readonly onTake: () => void }) {
  const { name, about } = CATALOGUE[kind];
  return (
    <ButtonBase onClick={onTake} sx={{ display: 'grid', gridTemplateColumns: '92px 1fr', gap: 1, width: '100%', textAlign: 'left', px: 1, py: 0.75, bgcolor: chosen ? 'chart.shallow' : 'transparent', '&:hover, &:focus-visible': { bgcolor: 'chart.shallow' } }}>
      <Box sx={{ fontWeight: 650 }}>{name}</Box>
      <Box sx={{ color: 'text.secondary' }}>{about}</Box>
    </ButtonBase>
  );
}
