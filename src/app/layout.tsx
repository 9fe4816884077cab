import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { LookProvider } from '@/look/LookProvider';
import { Shell } from '@/shell/Shell';

export const metadata: Metadata = {
  title: 'Verse Loom',
  description: 'A workbench for people who write drums as MIDI',
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="system" nonce={nonce} />
        <AppRouterCacheProvider>
          <LookProvider>
            <Shell>{children}</Shell>
          </LookProvider>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
