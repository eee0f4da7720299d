import { createTheme } from '@mantine/core';

/** Flat and neutral: the only shadows on the screen are the user's. One accent, verdigris. */
export const theme = createTheme({
  fontFamily: "'Figtree Variable', sans-serif",
  fontFamilyMonospace: "'Spline Sans Mono Variable', monospace",
  primaryColor: 'verdigris',
  primaryShade: { light: 7, dark: 6 },
  defaultRadius: 4,
  autoContrast: true,
  respectReducedMotion: true,
  shadows: { xs: 'none', sm: 'none', md: 'none', lg: 'none', xl: 'none' },
  colors: {
    verdigris: [
      '#e9f5f2',
      '#d3eae5',
      '#a8d5cb',
      '#7abfb0',
      '#53ac99',
      '#3b9c87',
      '#27806e',
      '#1f7363',
      '#155c4f',
      '#0b463c',
    ],
  },
  components: {
    NativeSelect: { defaultProps: { rightSectionProps: { 'aria-hidden': true } } },
    Tooltip: { defaultProps: { openDelay: 500 } },
    Menu: { styles: { item: { fontSize: 13, padding: '5px 10px' } } },
    // A dialog that closes is gone at once: it lies over everything, and would take the next click.
    Modal: {
      defaultProps: { transitionProps: { duration: 0 } },
      styles: { title: { fontSize: 16, fontWeight: 600 } },
    },
    Popover: { defaultProps: { withinPortal: true } },
  },
});
