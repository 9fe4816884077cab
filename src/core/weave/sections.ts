import { Latest } from '../memo';
import {
  placeOfSpan,
  type PieceId,
  type Place,
  type Section,
  type Song,
  type Span,
  type SpanPlace,
} from '../model';
import {
  barAt,
  barNumber,
  pulseTicks,
  COMMON_TIME,
  ticksOfBars,
  type Bar,
  type MeterChange,
  type TempoChange,
  type Ticks,
} from '../time';

/** Length of a section, from its first beat to its end. */
export function sectionTicks(section: Pick<Section, 'meters' | 'bars'>): Ticks {
  return ticksOfBars(section.meters, section.bars);
}

/** A span where it lies in its section. */
export interface LaidSpan extends SpanPlace {
  span: Span;
  /** Laid over this place only. */
  overlay: boolean;
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
  /** The tempos that hold here, from its start on; none is the tempo of the song. */
  tempos: readonly TempoChange[];
}

/** All places of the song that was asked for last; the values are shared with nothing else. */
let last: { places: unknown; sections: unknown; laid: LaidPlace[] }[] = [];

/** All places one after another, as the song plays them. */
export function laidPlaces(song: Pick<Song, 'places' | 'sections'>): LaidPlace[] {
  const { places, sections } = song;
  const known = last.find((one) => one.places === places && one.sections === sections);
  if (known) return known.laid;
  const byId = new Map(sections.map((section) => [section.id, section]));
  const laid: LaidPlace[] = [];
  let start = 0;
  let firstBar = 0;
  places.forEach((place, index) => {
    const section = byId.get(place.section);
    if (!section) return;
    const end = start + sectionTicks(section);
    const tempos = place.tempos ?? section.tempos;
    laid.push({ place, section, index, firstBar, start, end, tempos });
    start = end;
    firstBar += section.bars;
  });
  last = [{ places, sections, laid }, ...last.slice(0, 3)];
  return laid;
}

/** The stack of a place, from the bottom up, as far as its section has room for it. */
export function stackOf({ place, section, start, end }: LaidPlace): LaidSpan[] {
  const length = end - start;
  const laid = (overlay: boolean) => (span: Span) => {
    const lies = placeOfSpan(span, length);
    return lies ? [{ span, overlay, ...lies }] : [];
  };
  return [...section.spans.flatMap(laid(false)), ...place.overlay.flatMap(laid(true))];
}

/** Whether a span lies over a piece at a tick of its section. */
export function covers({ span, from, to }: LaidSpan, piece: PieceId, at: Ticks): boolean {
  return at >= from && at < to && (span.pieces === 'all' || span.pieces.includes(piece));
}

/** The place that a tick lies in; beyond the end the last one, before the start the first. */
export function placeAt(song: Song, tick: Ticks): LaidPlace | undefined {
  const laid = laidPlaces(song);
  let low = 0;
  let high = laid.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (laid[middle].start <= tick) low = middle;
    else high = middle - 1;
  }
  return laid[low];
}

export function songTicks(song: Song): Ticks {
  return laidPlaces(song).at(-1)?.end ?? 0;
}

export function songBars(song: Song): number {
  const end = laidPlaces(song).at(-1);
  return end ? end.firstBar + end.section.bars : 0;
}

/** How bars are counted where nothing is laid out. */
const EMPTY: readonly MeterChange[] = [{ bar: 0, meter: COMMON_TIME }];

/** The bar of the song that a tick lies in, counted from 0; beyond the end the last meter goes on. */
export function barOfSong(song: Song, tick: Ticks): Bar {
  const here = placeAt(song, tick);
  if (!here) return barAt(EMPTY, tick);
  const { bar, start, meter } = barAt(here.section.meters, tick - here.start);
  return { bar: here.firstBar + bar, start: here.start + start, meter };
}

/** A place in the song as musicians say it: bar and beat counted from 1, and ticks beyond the beat. */
export interface Position {
  bar: number;
  beat: number;
  ticks: Ticks;
}

/** Where a tick lies; beyond the end the last meter goes on. */
export function positionAt(song: Song, tick: Ticks): Position {
  const { bar, start, meter } = barOfSong(song, tick);
  const inBar = tick - start;
  const beat = Math.floor(inBar / pulseTicks(meter));
  return { bar: bar + 1, beat: beat + 1, ticks: Math.floor(inBar - beat * pulseTicks(meter)) };
}

/** Where a bar of the song begins, counted from 1; beyond the end the last meter goes on. */
export function tickOfBar(song: Song, bar: number): Ticks {
  const laid = laidPlaces(song).findLast(({ firstBar }) => firstBar < bar);
  if (!laid) return barNumber(EMPTY, bar - 1).start;
  return laid.start + barNumber(laid.section.meters, bar - 1 - laid.firstBar).start;
}

/** The bar line at or before a tick, and the one after it; none before the song or after its end. */
export function barAround(song: Song, tick: Ticks): { from: Ticks; to: Ticks } {
  const end = songTicks(song);
  if (end === 0) return { from: 0, to: 0 };
  const bar = barOfSong(song, Math.max(0, Math.min(end - 1, tick)));
  return { from: bar.start, to: Math.min(end, tickOfBar(song, bar.bar + 2)) };
}

/** In how many places of the song a section appears. */
export function placesOf(song: Pick<Song, 'places' | 'sections'>, sectionId: string): number {
  return namesOf(song).counts.get(sectionId) ?? 0;
}

/** What a place is called on the cloth: "verse 2" when several places are of the same name. */
export function placeName(song: Song, laid: LaidPlace): string {
  return namesOf(song).names.get(laid.place.id) ?? laid.section.name;
}

/**
 * The names of sections, of names of places: "verse 1" and "verse 2" are both "verse". The inverse of `placeName`:
 * a name loses its number only where those of its like are 1, 2, 3 in this order, and none of them has no number.
 * @param names of places in their order
 */
export function namesOfSections(names: readonly string[]): string[] {
  const parts = names.map((name) => /^(.*\S) ([1-9]\d{0,3})$/.exec(name));
  const plain = new Set(names.filter((_, i) => !parts[i]));
  const numbers = new Map<string, number[]>();
  for (const part of parts) {
    if (!part) continue;
    const found = numbers.get(part[1]);
    if (found) found.push(Number(part[2]));
    else numbers.set(part[1], [Number(part[2])]);
  }
  const isCounted = (name: string) => {
    const found = numbers.get(name)!;
    return found.length > 1 && !plain.has(name) && found.every((number, i) => number === i + 1);
  };
  const counted = new Set([...numbers.keys()].filter(isCounted));
  return names.map((name, i) => (parts[i] && counted.has(parts[i][1]) ? parts[i][1] : name));
}

/** What the places of a song are called, and how many each section has. */
interface Names {
  names: ReadonlyMap<string, string>;
  counts: ReadonlyMap<string, number>;
}
const known = new Latest<Pick<Song, 'places' | 'sections'>, Names>(4, 1);

function namesOf(song: Pick<Song, 'places' | 'sections'>): Names {
  const { places, sections } = song;
  return known.of(
    '',
    (one) => one.places === places && one.sections === sections,
    { places, sections },
    () => {
      const byId = new Map(sections.map((section) => [section.id, section.name]));
      const nameOf = ({ section }: Place) => byId.get(section) ?? '';
      const alike = new Map<string, number>();
      const counts = new Map<string, number>();
      for (const place of places) {
        alike.set(nameOf(place), (alike.get(nameOf(place)) ?? 0) + 1);
        counts.set(place.section, (counts.get(place.section) ?? 0) + 1);
      }
      const nth = new Map<string, number>();
      const names = places.map((place): [string, string] => {
        const name = nameOf(place);
        const n = (nth.get(name) ?? 0) + 1;
        nth.set(name, n);
        return [place.id, alike.get(name)! > 1 ? `${name} ${n}` : name];
      });
      return { names: new Map(names), counts };
    },
  );
}
