import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';

export interface Choice {
  readonly value: string;
  readonly label: string;
  readonly count?: number | undefined;
}

/** One of a few, as words in a row; the chosen one is underlined. */
export function Choices({ label, choices, value, onChoose }: { readonly label: string; readonly choices: readonly Choice[]; readonly value: string; readonly onChoose: (value: string) => void }) {
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
      {choices.map((choice) => {
        const chosen = choice.value === value;
        return (
          <ButtonBase key={choice.value} disableRipple aria-pressed={chosen} onClick={() => onChoose(choice.value)} sx={{ px: 1, height: 30, fontSize: 13.5, fontWeight: chosen ? 650 : 450, color: chosen ? 'text.primary' : 'text.secondary', borderBottom: 2, borderColor: chosen ? 'chart.deep' : 'transparent', '&:hover, &:focus-visible': { color: 'text.primary', bgcolor: 'background.paper' } }}>
            {choice.label}
            {choice.count !== undefined && <Box component="span" sx={{ ml: 0.75, color: 'text.secondary', fontWeight: 450 }}>{choice.count}</Box>}
          </ButtonBase>
        );
      })}
    </Box>
  );
}
