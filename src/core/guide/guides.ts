import type { Guide, Song } from '../model/song';

export function addGuide(song: Song, guide: Guide): Song {
  if (guide.notes.length === 0 || song.guides?.some(({ id }) => id === guide.id)) return song;
  return { ...song, guides: [...(song.guides ?? []), guide] };
}

/** Moves, renames, mutes a guide or sets how loud it is, 0 to 1. */
export function changeGuide(
  song: Song,
  id: string,
  change: Partial<Pick<Guide, 'at' | 'level' | 'muted' | 'name'>>,
): Song {
  const before = song.guides?.find((guide) => guide.id === id);
  if (!before) return song;
  const after = { ...before, ...change };
  if (!(after.level >= 0 && after.level <= 1 && after.at >= 0)) return song;
  return { ...song, guides: song.guides!.map((guide) => (guide === before ? after : guide)) };
}

export function removeGuide(song: Song, id: string): Song {
  return song.guides?.some((guide) => guide.id === id)
    ? { ...song, guides: song.guides.filter((guide) => guide.id !== id) }
    : song;
}
