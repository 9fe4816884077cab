'use client';

import { usePathname } from 'next/navigation';
import { Missing } from '@/shell/Missing';
import { SongFrame } from '@/shell/SongFrame';
import { Songs } from '@/shell/Songs';
import { Balance } from '@/stages/balance/Balance';
import { Deliver } from '@/stages/deliver/Deliver';
import { Gather } from '@/stages/gather/Gather';
import { Shape } from '@/stages/shape/Shape';
import { Weave } from '@/stages/weave/Weave';
import { addressOf } from '@/state/routes';

const STAGES = {
  gather: <Gather />,
  shape: <Shape />,
  weave: <Weave />,
  balance: <Balance />,
  deliver: <Deliver />,
};

/** What belongs to the address in the browser: the list of songs, or a stage of a song. */
export function Pages() {
  const address = addressOf(usePathname());
  if (!address) return <Missing />;
  if (address.page === 'songs') return <Songs />;
  return <SongFrame id={address.id} stage={address.stage} stages={STAGES} />;
}
