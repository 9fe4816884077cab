import { findPattern, type Pattern } from '@/core';
import { pieceOf, type PieceId } from '@/core/model';
import { barTicks, type Ticks } from '@/core/time';
import { barAround, laidPlaces, placeName, type LaidPlace, type Reach } from '@/core/weave';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { goToStage } from '../routes';
import { showPattern } from '../shape/shape';
import { openSongNow, useWorkbench } from '../store';
import { selectPlace } from '../weave/choosing';
import { layFill } from '../weave/laying';
import {
  changedOver,
  isOtherMeterThere,
  saysOver,
  takeOver,
  type Changed,
  type Over,
} from './taking';

/** Where a whole pattern is dropped: on a place, or on a row and a bar of it. */
export interface Onto {
  place: string;
  tick?: Ticks;
  piece?: PieceId;
  /** Only this place. */
  shift: boolean;
  /** Beside what is there, not instead of it. */
  alt: boolean;
}

const playedBy = ({ strands }: Pattern) =>
  strands.flatMap(({ piece, hits }) => (hits.length > 0 ? [piece] : []));

function found(id: string, { place }: Onto): { pattern: Pattern; laid: LaidPlace } | undefined {
  const song = openSongNow();
  const pattern = findPattern(song, id);
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  return pattern && laid && { pattern, laid };
}

/** The chosen bars, where something is dropped into them: it is laid over these alone. */
export function barsAt(tick: Ticks | undefined): Over['bars'] {
  const { bars } = useWorkbench.getState();
  return bars && tick !== undefined && tick >= bars.from && tick < bars.to ? bars : undefined;
}

function overOf({ place, tick, shift, alt }: Onto): Over {
  const reach: Reach = shift ? 'place' : useWorkbench.getState().reach;
  const bars = barsAt(tick);
  return { place, reach, mode: alt ? 'add' : 'replace', ...(bars && { bars }) };
}

/** Which pieces of a pattern are dropped: that of the row, or all where there is no row. */
function piecesOf(pattern: Pattern, { piece }: Onto): PieceId[] {
  const all = playedBy(pattern);
  return piece ? all.filter((one) => one === piece) : all;
}

/** Where a fill begins that is dropped on a bar: it ends with that bar, or with its place. */
function fillFrom(pattern: Pattern, laid: LaidPlace, tick: Ticks | undefined): Ticks | undefined {
  if (tick === undefined) return undefined;
  return Math.max(0, barAround(openSongNow(), tick).to - laid.start - pattern.length);
}

/** What dropping a pattern there would do, in words. */
export function saysOnto(id: string, onto: Onto): string | undefined {
  const there = found(id, onto);
  if (!there) return undefined;
  const { pattern, laid } = there;
  const name = `“${pattern.name}”`;
  if (playedBy(pattern).length === 0) return `${name} is empty: there is nothing to play`;
  if (isLaidAsFill(pattern)) {
    const where = placeName(openSongNow(), laid);
    return onto.tick === undefined
      ? `${name} as a fill at the end of ${where}, here only`
      : `${name} as a fill that ends with this bar of ${where}, here only`;
  }
  const pieces = piecesOf(pattern, onto);
  if (pieces.length === 0) {
    return `${name} does not play the ${pieceOf(onto.piece!, openSongNow().kit).name.toLowerCase()}`;
  }
  return saysOver(pattern, pieces, overOf(onto));
}

/** The bars and rows of the song that a pattern dropped there would change. */
export function changedOnto(id: string, onto: Onto): Changed | undefined {
  const there = found(id, onto);
  if (!there) return undefined;
  const { pattern, laid } = there;
  if (!isLaidAsFill(pattern)) return changedOver(pattern, piecesOf(pattern, onto), overOf(onto));
  const atEnd = Math.max(0, laid.end - laid.start - pattern.length);
  const from = laid.start + (fillFrom(pattern, laid, onto.tick) ?? atEnd);
  return { stretches: [{ from, to: Math.min(laid.end, from + pattern.length) }] };
}

/** Longer fills are laid like grooves. */
const isLaidAsFill = ({ kind, length, meter }: Pattern) =>
  kind === 'fill' && length <= 4 * barTicks(meter);

/** Plays a pattern of the shelf where it is dropped; what does not fit is explained, and asked. */
export function dropOnto(id: string, onto: Onto): void {
  const there = found(id, onto);
  if (!there) return;
  const { pattern, laid } = there;
  selectPlace(laid.place.id);
  if (playedBy(pattern).length === 0) {
    notify(`“${pattern.name}” is empty: there is nothing to play yet.`, 'error', {
      label: 'write into it',
      run: () => {
        showPattern(id);
        goToStage('shape');
      },
    });
    return;
  }
  if (isLaidAsFill(pattern)) {
    const from = fillFrom(pattern, laid, onto.tick);
    layFill(id, from === undefined ? {} : { from });
    return;
  }
  const pieces = piecesOf(pattern, onto);
  const over = overOf(onto);
  if (pieces.length === 0) {
    const piece = pieceOf(onto.piece!, openSongNow().kit).name.toLowerCase();
    notify(`“${pattern.name}” does not play the ${piece}.`, 'error', {
      label: 'play all of it here',
      run: () => void takeOver(pattern, playedBy(pattern), over),
    });
    return;
  }
  if (isOtherMeterThere(pattern, over)) {
    // What becomes of its bars is asked, with all choices.
    showPattern(id);
    openDialog('take');
    return;
  }
  takeOver(pattern, pieces, over);
}
