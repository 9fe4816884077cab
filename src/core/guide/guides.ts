import type { Guide, Song } from '../model';
import { guideStart, laidPlaces } from '../weave';

export function addGuide(song: Song, guide: Guide): Song {
  if (guide.notes.length === 0 || song.guides.some(({ id }) => id === guide.id)) return song;
  return { ...song, guides: [...song.guides, guide] };
}

/** What can be changed of a guide: its name, whether it is heard, and how loud it is, 0 to 1. */
export type GuideChange = Partial<Pick<Guide, 'level' | 'muted' | 'name'>>;

export function changeGuide(song: Song, id: string, change: GuideChange): Song {
  return withGuide(song, id, (guide) => {
    const after = { ...guide, ...change };
    const keys = Object.keys(change) as (keyof GuideChange)[];
    return keys.every((key) => guide[key] === after[key]) ? guide : after;
  });
}

/**
 * Lets a guide start at a tick of the song. What it is anchored to stays: the start of the song, or
 * the place that is there.
 */
export function moveGuide(song: Song, id: string, tick: number): Song {
  return withGuide(song, id, (guide) => {
    const place = guide.place !== undefined;
    return startingAt(song, guide, tick, place);
  });
}

/** Anchors a guide to the place it starts in, so that it moves along, or to the start of the song. */
export function anchorGuide(song: Song, id: string, to: 'place' | 'song'): Song {
  return withGuide(song, id, (guide) =>
    startingAt(song, guide, guideStart(song, guide), to === 'place'),
  );
}

function startingAt(song: Song, guide: Guide, tick: number, inPlace: boolean): Guide {
  const { place: _, ...rest } = guide;
  const here = inPlace ? laidPlaces(song).findLast(({ start }) => start <= tick) : undefined;
  const next: Guide = here
    ? { ...rest, place: here.place.id, at: tick - here.start }
    : { ...rest, at: tick };
  return next.at === guide.at && next.place === guide.place ? guide : next;
}

export function removeGuide(song: Song, id: string): Song {
  return song.guides.some((guide) => guide.id === id)
    ? { ...song, guides: song.guides.filter((guide) => guide.id !== id) }
    : song;
}

function withGuide(song: Song, id: string, change: (guide: Guide) => Guide): Song {
  const before = song.guides.find((guide) => guide.id === id);
  const after = before && change(before);
  if (!after || after === before) return song;
  return { ...song, guides: song.guides.map((guide) => (guide === before ? after : guide)) };
}
