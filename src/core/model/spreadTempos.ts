import { ticksOfBars, type Bpm, type TempoChange, type Ticks } from '../time';
import { MOST } from './limits';
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
 * @param fewer called for each section with more tempos than it can hold: how many it has, and how many stand for them
 */
export function spreadTempos<T extends Spread>(
  song: T,
  changes: readonly TempoChange[],
  fewer: (section: string, of: number, left: number) => void = () => {},
): T {
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
    const all: TempoChange[] = [{ at: 0, bpm: now }];
    for (; next < changes.length && changes[next].at < end; next++) {
      all.push({ ...changes[next], at: changes[next].at - start });
      now = changes[next].bpm;
    }
    const here = fewerTempos(all, end - start);
    if (here !== all) fewer(section.id, all.length, here.length);
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

/** As many tempos as a section can hold. Several are one that takes as long as they do together, and none glides. */
function fewerTempos(all: TempoChange[], end: Ticks): TempoChange[] {
  if (all.length <= MOST.spans) return all;
  const together = Math.ceil(all.length / MOST.spans);
  return Array.from({ length: Math.ceil(all.length / together) }, (_, i): TempoChange => {
    const from = i * together;
    const to = Math.min(all.length, from + together);
    const until = (n: number) => all[n]?.at ?? end;
    let beats = 0;
    for (let n = from; n < to; n++) beats += (until(n + 1) - all[n].at) / all[n].bpm;
    const { at, bpm } = all[from];
    return { at, bpm: beats > 0 ? (until(to) - at) / beats : bpm };
  });
}
