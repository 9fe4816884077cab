import type { Dynamics, ToneBand, ToneSetting } from '@/core/model';
import {
  chainOf,
  drumsOf,
  FIRST_DYNAMICS,
  stripOf,
  withBand,
  withDynamics,
  type Chain,
} from '@/core/tracks';
import { editOrSay, preview } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { chosenTrack, onChosen, within } from './balance';

/** A track, or without one all drums together. */
export type ChainOwner = string | undefined;

/** What the chosen track is heard through, or all drums. */
function chosenChain(): { track: ChainOwner; chain: Chain } {
  const track = chosenTrack(useWorkbench.getState())?.id;
  return { track, chain: chainOf(openSongNow(), track) };
}

/** A chain as it was when the present gesture began: what is not moved stays as it was then. */
function chainBefore(track: ChainOwner): Chain {
  const { gesture, history } = useWorkbench.getState();
  return chainOf((gesture?.before ?? history!).song, track);
}

/** Moves a band of a tone while a gesture lasts. */
export function slideTone(track: ChainOwner, band: ToneBand, to: Partial<ToneSetting>): void {
  const tone = withBand(chainBefore(track), band, to);
  preview([{ type: 'set chain', track, tone }], 'tone');
}

/** Sets what holds back what is loud, while a gesture lasts. */
export function slideDynamics(track: ChainOwner, to: Partial<Dynamics>): void {
  const dynamics = withDynamics(chainBefore(track), to);
  preview([{ type: 'set chain', track, dynamics }], 'dynamics');
}

/** @param drive 0 to 1 */
export function slideDrive(track: ChainOwner, drive: number): void {
  preview([{ type: 'set chain', track, drive }], 'drive');
}

/** Takes the tone of what is chosen out. */
export function flatTone(): void {
  editOrSay({ type: 'set chain', track: chosenChain().track, without: 'tone' }, 'tone');
}

/** Holds back what is loud of what is chosen, or no longer. */
export function toggleDynamics(): void {
  const { track, chain } = chosenChain();
  editOrSay(
    chain.dynamics
      ? { type: 'set chain', track, without: 'dynamics' }
      : { type: 'set chain', track, dynamics: FIRST_DYNAMICS },
    'dynamics',
  );
}

/** Lets dynamics begin at a lower or higher level. */
export function stepThreshold(decibels: number): void {
  const { track, chain } = chosenChain();
  const from = chain.dynamics ?? FIRST_DYNAMICS;
  const dynamics = withDynamics(chain, { threshold: from.threshold + decibels });
  editOrSay({ type: 'set chain', track, dynamics }, 'dynamics');
}

export function stepDrive(by: number): void {
  const { track, chain } = chosenChain();
  const drive = within(Math.round(((chain.drive ?? 0) + by) * 100) / 100, 0, 1);
  editOrSay({ type: 'set chain', track, drive }, 'drive');
}

export function flipTrack(): void {
  onChosen((track, song) => {
    const flip = stripOf(song, track.id).flip !== true;
    editOrSay({ type: 'set strip', track: track.id, flip }, 'phase');
  });
}

/** @param dry how much of a track goes past the bus of all drums, 0 to 1 */
export function slideDry(track: string, dry: number): void {
  preview([{ type: 'set strip', track, dry }], 'parallel, dry');
}

export function stepDry(by: number): void {
  onChosen((track, song) => {
    const dry = within(Math.round(((stripOf(song, track.id).dry ?? 0) + by) * 100) / 100, 0, 1);
    editOrSay({ type: 'set strip', track: track.id, dry }, 'parallel, dry');
  });
}

export function slideDrums(change: { level?: number; ceiling?: number }): void {
  preview([{ type: 'set drums', ...change }], 'drum bus');
}

export function stepCeiling(by: number): void {
  const ceiling = within(drumsOf(openSongNow()).ceiling + by, -24, 0);
  editOrSay({ type: 'set drums', ceiling }, 'ceiling');
}
