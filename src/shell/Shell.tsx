'use client';

import { useRouter } from 'next/navigation';
import { SnackbarProvider } from 'notistack';
import { useEffect, type ReactNode } from 'react';
import { setPlatform } from '@/state/platform';
import { setNavigator } from '@/state/routes';
import { saveNow } from '@/state/session/session';
import { DropAnywhere } from './DropAnywhere';
import { GuidesDialog } from './GuidesDialog';
import { ImportDialog } from './ImportDialog';
import { KeyBindings } from './KeyBindings';
import { KeysDialog } from './KeysDialog';
import { Notices } from './Notices';
import { OpenedDialog } from './OpenedDialog';
import { page } from './page';
import { Palette } from './Palette';
import { TakeDialog } from './TakeDialog';

setPlatform(page);

/** What is there on every screen: keys, palette, notices, and files dropped anywhere. */
export function Shell({ children }: { children: ReactNode }) {
  const router = useRouter();
  useEffect(() => setNavigator((path) => router.push(path)), [router]);
  useEffect(keepOnLeaving, []);
  return (
    <SnackbarProvider maxSnack={3} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
      <DropAnywhere>{children}</DropAnywhere>
      <KeyBindings />
      <Palette />
      <KeysDialog />
      <ImportDialog />
      <GuidesDialog />
      <TakeDialog />
      <OpenedDialog />
      <Notices />
    </SnackbarProvider>
  );
}

/** Writes what is not stored yet when the page is hidden or left. */
function keepOnLeaving(): () => void {
  const onHidden = () => {
    if (document.visibilityState === 'hidden') void saveNow();
  };
  const onLeaving = () => void saveNow();
  document.addEventListener('visibilitychange', onHidden);
  window.addEventListener('pagehide', onLeaving);
  return () => {
    document.removeEventListener('visibilitychange', onHidden);
    window.removeEventListener('pagehide', onLeaving);
  };
}
