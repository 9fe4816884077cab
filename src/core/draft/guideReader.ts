import { onsetsBetween, placedGuides } from '../guide';
import type { Song } from '../model';
import type { Ticks } from '../time';
import { laidPlaces } from '../weave';
import type { GuideReader } from './phrases';

/** Reads the notes of a song's guides that are not muted, stretch by stretch. */
export function guideReader(song: Song): GuideReader {
  const guides = placedGuides(song).filter(({ guide }) => !guide.muted);
  const last = laidPlaces(song).at(-1)?.end ?? 0;
  const all = guides.length > 0 ? onsetsBetween(guides, 0, last + 1) : [];
  const said = guides[0]?.guide.name.trim() ?? '';
  const name = /bass/i.test(said) ? 'bass' : said === '' ? 'guide' : `guide “${said}”`;
  return (from, to) => {
    let low = 0;
    let high = all.length;
    // A note that is a hair early belongs to the bar it leads into.
    const early = 60;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (all[middle] < from - early) low = middle + 1;
      else high = middle;
    }
    const onsets: Ticks[] = [];
    for (let i = low; i < all.length && all[i] < to - early; i++) {
      onsets.push(Math.max(0, all[i] - from));
    }
    return { name, onsets };
  };
}
