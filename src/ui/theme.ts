'use client';
import { createTheme } from '@mui/material/styles';

declare module '@mui/material/styles' {
  interface Palette {
    /** Sea-chart colours that MUI has no place for. */
    chart: { sheet: string; line: string; shallow: string; middle: string; deep: string; signal: string; faint: string };
  }
  interface PaletteOptions {
    chart?: Palette['chart'];
  }
}

export const TEXT_FACE = "'Atkinson Hyperlegible Next Variable', sans-serif";
export const VALUE_FACE = "'Atkinson Hyperlegible Mono Variable', monospace";

const day = { sheet: '#FFFEFA', line: '#D8D2C2', shallow: '#D5E6E3', middle: '#5B9499', deep: '#1B5A66', signal: '#B93A12', faint: '#5E6A6C' };
const night = { sheet: '#15262E', line: '#31474F', shallow: '#21424A', middle: '#5FA3A6', deep: '#8FD0CE', signal: '#FF9468', faint: '#A3B2B2' };

/** Paper by day, the night bridge by dark. One signal colour, for what needs somebody. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme' },
  colorSchemes: {
    light: { palette: { primary: { main: day.deep }, error: { main: day.signal }, background: { default: '#F7F4EC', paper: day.sheet }, text: { primary: '#14232B', secondary: day.faint }, divider: day.line, chart: day } },
    dark: { palette: { primary: { main: night.deep }, error: { main: night.signal }, background: { default: '#0E1A20', paper: night.sheet }, text: { primary: '#EAE6DA', secondary: night.faint }, divider: night.line, chart: night } },
  },
  shape: { borderRadius: 3 },
  typography: {
    fontFamily: TEXT_FACE,
    fontSize: 14,
    h1: { fontSize: 22, fontWeight: 650, letterSpacing: '-0.01em', lineHeight: 1.25 },
    h2: { fontSize: 16, fontWeight: 650, lineHeight: 1.3 },
    body1: { fontSize: 14, lineHeight: 1.45 },
    body2: { fontSize: 13, lineHeight: 1.4 },
    caption: { fontSize: 12 },
    button: { textTransform: 'none', fontWeight: 600, fontSize: 14 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: 'tabular-nums' },
        'kbd': { fontFamily: VALUE_FACE, fontSize: 11, border: '1px solid currentColor', borderRadius: 2, padding: '0 4px', opacity: 0.75 },
        'a': { color: 'inherit' },
        '@media (prefers-reduced-motion: reduce)': { '*, *::before, *::after': { animationDuration: '0.01ms !important', transitionDuration: '0.01ms !important' } },
      },
    },
    MuiButtonBase: { styleOverrides: { root: { fontFamily: 'inherit' } } },
    MuiButton: { defaultProps: { disableElevation: true, disableRipple: true, size: 'small' }, styleOverrides: { root: { minHeight: 32, paddingInline: 12 }, outlined: ({ theme: t }) => ({ borderColor: t.vars.palette.divider, backgroundColor: t.vars.palette.background.paper }) } },
    MuiIconButton: { defaultProps: { disableRipple: true, size: 'small' } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTooltip: { defaultProps: { arrow: false, enterDelay: 300 }, styleOverrides: { tooltip: ({ theme: t }) => ({ fontSize: 12.5, backgroundColor: t.vars.palette.text.primary, color: t.vars.palette.background.default }) } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiOutlinedInput: { styleOverrides: { root: ({ theme: t }) => ({ backgroundColor: t.vars.palette.background.paper, '& .MuiOutlinedInput-notchedOutline': { borderColor: t.vars.palette.divider } }), input: { paddingBlock: 7 } } },
    MuiTableCell: { styleOverrides: { root: ({ theme: t }) => ({ borderColor: t.vars.palette.divider, padding: '6px 10px', fontSize: 13.5 }), head: ({ theme: t }) => ({ fontWeight: 600, fontSize: 12.5, color: t.vars.palette.text.secondary, backgroundColor: t.vars.palette.background.default, whiteSpace: 'nowrap' }) } },
    MuiDialog: { styleOverrides: { paper: ({ theme: t }) => ({ border: `1px solid ${t.vars.palette.divider}` }) } },
  },
});
