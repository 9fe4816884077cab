'use client';

import { usePathname } from 'next/navigation';
import dynamic from 'next/dynamic';
import { useEffect } from 'react';
import { firstView, firstViewShown } from '@/shell/firstView';
import { Missing } from '@/shell/Missing';
import { Opening } from '@/shell/Opening';
import { Songs } from '@/shell/Songs';
import { addressOf } from '@/state/addresses';
import type { FirstSong } from '@/state/session/firstVisit';

/**
 * The parts that a song is worked on with: loaded when it is asked for, or once the first view is there. The server
 * draws none of it, and leaves it out of its build.
 */
const LATER =
  typeof window === 'undefined'
    ? (undefined as never)
    : {
        frame: () => import('@/shell/SongFrame'),
        gather: () => import('@/stages/gather/Gather'),
        shape: () => import('@/stages/shape/Shape'),
        weave: () => import('@/stages/weave/Weave'),
        balance: () => import('@/stages/balance/Balance'),
        deliver: () => import('@/stages/deliver/Deliver'),
      };

const SongFrame = dynamic(async () => (await LATER.frame()).SongFrame, {
  ssr: false,
  loading: Opening,
});
const Gather = dynamic(async () => (await LATER.gather()).Gather, { ssr: false, loading: Opening });
const Shape = dynamic(async () => (await LATER.shape()).Shape, { ssr: false, loading: Opening });
const Weave = dynamic(async () => (await LATER.weave()).Weave, { ssr: false, loading: Opening });
const Balance = dynamic(async () => (await LATER.balance()).Balance, {
  ssr: false,
  loading: Opening,
});
const Deliver = dynamic(async () => (await LATER.deliver()).Deliver, {
  ssr: false,
  loading: Opening,
});

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
  return <SongFrame id={address.id} stage={address.stage} stages={STAGES} />;
}
