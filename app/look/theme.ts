import { createTheme } from '@mui/material/styles'
import { dark, light, type Palette } from './palette.js'

export const SANS = '"Hanken Grotesk Variable", system-ui, sans-serif'
export const SERIF = '"Newsreader Variable", Georgia, serif'

const scheme = (p: Palette) => ({
  palette: {
    primary: { main: p.water, contrastText: p.onWater },
    secondary: { main: p.hazel },
    error: { main: p.brick },
    warning: { main: p.hazel },
    success: { main: p.moss },
    text: { primary: p.ink, secondary: p.soft, disabled: p.faint },
    background: { default: p.paper, paper: p.sheet },
    divider: p.rule,
  },
})

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme' },
  colorSchemes: { light: scheme(light), dark: scheme(dark) },
  shape: { borderRadius: 8 },
  typography: {
    fontFamily: SANS,
    fontSize: 13.5,
    body1: { fontSize: 13.5, lineHeight: 1.45 },
    body2: { fontSize: 13, lineHeight: 1.45 },
    button: { textTransform: 'none', fontWeight: 600 },
  },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      styleOverrides: {
        root: { fontSize: 13, padding: '5px 13px', minHeight: 32, whiteSpace: 'nowrap' },
        outlined: { borderColor: 'var(--rule)', color: 'var(--ink)', background: 'var(--sheet)' },
        text: { color: 'var(--soft)' },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiPopover: {
      styleOverrides: {
        paper: { borderRadius: 12, border: '1px solid var(--rule)', boxShadow: '0 10px 34px rgba(20, 30, 34, 0.18)' },
      },
    },
    MuiDialog: { styleOverrides: { paper: { borderRadius: 12 } } },
    MuiDialogTitle: { styleOverrides: { root: { fontFamily: SERIF, fontSize: 21, fontWeight: 500 } } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiSelect: { defaultProps: { size: 'small' } },
    MuiTooltip: { defaultProps: { arrow: true, enterDelay: 400 } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13.5, minHeight: 34 } } },
  },
})
