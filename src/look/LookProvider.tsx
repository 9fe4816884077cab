'use client';

import '@fontsource-variable/archivo';
import '@fontsource/archivo-narrow/500.css';
import '@fontsource/archivo-narrow/600.css';
import CssBaseline from '@mui/material/CssBaseline';
import GlobalStyles from '@mui/material/GlobalStyles';
import { ThemeProvider, useColorScheme } from '@mui/material/styles';
import { useMemo, type ReactNode } from 'react';
import { cssVariables, theme } from './theme';
import { TOKENS, type Scheme, type Tokens } from './tokens';

/** Theme, fonts and token variables for all that is inside. */
export function LookProvider({ children }: { children: ReactNode }) {
  return (
    <ThemeProvider theme={theme} defaultMode="system" disableTransitionOnChange>
      <CssBaseline enableColorScheme />
      <GlobalStyles
        styles={{
          ':root': cssVariables(TOKENS.light),
          '[data-scheme="dark"]': cssVariables(TOKENS.dark),
          'html, body': { height: '100%', overflow: 'hidden' },
          body: { fontSize: 14, fontFeatureSettings: '"tnum"' },
          '*': { scrollbarWidth: 'thin', scrollbarColor: 'var(--line) transparent' },
          '.figures': { fontFamily: 'var(--figures)', fontWeight: 500 },
          '.driver-popover.tour': {
            background: 'var(--paper)',
            color: 'var(--ink)',
            borderRadius: 0,
            border: '1px solid var(--ink)',
            maxWidth: 340,
            fontFamily: 'inherit',
          },
          '.driver-popover.tour .driver-popover-title': { fontFamily: 'inherit', fontSize: 16 },
          '.driver-popover.tour .driver-popover-description': {
            fontFamily: 'inherit',
            fontSize: 14,
            lineHeight: 1.5,
          },
          '.driver-popover.tour button:not(.driver-popover-close-btn)': {
            font: 'inherit',
            fontSize: 13,
            color: 'var(--ink)',
            background: 'none',
            border: '1px solid var(--line)',
            borderRadius: 0,
            padding: '4px 10px',
            textShadow: 'none',
            cursor: 'pointer',
          },
          '.driver-popover.tour .tour-skip': { border: 0, textDecoration: 'underline' },
          '.driver-popover.tour .driver-popover-arrow': { display: 'none' },
          // Components have outlines of none in their own styles. What is worked on shows its cursor instead.
          ':focus-visible:not([data-work], [role=grid], [role=dialog], .MuiDialog-container, input, textarea)':
            FOCUSED,
          '.MuiSlider-thumb:has(:focus-visible)': FOCUSED,
          ':is(.MuiCheckbox-root, .MuiSwitch-switchBase):has(:focus-visible)': {
            ...FOCUSED,
            outlineOffset: -6,
          },
          // Colours that carry a meaning stay where the system sets all others.
          '@media (forced-colors: active)': {
            'div[aria-hidden], div[aria-hidden] *, .MuiSlider-track, .MuiSlider-thumb, .MuiSlider-rail':
              { forcedColorAdjust: 'none' },
            ':is(button, [role=option], [role=gridcell]):is([aria-pressed=true], [aria-selected=true], [aria-checked=true]), .MuiButton-contained':
              {
                forcedColorAdjust: 'none',
                backgroundColor: 'Highlight',
                color: 'HighlightText',
              },
          },
        }}
      />
      {children}
    </ThemeProvider>
  );
}

/** How a control shows that it has the focus. */
const FOCUSED = { outline: '2px solid var(--accent) !important', outlineOffset: 1 } as const;

/** The scheme on screen and its tokens, for what is drawn rather than styled. */
export function useTokens(): Tokens & { scheme: Scheme } {
  const { mode, systemMode } = useColorScheme();
  const scheme = ((mode === 'system' ? systemMode : mode) ?? 'light') as Scheme;
  return useMemo(() => ({ ...TOKENS[scheme], scheme }), [scheme]);
}
