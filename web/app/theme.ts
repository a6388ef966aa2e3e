import { createTheme, type Theme } from '@mui/material/styles';
import { TEXT_FONT } from './fonts.ts';
import { PALETTES, type Mode } from './palette.ts';

const TEXT = TEXT_FONT;

/** MUI in our clothes: thin rules, quiet corners, no shadows, no capitals. */
export function makeTheme(mode: Mode): Theme {
  const p = PALETTES[mode];
  return createTheme({
    palette: {
      mode: mode === 'dark' ? 'dark' : 'light',
      primary: { main: p.sea, contrastText: p.onSea },
      secondary: { main: p.ink, contrastText: p.paper },
      error: { main: p.coral },
      warning: { main: p.brass },
      background: { default: p.paper, paper: p.sheet },
      text: { primary: p.ink, secondary: p.faint },
      divider: p.rule,
    },
    typography: {
      fontFamily: TEXT,
      fontSize: 15,
      button: { textTransform: 'none', fontWeight: 650, letterSpacing: 0 },
    },
    shape: { borderRadius: 7 },
    transitions: { create: () => 'none' },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true, variant: 'outlined', color: 'secondary' },
        styleOverrides: {
          root: {
            minHeight: 38,
            '@media (max-width: 760px)': { minHeight: 44 },
            padding: '5px 14px',
            lineHeight: 1.25,
            borderWidth: 1.5,
            '&:focus-visible': { outline: `3px solid ${p.brass}`, outlineOffset: 2 },
          },
          contained: { '&:hover': { filter: 'brightness(0.92)' } },
        },
      },
      MuiOutlinedInput: {
        styleOverrides: {
          root: {
            background: p.sheet,
            '& fieldset': { borderColor: p.faint, borderWidth: 1 },
            '&.Mui-focused fieldset': { borderColor: `${p.sea} !important` },
          },
          input: { padding: '7px 11px', height: 24, fontSize: 15 },
        },
      },
      MuiInputLabel: {
        defaultProps: { shrink: true },
        styleOverrides: {
          root: {
            position: 'static',
            transform: 'none',
            fontSize: 14,
            color: p.faint,
            marginBottom: 3,
            '&.Mui-focused': { color: p.ink },
          },
          asterisk: { display: 'none' },
        },
      },
      MuiTextField: { styleOverrides: { root: { '& legend': { display: 'none' }, '& fieldset': { top: 0 } } } },
      MuiFormHelperText: { styleOverrides: { root: { marginLeft: 0, fontSize: 14 } } },
      MuiDialog: {
        styleOverrides: {
          paper: { border: `1.5px solid ${p.ink}`, boxShadow: 'none', backgroundImage: 'none', background: p.paper },
        },
      },
      MuiDialogTitle: { styleOverrides: { root: { fontWeight: 700, fontSize: 20, paddingBottom: 6 } } },
      MuiDialogActions: {
        styleOverrides: { root: { padding: '10px 24px 20px', justifyContent: 'flex-start', gap: 4 } },
      },
      MuiCheckbox: {
        styleOverrides: {
          root: { padding: 6, color: p.ink, '&.Mui-focusVisible': { outline: `3px solid ${p.brass}` } },
        },
      },
    },
  });
}
