import {
  isNewerForm,
  salvage,
  SONG_FORMAT,
  upgradeSong,
  type Problem,
  type Song,
  type SongView,
} from '@/core/model';

/** A song as it was opened. */
export interface OpenedSong {
  song: Song;
  /** How its patterns are shown, where an older form had that within the song. */
  view?: SongView;
  /** What of it was not sound and is left out; empty for nearly all songs. */
  lost: readonly Problem[];
}

/** A song, or a sentence that says why it cannot be opened and what became of it. */
export type ReadSong = OpenedSong | { problem: string };

const KEPT = 'It was left as it is and can be saved as a file.';

/**
 * What the database or a file holds, as a song: brought to the present form, and opened with what is
 * sound of it.
 */
export function readSong(stored: unknown): ReadSong {
  if (isNewerForm(stored)) {
    return {
      problem: `This song was saved by a newer Verse Loom (form ${stored.format}; this one reads form ${SONG_FORMAT}). Reload to get the newer one. ${KEPT}`,
    };
  }
  const { format } = (stored ?? {}) as { format?: unknown };
  if (typeof format === 'number' && format < 1) {
    return {
      problem: `This song was saved by an early trial of Verse Loom (form ${format}) that can no longer be read. ${KEPT}`,
    };
  }
  const { song: present, view } = upgradeSong(stored);
  const { song, problems } = salvage(present);
  if (!song || song.patterns.length === 0) {
    const where = problems[0]?.where;
    return {
      problem: `This song is damaged${where ? ` at “${where}”` : ''}: none of its patterns can be read. ${KEPT}`,
    };
  }
  return { song, lost: problems, ...(view && { view }) };
}
