'use client';

import { usePathname } from 'next/navigation';
import { lazy, Suspense, useEffect } from 'react';
import { firstView, firstViewShown } from '@/shell/firstView';
import { Missing } from '@/shell/Missing';
import { Opening } from '@/shell/Opening';
import { Songs } from '@/shell/Songs';
import { addressOf } from '@/state/addresses';
import type { FirstSong } from '@/state/session/firstVisit';

/** What a song is worked on with: loaded when it is asked for, or once the first view is there. */
const LATER = {
  frame: () => import('@/shell/SongFrame'),
  gather: () => import('@/stages/gather/Gather'),
  shape: () => import('@/stages/shape/Shape'),
  weave: () => import('@/stages/weave/Weave'),
  balance: () => import('@/stages/balance/Balance'),
  deliver: () => import('@/stages/deliver/Deliver'),
};

const SongFrame = lazy(async () => ({ default: (await LATER.frame()).SongFrame }));
const Gather = lazy(async () => ({ default: (await LATER.gather()).Gather }));
const Shape = lazy(async () => ({ default: (await LATER.shape()).Shape }));
const Weave = lazy(async () => ({ default: (await LATER.weave()).Weave }));
const Balance = lazy(async () => ({ default: (await LATER.balance()).Balance }));
const Deliver = lazy(async () => ({ default: (await LATER.deliver()).Deliver }));

const STAGES = {
  gather: <Gather />,
  shape: <Shape />,
  weave: <Weave />,
  balance: <Balance />,
  deliver: <Deliver />,
};

/**
 * What belongs to the address in the browser: the list of songs, or a stage of a song.
 * @param first the songs of a first visit; none later on
 */
export function Pages({ first }: { first: readonly FirstSong[] }) {
  const address = addressOf(usePathname());
  const stage = address?.page === 'song' ? address.stage : undefined;
  useEffect(() => {
    // A stage is on its way while its song is opened.
    if (stage) void LATER[stage]();
  }, [stage]);
  useEffect(() => {
    void firstView.then(() => Object.values(LATER).forEach((load) => void load()));
  }, []);
  const missing = !address;
  useEffect(() => {
    if (missing) firstViewShown();
  }, [missing]);
  if (!address) return <Missing />;
  if (address.page === 'songs') return <Songs first={first} />;
  return (
    <Suspense fallback={<Opening />}>
      <SongFrame id={address.id} stage={address.stage} stages={STAGES} />
    </Suspense>
  );
}
