import type { Song } from '@/core/model';
import { Latest } from '@/core/memo';
import type { Workbench } from '../store';

const songs = new Latest<readonly unknown[], Song>(2, 1);

/** Whether the mix is heard as it was noted: until it is compared no longer, or changed. */
export function isComparing({ comparedMix, mixBefore, songId, history }: Workbench): boolean {
  if (!comparedMix || mixBefore?.songId !== songId) return false;
  const { mixes, kit } = history!.song;
  return comparedMix.mixes === mixes && comparedMix.kit === kit;
}

/** What is heard, mixed as it was noted, while the two are compared. */
export function mixedAsBefore(state: Workbench, song: Song): Song {
  if (!isComparing(state)) return song;
  const { mixes, kit } = state.mixBefore!;
  const key = [song, state.mixBefore];
  const same = (known: readonly unknown[]) => known.every((part, i) => part === key[i]);
  return songs.of('', same, key, () => ({ ...song, mixes, kit }));
}

/** The open song as its rows show it: as it is heard. */
export const mixShown = (state: Workbench): Song => mixedAsBefore(state, state.history!.song);
