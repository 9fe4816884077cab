'use client';

import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import { useEffect } from 'react';
import { alongside } from '@/core/guide';
import type { Song } from '@/core';
import { laidPlaces, REACH_NAMES, REACHES, songBars, tempoOfSong } from '@/core/weave';
import { useAfterPaint } from '@/look/useAfterPaint';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { placesToChange, saidPlaces, setReach } from '@/state/weave/choosing';
import { toggleDraft } from '@/state/weave/drafting';
import type { WeaveView } from '@/state/weave/slice';
import { findAll, fittedGuide, toggleView, useFindings, useFitted } from '@/state/weave/views';

/** As much of a name as a line of facts has room for. */
const shortName = (name: string) => (name.length > 24 ? `${name.slice(0, 23)}…` : name);

/** What is true of the song as a whole, the views that look into it, and how far edits go. */
export function Facts() {
  const song = useWorkbench((state) => state.history!.song);
  const laid = laidPlaces(song);
  const seconds = Math.round(tempoOfSong(song).secondsAt(laid.at(-1)?.end ?? 0));
  const length =
    seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'baseline',
        gap: { xs: 1.25, lg: 2 },
        fontSize: 14,
        color: 'text.secondary',
        minHeight: 22,
        whiteSpace: 'nowrap',
        overflow: 'hidden',
      }}
    >
      {laid.length > 0 && (
        <>
          <span className="figures">
            {songBars(song)} bars · {length}
          </span>
          <Views song={song} />
          <Box sx={{ flex: 1 }} />
          <ReachSwitch />
        </>
      )}
    </Box>
  );
}

function Views({ song: now }: { song: Song }) {
  const song = useAfterPaint(now);
  const findings = useFindings(({ findings: found }) => found);
  useEffect(() => void findAll(song), [song]);
  const { piece } = useFitted();
  const guide = fittedGuide(song);
  const fits = guide ? alongside(song, guide, piece).percent : undefined;
  const wrong = findings?.wrong.length ?? 0;
  return (
    <>
      <ViewButton
        view="same"
        act="same-again"
        says={
          findings ? `repeated bars ${Math.round(findings.same.share * 100)} %` : 'repeated bars …'
        }
      />
      <ViewButton
        view="playable"
        act="playable"
        says={!findings ? 'playable …' : wrong === 0 ? 'playable' : `${wrong} not playable`}
        warns={wrong > 0}
      />
      <ViewButton
        view="fit"
        act="fit"
        says={
          guide
            ? `fits the ${shortName(song.guides.find(({ id }) => id === guide)!.name.toLowerCase())} ${fits} %`
            : 'fit'
        }
      />
      <DraftButton />
    </>
  );
}

/** Opens the draft: its line, its wishes, and what it says of itself. */
function DraftButton() {
  const shown = useWorkbench((state) => state.weaveView === 'draft');
  return (
    <Tooltip title={keyOf('draft')}>
      <Box
        component="button"
        type="button"
        data-draft-button
        aria-pressed={shown}
        onClick={toggleDraft}
        sx={{ ...plainButton, ...(shown && underlined) }}
      >
        draft
      </Box>
    </Tooltip>
  );
}

function ViewButton(props: { view: WeaveView; act: string; says: string; warns?: boolean }) {
  const { view, act, says, warns } = props;
  const shown = useWorkbench((state) => state.weaveView === view);
  return (
    <Tooltip title={keyOf(act)}>
      <Box
        component="button"
        type="button"
        aria-pressed={shown}
        onClick={() => toggleView(view)}
        className="figures"
        sx={{ ...plainButton, ...(warns && { color: 'var(--accent)' }), ...(shown && underlined) }}
      >
        {says}
      </Box>
    </Tooltip>
  );
}

export const plainButton = {
  border: 0,
  background: 'none',
  p: 0,
  pb: '1px',
  font: 'inherit',
  color: 'inherit',
  cursor: 'pointer',
  borderBottom: '2px solid transparent',
} as const;
const underlined = { color: 'var(--ink)', fontWeight: 600, borderBottomColor: 'var(--accent)' };

/** How far edits go, and how many places an edit here would change. */
function ReachSwitch() {
  const reach = useWorkbench((state) => state.reach);
  const count = useWorkbench((state) => placesToChange(state).length);
  return (
    <Box
      role="group"
      aria-label={`reach of edits (${keyOf('reach')})`}
      sx={{ display: 'flex', gap: { xs: 1, lg: 1.25 }, alignItems: 'baseline', fontSize: 12 }}
    >
      <Box component="span" sx={{ display: { xs: 'none', lg: 'inline' } }}>
        reach
      </Box>
      {REACHES.map((one) => (
        <Tooltip key={one} title={keyOf('reach')}>
          <Box
            component="button"
            type="button"
            aria-pressed={reach === one}
            onClick={() => setReach(one)}
            sx={{ ...plainButton, ...(reach === one && underlined) }}
          >
            {REACH_NAMES[one]}
          </Box>
        </Tooltip>
      ))}
      {count > 0 && (
        <Box component="span" aria-live="polite" sx={{ color: 'var(--accent)', fontWeight: 600 }}>
          <Box component="span" sx={{ display: { xs: 'none', lg: 'inline' } }}>
            an edit here changes{' '}
          </Box>
          {saidPlaces(count)}
        </Box>
      )}
    </Box>
  );
}
