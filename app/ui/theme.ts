import { createTheme, type MantineColorsTuple } from '@mantine/core';

const verdigris: MantineColorsTuple = [
  '#e9f6f4',
  '#d3e9e6',
  '#a6d3cd',
  '#76bcb3',
  '#4fa89d',
  '#389c8f',
  '#2b8b7f',
  '#1E6F66',
  '#165b54',
  '#0c4640',
];

/** One hue, quiet surfaces; the colours of states are in tokens.css. */
export const theme = createTheme({
  primaryColor: 'verdigris',
  primaryShade: 7,
  colors: { verdigris },
  fontFamily: "'Instrument Sans Variable', system-ui, sans-serif",
  fontFamilyMonospace: "'JetBrains Mono Variable', ui-monospace, monospace",
  headings: { fontFamily: "'Instrument Sans Variable', system-ui, sans-serif", fontWeight: '600' },
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '20px' },
  defaultRadius: 4,
  cursorType: 'pointer',
  respectReducedMotion: true,
  components: {
    // Its own holder of the focus is no entry of a menu.
    Menu: { defaultProps: { withInitialFocusPlaceholder: false } },
    Modal: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Button: { defaultProps: { size: 'xs', fw: 600 } },
    TextInput: { defaultProps: { size: 'xs' } },
    Textarea: { defaultProps: { size: 'xs' } },
    PasswordInput: { defaultProps: { size: 'sm' } },
    Select: { defaultProps: { size: 'xs' } },
    Checkbox: { defaultProps: { size: 'xs' } },
    Radio: { defaultProps: { size: 'xs' } },
    Switch: { defaultProps: { size: 'xs' } },
    SegmentedControl: { defaultProps: { size: 'xs' } },
  },
});
