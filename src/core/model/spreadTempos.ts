import { ticksOfBars, type Bpm, type TempoChange } from '../time';
import type { Place, Section } from './song';

/** What tempos are spread over. */
interface Spread {
  bpm: Bpm;
  sections: Section[];
  places: Place[];
}

/**
 * Gives sections and places the tempos that a file, or an older form, says at ticks of the song: each
 * place gets those that fall into it, and a section those of its first place.
 * @param changes in order, the first at 0; that one is the tempo of the song
 */
export function spreadTempos<T extends Spread>(song: T, changes: readonly TempoChange[]): T {
  const bpm = changes[0]?.bpm ?? song.bpm;
  const byId = new Map(song.sections.map((section) => [section.id, section]));
  const own = new Map<string, readonly TempoChange[]>();
  let start = 0;
  let next = 0;
  let now = bpm;
  const places = song.places.map((place) => {
    const section = byId.get(place.section);
    if (!section) return place;
    const end = start + ticksOfBars(section.meters, section.bars);
    while (next < changes.length && changes[next].at <= start) now = changes[next++].bpm;
    const here: TempoChange[] = [{ at: 0, bpm: now }];
    for (; next < changes.length && changes[next].at < end; next++) {
      here.push({ ...changes[next], at: changes[next].at - start });
      now = changes[next].bpm;
    }
    start = end;
    const plain = here.length === 1 && here[0].bpm === bpm;
    const first = own.get(section.id);
    if (first === undefined) own.set(section.id, plain ? [] : here);
    return first === undefined || sameTempos(first, plain ? [] : here)
      ? place
      : { ...place, tempos: here };
  });
  const sections = song.sections.map((section) => {
    const tempos = own.get(section.id) ?? [];
    return tempos.length > 0 ? { ...section, tempos } : section;
  });
  return { ...song, bpm, sections, places };
}

function sameTempos(a: readonly TempoChange[], b: readonly TempoChange[]): boolean {
  return (
    a.length === b.length &&
    a.every(({ at, bpm, glide }, i) => at === b[i].at && bpm === b[i].bpm && glide === b[i].glide)
  );
}
