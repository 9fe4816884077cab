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
          ':focus-visible': { outline: '2px solid var(--accent)', outlineOffset: 1 },
        }}
      />
      {children}
    </ThemeProvider>
  );
}

/** The scheme on screen and its tokens, for what is drawn rather than styled. */
export function useTokens(): Tokens & { scheme: Scheme } {
  const { mode, systemMode } = useColorScheme();
  const scheme = ((mode === 'system' ? systemMode : mode) ?? 'light') as Scheme;
  return useMemo(() => ({ ...TOKENS[scheme], scheme }), [scheme]);
}
