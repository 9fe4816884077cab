'use client';

import { useRouter } from 'next/navigation';
import { SnackbarProvider } from 'notistack';
import { useEffect, type ReactNode } from 'react';
import { setNavigator } from '@/state/routes';
import { DropAnywhere } from './DropAnywhere';
import { GuidesDialog } from './GuidesDialog';
import { ImportDialog } from './ImportDialog';
import { KeyBindings } from './KeyBindings';
import { KeysDialog } from './KeysDialog';
import { Notices } from './Notices';
import { Palette } from './Palette';
import { TakeDialog } from './TakeDialog';

/** What is there on every screen: keys, palette, notices, and files dropped anywhere. */
export function Shell({ children }: { children: ReactNode }) {
  const router = useRouter();
  useEffect(() => setNavigator((path) => router.push(path)), [router]);
  return (
    <SnackbarProvider maxSnack={3} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
      <DropAnywhere>{children}</DropAnywhere>
      <KeyBindings />
      <Palette />
      <KeysDialog />
      <ImportDialog />
      <GuidesDialog />
      <TakeDialog />
      <Notices />
    </SnackbarProvider>
  );
}
