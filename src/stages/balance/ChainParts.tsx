'use client';

import { chainOf } from '@/core/tracks';
import { IN_PERCENT } from '@/look/TypedValue';
import * as chain from '@/state/balance/chain';
import { useWorkbench } from '@/state/store';
import { Dial } from './Dial';
import { DynamicsCurve } from './DynamicsCurve';
import { ToneCurve } from './ToneCurve';

/** What a track, or all drums together, go through: tone, dynamics and drive. */
export function ChainParts(props: {
  /** Absent is all drums. */
  track?: string;
  name: string;
  reduction(): number;
}) {
  const { track, name, reduction } = props;
  const song = useWorkbench((state) => state.history!.song);
  const { tone, dynamics, drive = 0 } = chainOf(song, track);
  return (
    <>
      <ToneCurve track={track} name={name} tone={tone} />
      <DynamicsCurve track={track} name={name} dynamics={dynamics} reduction={reduction} />
      <Dial
        label="drive"
        name={`drive of ${name}`}
        value={drive}
        usual={0}
        typed={IN_PERCENT}
        min={0}
        max={1}
        step={0.01}
        says={percent}
        onSlide={(to) => chain.slideDrive(track, to)}
      />
    </>
  );
}

/** A share in percent. */
export const percent = (share: number) => `${Math.round(share * 100)} %`;
