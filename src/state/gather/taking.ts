import { nanoid } from 'nanoid';
import { create } from 'zustand';
import { findPattern, type Command, type Pattern } from '@/core';
import { nextDye, pieceOf, spanOver, type PieceId } from '@/core/model';
import { misfit, type Fit, type TakeMode } from '@/core/pattern';
import { laidPlaces, placesOf, sectionTicks } from '@/core/weave';
import { edit, editOrSay } from '../session/edit';
import { chooseGroove, chosenPattern, grooveById, useGather } from './gather';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { notify } from '../notices/notices';
import { addSection, movePlace } from '../weave/weave';

/** How far a strand that is laid over the song reaches. */
export type Reach = 'place' | 'section';

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
  /** What dropping it here would do. */
  says?: string;
}

export const useCarried = create<Carried>(() => ({ pieces: [] }));

function carry(carried: Partial<Carried>): void {
  useCarried.setState({ pieces: [], ...carried }, true);
}

/** Carries a strand; with others chosen beside it, all of them. */
export function carryStrand(pattern: Pattern, piece: PieceId): void {
  const { pieces } = useGather.getState();
  carry({ pattern, pieces: pieces.includes(piece) ? pieces : [piece] });
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

export function endCarrying(): void {
  carry({});
}

/** Says what dropping what is carried here would do. */
export function sayOfDrop(says: string | undefined): void {
  if (useCarried.getState().says !== says) useCarried.setState({ says });
}

export const namesOf = (pieces: readonly PieceId[]) =>
  pieces.map((piece) => pieceOf(piece).name.toLowerCase()).join(' and ');

/** What laying strands over a place would do, in a sentence. */
export function saysOverPlace(
  pattern: Pattern,
  pieces: readonly PieceId[],
  placeId: string,
  reach: Reach,
): string | undefined {
  const song = openSongNow();
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!laid) return undefined;
  const { section } = laid;
  const count = reach === 'section' ? placesOf(song, section.id) : 1;
  const rounds = sectionTicks(section) / pattern.length;
  const times =
    rounds > 1
      ? `, ${Math.ceil(rounds * 100) / 100} times over`
      : rounds < 1
        ? ', cut at its end'
        : '';
  return `${namesOf(pieces)} of “${pattern.name}” over ${section.name}${times}: changes ${count === 1 ? '1 place' : `${count} places`}`;
}

/**
 * Lays strands of a groove over a place of the song or its whole section. The groove goes onto the
 * shelf, so that the cloth can say where it comes from; what lies below stays.
 */
export function takeOverPlace(
  pattern: Pattern,
  pieces: readonly PieceId[],
  placeId: string,
  { reach, mode }: { reach: Reach; mode: TakeMode },
): boolean {
  const song = openSongNow();
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!laid || pieces.length === 0) return false;
  const kept = keptOf(pattern);
  const commands: Command[] = kept.command ? [kept.command] : [];
  const span = spanOver(kept.id, nanoid(8), { role: 'change', pieces: [...pieces], mode });
  commands.push(
    reach === 'section'
      ? { type: 'add span', section: laid.section.id, span }
      : { type: 'add overlay', place: placeId, span },
  );
  return edit(commands, `take ${namesOf(pieces)} onto ${laid.section.name}`);
}

/** The pattern as it is on the shelf, or the command that puts it there. */
function keptOf(pattern: Pattern): { id: string; command?: Command } {
  const song = openSongNow();
  if (findPattern(song, pattern.id)) return { id: pattern.id };
  const groove = grooveById(useGather.getState().chosen);
  const kept = song.patterns.find(
    (other) => groove && other.groove?.id === groove.id && other.length === pattern.length,
  );
  if (kept) return { id: kept.id };
  const value: Pattern = {
    ...pattern,
    id: nanoid(8),
    dye: nextDye(song),
    ...(groove && { groove: { id: groove.id, name: groove.name, family: groove.family } }),
  };
  return { id: value.id, command: { type: 'add pattern', value } };
}

/** Takes strands into one or many patterns. */
export function takeIntoPatterns(
  source: Pattern,
  pieces: readonly PieceId[],
  targets: readonly string[],
  { mode, fit }: { mode: TakeMode; fit: Fit },
): boolean {
  const commands = commandsInto(source, pieces, targets, { mode, fit });
  if (edit(commands, `take ${namesOf(pieces)}`)) return true;
  notify('Those strands of the groove are empty: there is nothing to take.', 'error');
  return false;
}

export function commandsInto(
  source: Pattern,
  pieces: readonly PieceId[],
  targets: readonly string[],
  { mode, fit }: { mode: TakeMode; fit: Fit },
): Command[] {
  const song = openSongNow();
  // What is taken wears a dye of its own, so that the row can say where it came from.
  const dyed = findPattern(song, source.id) ? source : { ...source, dye: nextDye(song) };
  return targets.map((pattern) => ({
    type: 'take strands',
    pattern,
    source: dyed,
    pieces,
    mode,
    fit,
  }));
}

/** What has to be settled before the strands fit these patterns. */
export function misfitsOf(source: Pattern, targets: readonly string[]): string[] {
  const song = openSongNow();
  return targets.flatMap((id) => {
    const target = findPattern(song, id);
    const why = target && misfit(target, source);
    return why ? [`“${target.name}”: ${why}.`] : [];
  });
}

/** What strands are taken from: the groove in Gather, the shown pattern elsewhere. */
export function takeSource(): Pattern | undefined {
  const state = useWorkbench.getState();
  return state.stage === 'gather' ? chosenPattern() : shownPattern(state);
}

/** The strands that are chosen of the groove that is looked at; all of them when none is. */
export function chosenPieces(): PieceId[] {
  const pattern = takeSource();
  const { pieces } = useGather.getState();
  const there = (pattern?.strands ?? []).filter(({ hits }) => hits.length > 0);
  const wanted = there.filter(({ piece }) => pieces.includes(piece));
  return (wanted.length > 0 ? wanted : there).map(({ piece }) => piece);
}

/** The place whose drums a candidate is heard in. */
export function placeHere(): string | undefined {
  const { songLoop, placeId, stage } = useWorkbench.getState();
  const laid = laidPlaces(openSongNow());
  const chosen = laid.some(({ place }) => place.id === placeId);
  if (stage === 'weave' && chosen) return placeId;
  if (songLoop) {
    return laid.findLast(({ start }) => start <= songLoop.from)?.place.id;
  }
  return laid.find(({ place }) => place.id === placeId)?.place.id ?? laid[0]?.place.id;
}

/** Where in the box of a target something is: shares of its width and height, 0 to 1. */
export interface Where {
  x: number;
  y: number;
  shift: boolean;
}

/** What a part of the page does with what is carried over it, and dropped. */
export interface DropTarget {
  /** @returns what dropping it here would do, where that is not plain to see */
  over(where: Where): string | undefined;
  leave?(): void;
  drop(where: Where): void;
}

/**
 * The places of the song: strands are taken onto the one that is there (with Shift only there), a
 * pattern becomes a section before it, another place is moved to it.
 * @param placeAt which place is there; none is the end of the song
 */
export function placeTarget(placeAt: (where: Where) => string | undefined): DropTarget {
  const reachOf = ({ shift }: Where): Reach => (shift ? 'place' : 'section');
  return {
    over(where) {
      const { pattern, pieces } = useCarried.getState();
      const place = placeAt(where);
      return pattern && place ? saysOverPlace(pattern, pieces, place, reachOf(where)) : undefined;
    },
    drop(where) {
      const { pattern, pieces, section, place: moved } = useCarried.getState();
      const { places } = openSongNow();
      const place = placeAt(where);
      const index = places.findIndex(({ id }) => id === place);
      if (pattern && place) {
        takeOverPlace(pattern, pieces, place, { reach: reachOf(where), mode: 'replace' });
      } else if (section) addSection(section, index < 0 ? places.length : index);
      else if (moved && index >= 0) movePlace(index, moved);
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
      return spot === 'onto' ? saysOntoPattern(id) : saysMoved(shelf!, spot, id);
    },
    leave: () => show(undefined),
    drop(where) {
      show(undefined);
      const { pattern, pieces, shelf, section } = useCarried.getState();
      if (section) return movePatternOver(section, id);
      if (!pattern || shelf === id) return;
      const spot = spotAt(where);
      if (spot !== 'onto') return movePatternTo(shelf!, id, spot);
      takeIntoPatterns(pattern, pieces, [id], { mode: 'replace', fit: 'repeat' });
    },
  };
}

function spotAt({ y }: Where): ShelfSpot {
  if (!useCarried.getState().shelf || (y > 0.3 && y < 0.7)) return 'onto';
  return y < 0.5 ? 'before' : 'behind';
}

/** What dropping the strands that are carried on a pattern would do. */
function saysOntoPattern(id: string): string | undefined {
  const { pattern, pieces } = useCarried.getState();
  const target = findPattern(openSongNow(), id);
  if (!pattern || !target) return undefined;
  const why = misfit(target, pattern);
  return `${namesOf(pieces)} of “${pattern.name}” in place of the ${pieces.length === 1 ? 'same piece' : 'same pieces'} of “${target.name}”${why ? `; ${why}: it is repeated, or cut at the end` : ''}`;
}

function saysMoved(id: string, spot: ShelfSpot, other: string): string {
  const [name, at] = [id, other].map((one) => findPattern(openSongNow(), one)?.name);
  return `“${name}” goes ${spot} “${at}” on the shelf`;
}

/** Joins patterns of the shelf end to end into a new one, which remembers them. */
export function joinChosen(ids: readonly string[]): void {
  const song = openSongNow();
  const names = ids.flatMap((id) => findPattern(song, id)?.name ?? []);
  const command: Command = {
    type: 'join patterns',
    ids,
    newId: nanoid(8),
    name: names.slice(0, 3).join(' + '),
  };
  if (editOrSay(command)) notify(`“${command.name}” is on the shelf.`);
}

/** Puts the pieces of a joined pattern back on the shelf. */
export function takeApart(id: string): void {
  editOrSay({ type: 'take apart', id });
}

/** Puts a pattern before or behind another one on the shelf. */
export function movePatternTo(id: string, other: string, spot: 'before' | 'behind'): void {
  const rest = openSongNow().patterns.filter((pattern) => pattern.id !== id);
  const at = rest.findIndex((pattern) => pattern.id === other);
  if (at >= 0) edit({ type: 'move pattern', id, to: spot === 'before' ? at : at + 1 });
}

/** Puts a pattern where another one is on the shelf; the others make room. */
export function movePatternOver(id: string, other: string): void {
  const to = openSongNow().patterns.findIndex((pattern) => pattern.id === other);
  if (to >= 0 && id !== other) edit({ type: 'move pattern', id, to });
}
