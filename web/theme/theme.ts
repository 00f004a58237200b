import { createTheme, type Theme } from '@mui/material/styles';
import type {} from '@mui/x-data-grid/themeAugmentation';
import type {} from '@mui/x-date-pickers/themeAugmentation';

/** MUI computes with colours, so these repeat the custom properties of tokens.css, which everything else uses. */
const light = {
  primary: { main: '#16323a', contrastText: '#f6f3ec' },
  error: { main: '#a32a22' },
  text: { primary: '#23282b', secondary: '#5c605d' },
  background: { default: '#f6f3ec', paper: '#ffffff' },
  divider: '#dfd8c8',
};
const dark = {
  primary: { main: '#9cc9d3', contrastText: '#0d1e23' },
  error: { main: '#f29a90' },
  text: { primary: '#e9e5da', secondary: '#a9aba3' },
  background: { default: '#14191b', paper: '#1d2427' },
  divider: '#343d40',
};

/** MUI with our shapes, density, type and focus; light or dark like the system. */
export const theme: Theme = createTheme({
  cssVariables: { colorSchemeSelector: 'media' },
  colorSchemes: { light: { palette: light }, dark: { palette: dark } },
  shape: { borderRadius: 8 },
  typography: {
    fontFamily: 'var(--font-interface)',
    fontSize: 13.5,
    button: { textTransform: 'none', fontWeight: 600, letterSpacing: 0 },
  },
  transitions: {
    duration: { enteringScreen: 120, leavingScreen: 80, standard: 120, short: 100, shorter: 80, shortest: 60 },
  },
  components: {
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { '&.Mui-focusVisible': { outline: '2px solid var(--time)', outlineOffset: 2 } } },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      styleOverrides: {
        root: { padding: '5px 13px', minHeight: 32, lineHeight: 1.4 },
        outlined: { borderColor: 'var(--hairline-firm)', color: 'var(--ink)', backgroundColor: 'var(--sheet)' },
      },
    },
    MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
    MuiOutlinedInput: {
      styleOverrides: {
        root: { backgroundColor: 'var(--sheet)', fontSize: 14 },
        input: { paddingTop: 7, paddingBottom: 7 },
        // Several lines have their padding from the input alone.
        multiline: { '&.MuiInputBase-sizeSmall': { paddingTop: 0, paddingBottom: 0 } },
        notchedOutline: { borderColor: 'var(--hairline-firm)' },
      },
    },
    MuiPickersTextField: { defaultProps: { slotProps: { inputLabel: { shrink: true } } } },
    MuiPickersInputBase: {
      styleOverrides: { root: { fontSize: 14 }, sectionsContainer: { paddingTop: 7, paddingBottom: 7 } },
    },
    MuiPickersOutlinedInput: {
      styleOverrides: {
        root: { backgroundColor: 'var(--sheet)' },
        sectionsContainer: { padding: '7px 0', lineHeight: '1.4375em' },
        notchedOutline: { borderColor: 'var(--hairline-firm)', fontSize: 14 },
      },
    },
    MuiInputLabel: {
      styleOverrides: {
        root: {
          color: 'var(--ink-soft)',
          fontSize: 14,
          '&.MuiInputLabel-sizeSmall:not(.MuiInputLabel-shrink)': { transform: 'translate(14px, 7px)' },
        },
      },
    },
    MuiFormControlLabel: { styleOverrides: { root: { margin: '-6px 0 -6px -9px' }, label: { fontSize: 13.5 } } },
    // Open and close at once: motion would explain nothing, and a key pressed meanwhile would go astray.
    MuiPopover: { defaultProps: { transitionDuration: 0 }, styleOverrides: { paper: sheet() } },
    MuiMenu: { defaultProps: { transitionDuration: 0 }, styleOverrides: { paper: sheet() } },
    MuiDialog: { styleOverrides: { paper: sheet() } },
    MuiAutocomplete: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        paper: sheet(),
        listbox: { maxHeight: 232, fontSize: 13.5 },
        option: { minHeight: '30px !important' },
      },
    },
    MuiListSubheader: { styleOverrides: { root: { lineHeight: '28px', fontSize: 12, color: 'var(--ink-soft)' } } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13.5, minHeight: 32 } } },
    MuiTooltip: {
      defaultProps: { arrow: false, enterDelay: 400 },
      styleOverrides: { tooltip: { backgroundColor: 'var(--ink)', color: 'var(--paper)', fontSize: 12 } },
    },
    MuiSwitch: { defaultProps: { size: 'small' } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          padding: '3px 11px',
          color: 'var(--ink)',
          borderColor: 'var(--hairline-firm)',
          fontSize: 13,
          '&.Mui-selected, &.Mui-selected:hover': { backgroundColor: 'var(--petrol)', color: 'var(--on-petrol)' },
        },
      },
    },
    MuiDataGrid: {
      styleOverrides: {
        root: {
          border: '1px solid var(--hairline)',
          borderRadius: 10,
          fontSize: 13,
          backgroundColor: 'var(--sheet)',
          '--DataGrid-containerBackground': 'var(--sheet-quiet)',
          '--DataGrid-rowBorderColor': 'var(--hairline)',
          '--DataGrid-t-color-border-base': 'var(--hairline)',
        },
        columnHeaderTitle: { fontWeight: 500, fontSize: 12.5, color: 'var(--ink-soft)' },
        columnSeparator: { color: 'var(--hairline)' },
        cell: { '&:focus, &:focus-within': { outline: '2px solid var(--time)', outlineOffset: -2 } },
        columnHeader: { '&:focus, &:focus-within': { outline: '2px solid var(--time)', outlineOffset: -2 } },
        row: {
          '&:hover': { backgroundColor: 'var(--sheet-quiet)' },
          '&.Mui-selected, &.Mui-selected:hover': { backgroundColor: 'var(--rail)' },
        },
        footerContainer: { minHeight: 38, borderTop: '1px solid var(--hairline)' },
      },
    },
    MuiTablePagination: { styleOverrides: { toolbar: { minHeight: 36 }, displayedRows: { fontSize: 12.5 } } },
    MuiChip: { styleOverrides: { root: { borderRadius: 6, height: 24 } } },
    MuiSkeleton: { defaultProps: { animation: false } },
  },
});

function sheet() {
  return { border: '1px solid var(--hairline)', boxShadow: 'var(--shadow)', backgroundColor: 'var(--sheet)' };
}
