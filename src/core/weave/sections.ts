import { barTicks, beatTicks, COMMON_TIME, type Meter } from '../time/meter';
import type { Ticks } from '../time/units';
import { findSection, type Place, type Section, type Song } from '../model/song';

/** Length of a section, from its first beat to its end. */
export function sectionTicks(section: Pick<Section, 'meter' | 'bars'>): Ticks {
  return barTicks(section.meter) * section.bars;
}

/** A place with its section and where in the song it lies. */
export interface LaidPlace {
  place: Place;
  section: Section;
  /** Which place of the song it is, from 0. */
  index: number;
  /** First bar, counted from 0. */
  firstBar: number;
  start: Ticks;
  end: Ticks;
}

const laidCache = new WeakMap<readonly Place[], { sections: unknown; laid: LaidPlace[] }>();

/** All places one after another, as the song plays them. */
export function laidPlaces(song: Song): LaidPlace[] {
  const cached = laidCache.get(song.places);
  if (cached?.sections === song.sections) return cached.laid;
  const byId = new Map(song.sections.map((section) => [section.id, section]));
  const laid: LaidPlace[] = [];
  let start = 0;
  let firstBar = 0;
  song.places.forEach((place, index) => {
    const section = byId.get(place.section);
    if (!section) return;
    const end = start + sectionTicks(section);
    laid.push({ place, section, index, firstBar, start, end });
    start = end;
    firstBar += section.bars;
  });
  laidCache.set(song.places, { sections: song.sections, laid });
  return laid;
}

export function songTicks(song: Song): Ticks {
  return laidPlaces(song).at(-1)?.end ?? 0;
}

export function songBars(song: Song): number {
  const last = laidPlaces(song).at(-1);
  return last ? last.firstBar + last.section.bars : 0;
}

/** A place in the song as musicians say it: bar and beat counted from 1, and ticks beyond the beat. */
export interface Position {
  bar: number;
  beat: number;
  ticks: Ticks;
}

/** Where a tick lies; beyond the end the last meter goes on. */
export function positionAt(song: Song, tick: Ticks): Position {
  const laid = laidPlaces(song);
  const here = laid.findLast(({ start }) => start <= tick) ?? laid[0];
  const meter: Meter = here?.section.meter ?? COMMON_TIME;
  const local = tick - (here?.start ?? 0);
  const bar = Math.floor(local / barTicks(meter));
  const inBar = local - bar * barTicks(meter);
  const beatLength = beatTicks(meter);
  const beat = Math.floor(inBar / beatLength);
  return {
    bar: (here?.firstBar ?? 0) + bar + 1,
    beat: beat + 1,
    ticks: Math.floor(inBar - beat * beatLength),
  };
}

/** Where a bar of the song begins, counted from 1; beyond the end the last meter goes on. */
export function tickOfBar(song: Song, bar: number): Ticks {
  const laid = laidPlaces(song).findLast(({ firstBar }) => firstBar < bar);
  const meter = laid?.section.meter ?? COMMON_TIME;
  return (laid?.start ?? 0) + (bar - 1 - (laid?.firstBar ?? 0)) * barTicks(meter);
}

/** The bar line at or before a tick, and the one after it. */
export function barAround(song: Song, tick: Ticks): { from: Ticks; to: Ticks } {
  const laid = laidPlaces(song);
  const here = laid.findLast(({ start }) => start <= tick) ?? laid[0];
  if (!here) return { from: 0, to: 0 };
  const length = barTicks(here.section.meter);
  const bar = Math.max(
    0,
    Math.min(here.section.bars - 1, Math.floor((tick - here.start) / length)),
  );
  return { from: here.start + bar * length, to: here.start + (bar + 1) * length };
}

/** In how many places of the song a section appears. */
export function placesOf(song: Song, sectionId: string): number {
  return song.places.filter((place) => place.section === sectionId).length;
}

/** What a place is called on the cloth: "verse 2" when several places are of the same kind. */
export function placeName(song: Song, laid: LaidPlace): string {
  const { section } = laid;
  const alike = song.places.filter(
    (place) => findSection(song, place.section)?.name === section.name,
  );
  return alike.length > 1
    ? `${section.name} ${alike.findIndex((place) => place.id === laid.place.id) + 1}`
    : section.name;
}
