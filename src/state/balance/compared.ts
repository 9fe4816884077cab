import type { Song } from '@/core/model';
import { Latest } from '@/core/memo';
import type { Workbench } from '../store';

const songs = new Latest<readonly unknown[], Song>(2, 1);

/** What is heard, mixed as it was noted, while the two are compared. */
export function mixedAsBefore({ comparingMix, mixBefore, songId }: Workbench, song: Song): Song {
  if (!comparingMix || !mixBefore || mixBefore.songId !== songId) return song;
  const key = [song, mixBefore];
  const { mixes, kit } = mixBefore;
  const same = (known: readonly unknown[]) => known.every((part, i) => part === key[i]);
  return songs.of('', same, key, () => ({ ...song, mixes, kit }));
}
