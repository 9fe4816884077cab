import type { Guide, Song } from '../model';
import type { Ticks } from '../time';
import { laidPlaces } from './sections';

/** Where in the song a guide starts: it goes along with the place it is anchored to. */
export function guideStart(song: Pick<Song, 'places' | 'sections'>, guide: Guide): Ticks {
  if (guide.place === undefined) return guide.at;
  const laid = laidPlaces(song).find(({ place }) => place.id === guide.place);
  return (laid?.start ?? 0) + guide.at;
}
