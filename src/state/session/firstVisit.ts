import type { SongHead } from '@/storage/songs';

export type { SongHead } from '@/storage/songs';

/** A stretch of a row: where it begins and how long it is, as shares of the song, and its dye. */
export type Stretch = readonly [from: number, length: number, dye: number];

/** A song that a browser gets at its first visit, with its cloth a row a family. */
export interface FirstSong {
  head: SongHead;
  rows: readonly (readonly Stretch[])[];
}

/** A cookie that says that a browser has songs of its own: what the server tells of a first visit is not for it. */
export const BEEN_HERE = 'been-here';
