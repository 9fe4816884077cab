'use client';

import Box from '@mui/material/Box';
import { useWorkbench } from '@/state/store';
import { ClothView } from './ClothView';
import { BounceDialog } from './BounceDialog';
import { DraftBar } from './DraftBar';
import { DraftFoot } from './DraftFoot';
import { FillDialog } from './FillDialog';
import { FitPanel } from './FitPanel';
import { FormDialog } from './FormDialog';
import { LinkDialog } from './LinkDialog';
import { LongerDialog } from './LongerDialog';
import { PerformDialog } from './PerformDialog';
import { PlaceCard } from './PlaceCard';
import { PlayablePanel } from './PlayablePanel';
import { ReplaceDialog } from './ReplaceDialog';
import { SamePanel } from './SamePanel';
import { Shelf } from './Shelf';
import { VaryPanel } from './VaryPanel';
import { WishPanel } from './WishPanel';

/** The song put together: the shelf on the left, the cloth, and what is known of the chosen place. */
export function Weave() {
  const drafting = useWorkbench(
    ({ weaveView, history }) => weaveView === 'draft' && history!.song.places.length > 0,
  );
  return (
    <Box
      sx={{
        height: '100%',
        display: 'grid',
        gridTemplateColumns: drafting ? 'minmax(0, 1fr) 288px' : '208px minmax(0, 1fr)',
        gridTemplateRows: drafting ? 'auto minmax(0, 1fr)' : 'minmax(0, 1fr)',
      }}
    >
      {drafting && (
        <Box sx={{ gridColumn: '1 / -1' }}>
          <DraftBar />
        </Box>
      )}
      {!drafting && <Shelf />}
      <Box
        sx={{
          minHeight: 0,
          display: 'grid',
          gridTemplateRows: 'minmax(0, 1fr) auto',
          gridTemplateColumns: 'minmax(0, 1fr)',
          p: 2,
          pt: 1.25,
          gap: 1.25,
        }}
      >
        <ClothView />
        <Below />
      </Box>
      {drafting && <WishPanel />}
      <FormDialog />
      <FillDialog />
      <BounceDialog />
      <ReplaceDialog />
      <LinkDialog />
      <LongerDialog />
      <PerformDialog />
    </Box>
  );
}

/** What stands under the cloth. */
function Below() {
  const view = useWorkbench((state) => state.weaveView);
  const empty = useWorkbench((state) => state.history!.song.places.length === 0);
  if (empty) return null;
  if (view === 'same') return <SamePanel />;
  if (view === 'playable') return <PlayablePanel />;
  if (view === 'fit') return <FitPanel />;
  if (view === 'vary') return <VaryPanel />;
  if (view === 'draft') return <DraftFoot />;
  return <PlaceCard />;
}
