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

/** How far a strand that is laid over the song reaches. */
export type Reach = 'place' | 'section';

/** A strand that is being dragged. The browser shows only its own picture while it is. */
interface Dragging {
  pattern?: Pattern;
  pieces: readonly PieceId[];
  /** The pattern of the shelf that is dragged as a whole: it can also be put elsewhere on the shelf. */
  shelf?: string;
  /** What dropping it here would do. */
  says?: string;
}

export const useDragging = create<Dragging>(() => ({ pieces: [] }));

/** Begins to drag a strand; with others chosen beside it, all of them. */
export function startStrandDrag(event: DragEvent, pattern: Pattern, piece: PieceId): void {
  const { pieces } = useGather.getState();
  const all = pieces.includes(piece) ? pieces : [piece];
  const names = all.map((one) => pieceOf(one).name).join(', ');
  startDrag(event, names, { pattern, pieces: all });
}

/** Drags one strand of the cloth: of the pattern that plays it there. */
export function startClothDrag(event: DragEvent, patternId: string, piece: PieceId): void {
  const pattern = findPattern(openSongNow(), patternId);
  if (pattern) startDrag(event, pieceOf(piece).name, { pattern, pieces: [piece] });
}

/** Drags a whole pattern: all its strands. */
export function startPatternDrag(event: DragEvent, pattern: Pattern): void {
  const pieces = pattern.strands.flatMap(({ piece, hits }) => (hits.length > 0 ? [piece] : []));
  const shelf = findPattern(openSongNow(), pattern.id) && pattern.id;
  startDrag(event, pattern.name, { pattern, pieces, shelf });
}

function startDrag(event: DragEvent, text: string, dragging: Dragging): void {
  event.dataTransfer?.setData('text/plain', text);
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'copy';
  useDragging.setState({ shelf: undefined, says: undefined, ...dragging });
}

/** Drags a groove of the list: it is chosen by that, and can be dropped as soon as its hits are there. */
export function startGrooveDrag(event: DragEvent, id: string): void {
  if (useGather.getState().chosen === id && chosenPattern()) {
    return startPatternDrag(event, chosenPattern()!);
  }
  startDrag(event, grooveById(id)?.name ?? '', { pieces: [], says: 'its hits are on their way' });
  void chooseGroove(id, false).then(() => {
    const pattern = useGather.getState().chosen === id ? chosenPattern() : undefined;
    const { says } = useDragging.getState();
    if (!pattern || says === undefined) return;
    const pieces = pattern.strands.flatMap(({ piece, hits }) => (hits.length > 0 ? [piece] : []));
    useDragging.setState({ pattern, pieces, says: undefined });
  });
}

export function endStrandDrag(): void {
  useDragging.setState({ pattern: undefined, pieces: [], shelf: undefined, says: undefined });
}

function isDraggingStrands(): boolean {
  return useDragging.getState().pattern !== undefined;
}

function saysOfDrop(says: string | undefined): void {
  if (useDragging.getState().says !== says) useDragging.setState({ says });
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

/** What dropping the strands that are dragged on a pattern would do. */
function saysOntoPattern(id: string): string | undefined {
  const { pattern, pieces } = useDragging.getState();
  const target = findPattern(openSongNow(), id);
  if (!pattern || !target) return undefined;
  const why = misfit(target, pattern);
  return `${namesOf(pieces)} of “${pattern.name}” in place of the ${pieces.length === 1 ? 'same piece' : 'same pieces'} of “${target.name}”${why ? `; ${why}: it is repeated, or cut at the end` : ''}`;
}

/** Drops the strands that are dragged on a pattern: they take the place of the same pieces. */
function dropOnPattern(id: string): void {
  const { pattern, pieces } = useDragging.getState();
  if (pattern) takeIntoPatterns(pattern, pieces, [id], { mode: 'replace', fit: 'repeat' });
  endStrandDrag();
}

/** Drops the strands that are dragged on a place of the song. */
function dropOnPlace(placeId: string, reach: Reach): void {
  const { pattern, pieces } = useDragging.getState();
  if (pattern) takeOverPlace(pattern, pieces, placeId, { reach, mode: 'replace' });
  endStrandDrag();
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

/** What a part of the page does with strands that are dragged over it, and dropped. */
export interface DropZone {
  onDragOver(event: ZoneEvent): void;
  onDragLeave(): void;
  onDrop(event: ZoneEvent): void;
}

type ZoneEvent = Pick<DragEvent, 'clientX' | 'clientY' | 'shiftKey' | 'preventDefault'> & {
  currentTarget: EventTarget & Element;
};

/** Takes strands onto the place of the song that is under the pointer; with Shift only there. */
export function placeZone(placeUnder: (event: ZoneEvent) => string | undefined): DropZone {
  const reachOf = (event: ZoneEvent): Reach => (event.shiftKey ? 'place' : 'section');
  return {
    onDragOver(event) {
      const { pattern, pieces } = useDragging.getState();
      const place = placeUnder(event);
      if (!pattern || !place) return;
      event.preventDefault();
      saysOfDrop(saysOverPlace(pattern, pieces, place, reachOf(event)));
    },
    onDragLeave: () => saysOfDrop(undefined),
    onDrop(event) {
      const place = placeUnder(event);
      if (!place || !isDraggingStrands()) return;
      event.preventDefault();
      dropOnPlace(place, reachOf(event));
    },
  };
}

/** Where a pattern that is dragged over another one on the shelf would go: before it, onto it, behind it. */
export type ShelfSpot = 'before' | 'onto' | 'behind';

/**
 * Takes strands into a pattern of the shelf. A pattern of the shelf that is dragged to the edge of
 * another one goes before or behind it.
 * @param show draws where it would go; undefined is nowhere
 */
export function shelfZone(id: string, show: (spot: ShelfSpot | undefined) => void): DropZone {
  return {
    onDragOver(event) {
      const { shelf } = useDragging.getState();
      if (!isDraggingStrands() || shelf === id) return;
      event.preventDefault();
      const spot = spotIn(event);
      show(spot);
      saysOfDrop(spot === 'onto' ? saysOntoPattern(id) : saysMoved(shelf!, spot, id));
    },
    onDragLeave() {
      show(undefined);
      saysOfDrop(undefined);
    },
    onDrop(event) {
      event.preventDefault();
      show(undefined);
      const { shelf } = useDragging.getState();
      const spot = spotIn(event);
      if (spot === 'onto') return dropOnPattern(id);
      movePatternTo(shelf!, id, spot);
      endStrandDrag();
    },
  };
}

function spotIn({ clientY, currentTarget }: ZoneEvent): ShelfSpot {
  const { top, height } = currentTarget.getBoundingClientRect();
  const share = (clientY - top) / height;
  if (!useDragging.getState().shelf || (share > 0.3 && share < 0.7)) return 'onto';
  return share < 0.5 ? 'before' : 'behind';
}

function saysMoved(id: string, spot: ShelfSpot, other: string): string {
  const [name, at] = [id, other].map((one) => findPattern(openSongNow(), one)?.name);
  return `“${name}” goes ${spot} “${at}” on the shelf`;
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
