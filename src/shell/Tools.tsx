'use client';

import dynamic from 'next/dynamic';
import { SnackbarProvider } from 'notistack';
import { useEffect } from 'react';
import { backUpByItself } from '@/state/session/backups';
import { hearOtherTabs, isAtRisk, saveNow } from '@/state/session/session';
import { useWorkbench } from '@/state/store';
import { BinDialog } from './BinDialog';
import { CompareDialog } from './CompareDialog';
import { GuidesDialog } from './GuidesDialog';
import { HistoryDialog } from './HistoryDialog';
import { ImportDialog } from './ImportDialog';
import { KeyBindings } from './KeyBindings';
import { KeysDialog } from './KeysDialog';
import { LibraryDialog } from './LibraryDialog';
import { Notices } from './Notices';
import { NumbersDialog } from './NumbersDialog';
import { OpenedDialog } from './OpenedDialog';
import { Palette } from './Palette';
import { ReadingProgress } from './ReadingProgress';
import { ReadingReport } from './ReadingReport';
import { RemoveDialog } from './RemoveDialog';
import { SavePointsDialog } from './SavePointsDialog';
import { SliceDialog } from './SliceDialog';
import { Tablature } from './Tablature';
import { TakeDialog } from './TakeDialog';

/** What is read or shown once in a while is loaded then. */
const GuideDialog = dynamic(() => import('./GuideDialog').then((all) => all.GuideDialog), {
  ssr: false,
});
const Tour = dynamic(() => import('./Tour').then((all) => all.Tour), { ssr: false });

/** What lies over every screen once it is there: keys, the palette, what is said, and all that is asked in between. */
export function Tools() {
  useEffect(keepOnLeaving, []);
  useEffect(hearOtherTabs, []);
  useEffect(backUpByItself, []);
  return (
    <>
      <KeyBindings />
      <Palette />
      <KeysDialog />
      <GuideDialog />
      <Tour />
      <ImportDialog />
      <GuidesDialog />
      <NumbersDialog />
      <SliceDialog />
      <TakeDialog />
      <Tablature />
      <RemoveDialog />
      <LibraryDialog />
      <OpenedDialog />
      <SavePointsDialog />
      <CompareDialog />
      <HistoryDialog />
      <BinDialog />
      <ReadingProgress />
      <ReadingReport />
      <SnackbarProvider maxSnack={1} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        <Notices />
      </SnackbarProvider>
      {/* Says that keys are listened to. */}
      <span data-tools hidden />
    </>
  );
}

/** Writes what is not stored yet when the page is hidden or left, and asks where it cannot be. */
function keepOnLeaving(): () => void {
  const onHidden = () => {
    if (document.visibilityState === 'hidden') void saveNow();
  };
  const onLeaving = () => void saveNow();
  const onClosing = (event: BeforeUnloadEvent) => {
    // Files that are being written would be lost, and what was made for them left empty.
    const { writing, bouncing } = useWorkbench.getState();
    if (isAtRisk() || writing || bouncing !== undefined) event.preventDefault();
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
