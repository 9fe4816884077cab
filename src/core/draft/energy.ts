import {
  levelAt,
  type EnergyPoint,
  type Place,
  type Section,
  type SectionKind,
  type Song,
} from '../model';
import type { Ticks } from '../time';
import { laidPlaces, type LaidPlace } from '../weave';

/** The line of energy over one place of the song. */
export interface EnergyLine {
  place: string;
  /** In ticks of the song. */
  start: Ticks;
  end: Ticks;
  points: readonly EnergyPoint[];
  /** Whether it was drawn; otherwise it is what the form proposes. */
  drawn: boolean;
}

/** The line over the whole song, place by place: as it was drawn, and elsewhere as the form proposes. */
export function energyOf(song: Pick<Song, 'places' | 'sections'>): EnergyLine[] {
  const laid = laidPlaces(song);
  const proposed = proposedPoints(laid);
  return laid.map(({ place, start, end }, i) => ({
    place: place.id,
    start,
    end,
    points: place.energy ?? proposed[i],
    drawn: place.energy !== undefined,
  }));
}

/** The mean height of a line over a stretch, by its ends and eight moments between. */
export function meanLevel(points: readonly EnergyPoint[], from: Ticks, to: Ticks): number {
  const parts = 8;
  let sum = (levelAt(points, from) + levelAt(points, to)) / 2;
  for (let i = 1; i < parts; i++) sum += levelAt(points, from + ((to - from) * i) / parts);
  return sum / parts;
}

/**
 * Where each kind of section lies, and how much it rises until its end. A chorus is above its verse, a break
 * lets go, what comes again comes a little stronger. Source: the usual course of a popular song, as books on
 * arranging give it (verse lower than chorus, the last chorus highest, the outro falling).
 */
const COURSE: Readonly<Record<SectionKind, readonly [level: number, rise: number, again: number]>> =
  {
    intro: [0.28, 0.06, 0.02],
    verse: [0.38, 0.03, 0.02],
    chorus: [0.66, 0.04, 0.02],
    bridge: [0.48, 0.12, 0.02],
    break: [0.18, 0.1, 0.02],
    solo: [0.7, 0.1, 0.02],
    outro: [0.42, -0.22, 0],
    part: [0.5, 0.04, 0.01],
  };

function proposedPoints(laid: readonly LaidPlace[]): EnergyPoint[][] {
  const times = new Map<SectionKind, number>();
  const lastChorus = laid.findLastIndex(({ section }) => section.kind === 'chorus');
  return laid.map(({ section, start, end }, i) => {
    const before = times.get(section.kind) ?? 0;
    times.set(section.kind, before + 1);
    const [level, rise, again] = COURSE[section.kind];
    // Nothing that comes again rises above what is highest.
    const base = i === lastChorus ? 0.9 : Math.min(0.84, level + again * Math.min(before, 3));
    return [
      { at: 0, level: inTwo(base) },
      { at: end - start, level: inTwo(base + rise) },
    ];
  });
}

const inTwo = (level: number) => Math.round(Math.max(0, Math.min(1, level)) * 100) / 100;

/** A line by place. */
export type Energy = readonly { place: string; points: readonly EnergyPoint[] }[];

/** What the form of a song proposes: verse lower than chorus, the last chorus highest. */
export function proposedEnergy(song: Pick<Song, 'places' | 'sections'>): Energy {
  const laid = laidPlaces(song);
  const points = proposedPoints(laid);
  return laid.map(({ place }, i) => ({ place: place.id, points: points[i] }));
}

/** A moment of a stroke of the pointer over the song. */
export interface EnergyStroke {
  /** In ticks of the song. */
  tick: Ticks;
  level: number;
}

/** Points nearer to the line between their neighbours than this are not kept. */
const FLAT = 0.012;

/**
 * The line after one stroke was drawn over it: between its ends it is the stroke, elsewhere what it was.
 * @param stroke in any order; what is drawn twice counts as it was drawn last
 * @returns the places that it changes
 */
export function strokeOfEnergy(
  song: Pick<Song, 'places' | 'sections'>,
  stroke: readonly EnergyStroke[],
): Energy {
  const byTick = new Map(stroke.map(({ tick, level }) => [Math.round(tick), inTwo(level)]));
  const drawn = [...byTick].map(([at, level]) => ({ at, level })).sort((a, b) => a.at - b.at);
  if (drawn.length === 0) return [];
  const [first, last] = [drawn[0].at, drawn.at(-1)!.at];
  return energyOf(song).flatMap(({ place, start, end, points }) => {
    if (last < start || first >= end) return [];
    const from = Math.max(0, first - start);
    const to = Math.min(end - start, last - start);
    const here = drawn
      .map(({ at, level }) => ({ at: at - start, level }))
      .filter(({ at }) => at > from && at < to);
    const inSong = (at: Ticks) => ({ at, level: inTwo(levelAt(drawn, at + start)) });
    const kept = (is: (point: EnergyPoint) => boolean) => points.filter(is);
    // Where a stroke begins or ends within a place, the line is as it was right up to there.
    const edge = (at: Ticks, before: boolean): EnergyPoint[] => {
      const beside = at + (before ? -1 : 1);
      return beside < 0 || beside > end - start
        ? []
        : [{ at: beside, level: inTwo(levelAt(points, beside)) }];
    };
    const after: EnergyPoint[] = [
      ...kept(({ at }) => at < from - 1),
      ...(from > 0 ? edge(from, true) : []),
      inSong(from),
      ...here,
      ...(to > from ? [inSong(to)] : []),
      ...(to < end - start ? edge(to, false) : []),
      ...kept(({ at }) => at > to + 1),
    ];
    return [{ place, points: simplified(after) }];
  });
}

/** A line through fewer points that is nowhere further off than can be seen. Source: Douglas and Peucker, 1973. */
function simplified(points: readonly EnergyPoint[]): EnergyPoint[] {
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const open: [number, number][] = [[0, points.length - 1]];
  for (let pair = open.pop(); pair; pair = open.pop()) {
    const [from, to] = pair;
    const ends = [points[from], points[to]];
    let furthest = FLAT;
    let which = -1;
    for (let i = from + 1; i < to; i++) {
      const off = Math.abs(levelAt(ends, points[i].at) - points[i].level);
      if (off > furthest) [furthest, which] = [off, i];
    }
    if (which < 0) continue;
    keep[which] = 1;
    open.push([from, which], [which, to]);
  }
  return points.filter((_, i) => keep[i] === 1);
}

/** Gives places their line. @param energy an empty list of points takes the line of a place away */
export function setEnergy(song: Song, energy: Energy): Song {
  const lines = new Map(energy.map(({ place, points }) => [place, points]));
  const places = song.places.map((place) => {
    const points = lines.get(place.id);
    if (!points || samePoints(points, place.energy ?? [])) return place;
    const { energy: _, ...rest } = place;
    return points.length > 0 ? { ...rest, energy: points } : rest;
  });
  return places.every((place, i) => place === song.places[i]) ? song : { ...song, places };
}

const samePoints = (a: readonly EnergyPoint[], b: readonly EnergyPoint[]) =>
  a.length === b.length && a.every(({ at, level }, i) => at === b[i].at && level === b[i].level);

/** Moves the whole line of some places up or down; it stays within 0 to 1. */
export function shiftedEnergy(
  song: Pick<Song, 'places' | 'sections'>,
  places: readonly string[],
  by: number,
): Energy {
  return energyOf(song)
    .filter(({ place }) => places.includes(place))
    .map(({ place, points }) => ({
      place,
      points: points.map(({ at, level }) => ({ at, level: inTwo(level + by) })),
    }));
}

/** Why energy leads into a place as it does: “energy rises by a third into chorus 2”. */
export function saidChange(change: number, into: string): string {
  const size = Math.abs(change);
  if (size < 0.06) return `leads into ${into}`;
  const how =
    size < 0.15
      ? 'a little'
      : size < 0.29
        ? 'by a quarter'
        : size < 0.42
          ? 'by a third'
          : size < 0.6
            ? 'by half'
            : 'by more than half';
  return `energy ${change > 0 ? 'rises' : 'falls'} ${how} into ${into}`;
}

/** The places of each section with their lines. */
export function linesBySection(
  song: Pick<Song, 'places' | 'sections'>,
): Map<string, { place: Place; line: EnergyLine; section: Section; laid: LaidPlace }[]> {
  const lines = energyOf(song);
  const sections = new Map<
    string,
    { place: Place; line: EnergyLine; section: Section; laid: LaidPlace }[]
  >();
  laidPlaces(song).forEach((laid, i) => {
    const { place, section } = laid;
    const list = sections.get(section.id) ?? sections.set(section.id, []).get(section.id)!;
    list.push({ place, line: lines[i], section, laid });
  });
  return sections;
}
