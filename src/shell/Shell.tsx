'use client';

import { SnackbarProvider } from 'notistack';
import { useEffect, type ReactNode } from 'react';
import { setPlatform } from '@/state/platform';
import { setNavigator } from '@/state/routes';
import { backUpByItself } from '@/state/session/backups';
import { hearOtherTabs, isAtRisk, saveNow } from '@/state/session/session';
import { BinDialog } from './BinDialog';
import { CompareDialog } from './CompareDialog';
import { DropAnywhere } from './DropAnywhere';
import { GuidesDialog } from './GuidesDialog';
import { HistoryDialog } from './HistoryDialog';
import { ImportDialog } from './ImportDialog';
import { keepVersion } from './installed';
import { KeyBindings } from './KeyBindings';
import { KeysDialog } from './KeysDialog';
import { LibraryDialog } from './LibraryDialog';
import { Notices } from './Notices';
import { OpenedDialog } from './OpenedDialog';
import { page } from './page';
import { Palette } from './Palette';
import { ReadingProgress } from './ReadingProgress';
import { ReadingReport } from './ReadingReport';
import { RemoveDialog } from './RemoveDialog';
import { SavePointsDialog } from './SavePointsDialog';
import { NumbersDialog } from './NumbersDialog';
import { SliceDialog } from './SliceDialog';
import { TakeDialog } from './TakeDialog';

setPlatform(page);

/** What is there on every screen: keys, palette, notices, and files dropped anywhere. */
export function Shell({ children }: { children: ReactNode }) {
  // The router hears of it, and asks the server for nothing.
  useEffect(() => setNavigator((path) => window.history.pushState(null, '', path)), []);
  useEffect(keepOnLeaving, []);
  useEffect(hearOtherTabs, []);
  useEffect(keepVersion, []);
  useEffect(backUpByItself, []);
  return (
    <SnackbarProvider maxSnack={3} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
      <DropAnywhere>{children}</DropAnywhere>
      <KeyBindings />
      <Palette />
      <KeysDialog />
      <ImportDialog />
      <GuidesDialog />
      <NumbersDialog />
      <SliceDialog />
      <TakeDialog />
      <RemoveDialog />
      <LibraryDialog />
      <OpenedDialog />
      <SavePointsDialog />
      <CompareDialog />
      <HistoryDialog />
      <BinDialog />
      <ReadingProgress />
      <ReadingReport />
      <Notices />
    </SnackbarProvider>
  );
}

/** Writes what is not stored yet when the page is hidden or left, and asks where it cannot be. */
function keepOnLeaving(): () => void {
  const onHidden = () => {
    if (document.visibilityState === 'hidden') void saveNow();
  };
  const onLeaving = () => void saveNow();
  const onClosing = (event: BeforeUnloadEvent) => {
    if (isAtRisk()) event.preventDefault();
  };
  window.addEventListener('beforeunload', onClosing);
  document.addEventListener('visibilitychange', onHidden);
  window.addEventListener('pagehide', onLeaving);
  return () => {
    document.removeEventListener('visibilitychange', onHidden);
    window.removeEventListener('pagehide', onLeaving);
    window.removeEventListener('beforeunload', onClosing);
  };
}
