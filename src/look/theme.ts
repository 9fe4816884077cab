import { createTheme } from '@mui/material/styles';
import { TOKENS, type Scheme, type Tokens } from './tokens';

/** One sans for the interface; one with tabular figures for bars, beats and values. */
export const SANS = "'Archivo Variable', 'Helvetica Neue', Arial, sans-serif";
export const FIGURES = "'Archivo Narrow', 'Arial Narrow', Arial, sans-serif";

function palette(mode: Scheme, t: Tokens) {
  return {
    mode,
    background: { default: t.ground, paper: t.paper },
    text: { primary: t.ink, secondary: t.softInk },
    divider: t.line,
    primary: { main: t.ink, contrastText: t.paper },
    secondary: { main: t.accent, contrastText: t.onAccent },
    error: { main: t.accent, contrastText: t.onAccent },
  };
}

/** Token colours as CSS variables, for styles that are not made of MUI parts. */
export function cssVariables(t: Tokens): Record<string, string> {
  return {
    '--ground': t.ground,
    '--panel': t.panel,
    '--paper': t.paper,
    '--paper-shade': t.paperShade,
    '--line': t.line,
    '--fine-line': t.fineLine,
    '--ink': t.ink,
    '--soft-ink': t.softInk,
    '--accent': t.accent,
    '--on-accent': t.onAccent,
    '--sans': SANS,
    '--figures': FIGURES,
    ...Object.fromEntries(t.dyes.map((dye, i) => [`--dye-${i}`, dye])),
  };
}

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme' },
  colorSchemes: {
    light: { palette: palette('light', TOKENS.light) },
    dark: { palette: palette('dark', TOKENS.dark) },
  },
  shape: { borderRadius: 3 },
  spacing: 8,
  transitions: { create: () => 'none' },
  typography: {
    fontFamily: SANS,
    fontSize: 14,
    htmlFontSize: 16,
    h1: { fontSize: 28, fontWeight: 600, letterSpacing: '-0.01em' },
    h2: { fontSize: 20, fontWeight: 600 },
    h3: { fontSize: 16, fontWeight: 600 },
    body1: { fontSize: 14 },
    body2: { fontSize: 12 },
    caption: { fontSize: 12 },
    button: { textTransform: 'none', fontSize: 14, fontWeight: 500 },
  },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { size: 'small', variant: 'outlined', color: 'primary' },
      styleOverrides: {
        root: ({ theme: t }) => ({
          boxShadow: 'none',
          minWidth: 0,
          padding: '3px 12px',
          whiteSpace: 'nowrap',
          '&.Mui-focusVisible': { outline: `2px solid ${t.vars!.palette.secondary.main}` },
        }),
        outlined: ({ theme: t }) => ({
          borderColor: t.vars!.palette.divider,
          backgroundColor: t.vars!.palette.background.paper,
        }),
        contained: { boxShadow: 'none', '&:hover': { boxShadow: 'none' } },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiDialog: {
      // Only the playhead moves, and what follows it.
      defaultProps: { transitionDuration: 0 },
      styleOverrides: {
        paper: ({ theme: t }) => ({
          border: `1px solid ${t.vars!.palette.divider}`,
          boxShadow: '0 8px 40px rgb(0 0 0 / 18%)',
        }),
      },
    },
    MuiBackdrop: {
      styleOverrides: {
        root: {
          '&:not(.MuiBackdrop-invisible)': { backgroundColor: 'rgb(20 22 34 / 32%)' },
        },
      },
    },
    MuiPopover: { defaultProps: { transitionDuration: 0 } },
    MuiMenu: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: {
        paper: ({ theme: t }) => ({
          border: `1px solid ${t.vars!.palette.divider}`,
          boxShadow: '0 4px 24px rgb(0 0 0 / 14%)',
        }),
      },
    },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 14, minHeight: 32 } } },
    MuiTooltip: {
      // The title describes; the name of a button stays its own text.
      defaultProps: { enterDelay: 500, disableInteractive: true, describeChild: true },
      styleOverrides: { tooltip: { fontSize: 12 } },
    },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiOutlinedInput: { styleOverrides: { input: { padding: '5px 8px', fontSize: 14 } } },
    MuiSelect: { styleOverrides: { select: { padding: '5px 8px', fontSize: 14 } } },
    MuiToggleButton: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          padding: '3px 8px',
          textTransform: 'none',
          fontSize: 14,
          lineHeight: 1.5,
          color: t.vars!.palette.text.primary,
          borderColor: t.vars!.palette.divider,
          backgroundColor: t.vars!.palette.background.paper,
          '&.Mui-selected, &.Mui-selected:hover': {
            color: t.vars!.palette.primary.contrastText,
            backgroundColor: t.vars!.palette.primary.main,
          },
        }),
      },
    },
    MuiSlider: {
      defaultProps: { size: 'small', color: 'primary' },
      styleOverrides: { thumb: { boxShadow: 'none' }, rail: { opacity: 0.35 } },
    },
  },
});
