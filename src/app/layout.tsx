import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { LookProvider } from '@/look/LookProvider';
import { Shell } from '@/shell/Shell';

export const metadata: Metadata = {
  title: 'Verse Loom',
  description: 'A workbench for people who write drums as MIDI',
};

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="system" />
        <AppRouterCacheProvider>
          <LookProvider>
            <Shell>{children}</Shell>
          </LookProvider>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
