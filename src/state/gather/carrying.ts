import { layoutOf } from '@/core/model';
import { create } from 'zustand';
import { findPattern, type Pattern } from '@/core';
import type { PieceId } from '@/core/model';
import { misfit, type TakeMode } from '@/core/pattern';
import type { Ticks } from '@/core/time';
import { laidPlaces } from '@/core/weave';
import { openSongNow, useWorkbench } from '../store';
import { joinTracks } from '../balance/balance';
import { addSection, movePlace } from '../weave/weave';
import { chooseGroove, chosenPattern, useGather } from './gather';
import { barsAt, changedOnto, dropOnto, saysOnto } from './onto';
import { movePatternOver, movePatternTo } from './shelf';
import {
  changedOver,
  keepStrands,
  namesOf,
  saysOver,
  takeIntoPatterns,
  takeOver,
  type Changed,
  type Over,
} from './taking';

/** What is carried over the page, to be dropped somewhere. */
interface Carried {
  /** Strands on their way, and the pattern they are of. */
  pattern?: Pattern;
  pieces: readonly PieceId[];
  /** The pattern of the shelf that is carried as a whole: it can also be put elsewhere on the shelf. */
  shelf?: string;
  /** The groove that is carried before its hits are there. */
  groove?: string;
  /** The pattern of the shelf that is to be a section. */
  section?: string;
  /** The place of the song that is to be moved. */
  place?: string;
  /** The track that is to be joined with another. */
  track?: string;
  /** What dropping it here would do. */
  says?: string;
  /** The bars and rows of the song that a drop here would change. */
  changes?: Changed | undefined;
}

export const useCarried = create<Carried>(() => ({ pieces: [] }));

function carry(carried: Partial<Carried>): void {
  useCarried.setState({ pieces: [], ...carried }, true);
}

/**
 * Carries a strand of the groove that is looked at, as far as bars are cut out of it; with others chosen
 * beside it, all of them.
 */
export function carryStrand(piece: PieceId): void {
  const pattern = chosenPattern();
  const { pieces } = useGather.getState();
  const there = pieces.filter((one) => pattern?.strands.some((strand) => strand.piece === one));
  if (pattern) carry({ pattern, pieces: there.includes(piece) ? there : [piece] });
}

/** Carries one strand of the cloth: of the pattern that plays it there. */
export function carryOffCloth(patternId: string, piece: PieceId): void {
  const pattern = findPattern(openSongNow(), patternId);
  if (pattern) carry({ pattern, pieces: [piece] });
}

/** Carries a whole pattern: all its strands. */
export function carryPattern(pattern: Pattern): void {
  const pieces = pattern.strands.flatMap(({ piece, hits }) => (hits.length > 0 ? [piece] : []));
  carry({ pattern, pieces, shelf: findPattern(openSongNow(), pattern.id) && pattern.id });
}

/** Carries a groove of the list: it is chosen by that, and can be dropped as soon as its hits are there. */
export function carryGroove(id: string): void {
  if (useGather.getState().chosen === id && chosenPattern()) return carryPattern(chosenPattern()!);
  carry({ groove: id });
  void chooseGroove(id, false).then(() => {
    const pattern = useGather.getState().chosen === id ? chosenPattern() : undefined;
    if (pattern && useCarried.getState().groove === id) carryPattern(pattern);
  });
}

/** Carries a pattern of the shelf into the song, to be a section there. */
export function carrySection(patternId: string): void {
  carry({ section: patternId });
}

/** Carries a place of the song elsewhere in it. */
export function carryPlace(id: string): void {
  carry({ place: id });
}

/** Carries a track onto another one. */
export function carryTrack(id: string): void {
  carry({ track: id });
}

export function endCarrying(): void {
  carry({});
}

/** Says what dropping what is carried here would do, and shows where in the song. */
export function sayOfDrop(says?: string, changes?: Changed): void {
  const now = useCarried.getState();
  if (now.says === says && JSON.stringify(now.changes) === JSON.stringify(changes)) return;
  useCarried.setState({ says, changes });
}

/** Where in the box of a target something is: shares of its width and height, 0 to 1. */
export interface Where {
  x: number;
  y: number;
  /** Only this place. */
  shift: boolean;
  /** Beside what is there, not instead of it. */
  alt: boolean;
}

/** What a part of the page does with what is carried over it, and dropped. */
export interface DropTarget {
  /** @returns what dropping it here would do, where that is not plain to see */
  over(where: Where): string | undefined;
  /** The bars and rows of the song that a drop here would change, if it changes the song. */
  changes?(where: Where): Changed | undefined;
  leave?(): void;
  drop(where: Where): void;
}

const modeOf = ({ alt }: Where): TakeMode => (alt ? 'add' : 'replace');

/**
 * The places of the song: strands are taken onto the one that is there, or onto the chosen bars there (with
 * Shift only there, with Alt beside what is there), a pattern becomes a section before it, another place is
 * moved to it.
 * @param placeAt which place is there; none is the end of the song
 * @param tickAt where in the song that is, where its bars can be told apart
 */
export function placeTarget(
  placeAt: (where: Where) => string | undefined,
  tickAt?: (where: Where) => Ticks,
): DropTarget {
  const overAt = (place: string, where: Where): Over => {
    const bars = barsAt(tickAt?.(where));
    const reach = where.shift ? 'place' : useWorkbench.getState().reach;
    return { place, reach, mode: modeOf(where), ...(bars && { bars }) };
  };
  return {
    over(where) {
      const { pattern, pieces } = useCarried.getState();
      const place = placeAt(where);
      return pattern && place ? saysOver(pattern, pieces, overAt(place, where)) : undefined;
    },
    changes(where) {
      const { pattern, pieces } = useCarried.getState();
      const place = placeAt(where);
      return pattern && place ? changedOver(pattern, pieces, overAt(place, where)) : undefined;
    },
    drop(where) {
      const { pattern, pieces, section, place: moved } = useCarried.getState();
      const { places } = openSongNow();
      const place = placeAt(where);
      const index = places.findIndex(({ id }) => id === place);
      if (pattern && place) {
        takeOver(pattern, pieces, overAt(place, where));
      } else if (section) addSection(section, index < 0 ? places.length : index);
      else if (moved && index >= 0) movePlace(index, moved);
    },
  };
}

/** A track of Balance: another one that is dropped on it is joined with it. */
export function trackTarget(id: string): DropTarget {
  const nameOf = (track: string) =>
    layoutOf(openSongNow()).tracks.find((one) => one.id === track)?.name ?? '';
  return {
    over() {
      const { track } = useCarried.getState();
      return track && track !== id ? `${nameOf(track)} onto the track of ${nameOf(id)}` : undefined;
    },
    drop() {
      const { track } = useCarried.getState();
      if (track) joinTracks(track, id);
    },
  };
}

/** The header of a place: a whole pattern is played there, or at its edges becomes a section beside it. */
export function headerTarget(place: string): DropTarget {
  const plain = placeTarget(() => place);
  const edge = ({ x }: Where) => (x < 0.22 ? 'before' : x > 0.78 ? 'behind' : undefined);
  return {
    over(where) {
      const { section } = useCarried.getState();
      if (!section) return plain.over(where);
      const at = edge(where);
      const name = findPattern(openSongNow(), section)?.name;
      return at
        ? `a new section that plays “${name}”, ${at} this one`
        : saysOnto(section, { place, ...where });
    },
    changes(where) {
      const { section } = useCarried.getState();
      if (!section) return plain.changes!(where);
      return edge(where) ? undefined : changedOnto(section, { place, ...where });
    },
    drop(where) {
      const { section } = useCarried.getState();
      if (!section) return plain.drop(where);
      const at = edge(where);
      const index = openSongNow().places.findIndex(({ id }) => id === place);
      if (at) addSection(section, at === 'before' ? index : index + 1);
      else dropOnto(section, { place, ...where });
    },
  };
}

/** Where on the cloth something is. */
export interface ClothSpot {
  tick: Ticks;
  piece?: PieceId;
}

/** The cloth: a whole pattern goes onto a row of it, or as a fill to the end of a bar. */
export function clothTarget(spotAt: (where: Where) => ClothSpot): DropTarget {
  const placeOf = (where: Where) => {
    const { tick } = spotAt(where);
    const laid = laidPlaces(openSongNow());
    return laid.find(({ start, end }) => tick >= start && tick < end)?.place.id;
  };
  const plain = placeTarget(placeOf, (where) => spotAt(where).tick);
  return {
    over(where) {
      const { section } = useCarried.getState();
      const place = placeOf(where);
      return section && place
        ? saysOnto(section, { ...spotAt(where), place, ...where })
        : plain.over(where);
    },
    changes(where) {
      const { section } = useCarried.getState();
      const place = placeOf(where);
      return section && place
        ? changedOnto(section, { ...spotAt(where), place, ...where })
        : plain.changes!(where);
    },
    drop(where) {
      const { section } = useCarried.getState();
      const place = placeOf(where);
      if (section && place) dropOnto(section, { ...spotAt(where), place, ...where });
      else plain.drop(where);
    },
  };
}

/** Where a pattern that is carried over another one on the shelf would go: before it, onto it, behind it. */
export type ShelfSpot = 'before' | 'onto' | 'behind';

/**
 * A pattern of the shelf: strands take the place of its own. A pattern of the shelf that is carried to
 * the edge of another one goes before or behind it.
 * @param show draws where it would go; undefined is nowhere
 */
export function shelfTarget(id: string, show: (spot: ShelfSpot | undefined) => void): DropTarget {
  return {
    over(where) {
      const { pattern, shelf } = useCarried.getState();
      const spot = pattern && shelf !== id ? spotAt(where) : undefined;
      show(spot);
      if (spot === undefined) return undefined;
      return spot === 'onto' ? saysOntoPattern(id, modeOf(where)) : saysMoved(shelf!, spot, id);
    },
    leave: () => show(undefined),
    drop(where) {
      show(undefined);
      const { pattern, pieces, shelf, section } = useCarried.getState();
      if (section) return movePatternOver(section, id);
      if (!pattern || shelf === id) return;
      const spot = spotAt(where);
      if (spot !== 'onto') return movePatternTo(shelf!, id, spot);
      takeIntoPatterns(pattern, pieces, [id], { mode: modeOf(where), fit: 'repeat' });
    },
  };
}

function spotAt({ y }: Where): ShelfSpot {
  if (!useCarried.getState().shelf || (y > 0.3 && y < 0.7)) return 'onto';
  return y < 0.5 ? 'before' : 'behind';
}

/** What dropping the strands that are carried on a pattern would do. */
function saysOntoPattern(id: string, mode: TakeMode): string | undefined {
  const { pattern, pieces } = useCarried.getState();
  const target = findPattern(openSongNow(), id);
  if (!pattern || !target) return undefined;
  const why = misfit(target, pattern);
  const same = pieces.length === 1 ? 'same piece' : 'same pieces';
  const how = mode === 'add' ? 'beside' : 'in place of';
  return `${namesOf(pieces)} of “${pattern.name}” ${how} the ${same} of “${target.name}”${why ? `; ${why}: it is repeated, or cut at the end` : ''}`;
}

function saysMoved(id: string, spot: ShelfSpot, other: string): string {
  const [name, at] = [id, other].map((one) => findPattern(openSongNow(), one)?.name);
  return `“${name}” goes ${spot} “${at}” on the shelf`;
}

/** The shelf itself: strands become a pattern of their own on it. */
export const ontoShelf: DropTarget = {
  over() {
    const { pattern, pieces, shelf } = useCarried.getState();
    if (!pattern || shelf) return undefined;
    return `${namesOf(pieces)} of “${pattern.name}” onto the shelf, as a pattern of its own`;
  },
  drop() {
    const { pattern, pieces, shelf } = useCarried.getState();
    if (pattern && !shelf) keepStrands(pattern, pieces);
  },
};
