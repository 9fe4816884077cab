import { anchored, spanOver, type Pattern, type PieceId, type Song, type Span } from '../model';
import { inMeter, type Fit, type TakeMode } from '../pattern';
import { barTicks, sameMeter, type Meter, type Ticks } from '../time';
import { laidPlaces, type LaidPlace } from './sections';
import type { Whose } from './woven';

/** Strands on their way over a stretch of the song. */
export interface Laying {
  pattern: Pattern;
  pieces: readonly PieceId[];
  /** Other pieces that fall silent for them, as the ride for the hats. */
  instead?: readonly PieceId[];
  /** Ticks of the song; what is laid begins where the stretch does, and goes round until it ends. */
  from: Ticks;
  to: Ticks;
  reach: Whose;
  mode: TakeMode;
  /** What becomes of bars that are of another meter; `repeat` lets them run on across the bar lines. */
  fit: Fit;
}

/** Where a span goes: over one place, or into a section and so into all its places. */
export interface Lie {
  reach: Whose;
  laid: LaidPlace;
  span: Span;
}

/**
 * The pattern that is laid: only the strands that are taken, where it plays pieces that are to fall
 * silent, and in the meter of the stretch, where its bars are to be cut or stretched to that. The very
 * same pattern where it can be laid as it is.
 */
export function patternToLay(song: Song, laying: Laying): Pattern {
  const { pattern, pieces, instead = [], fit } = laying;
  const silent = (piece: PieceId) => instead.includes(piece) && !pieces.includes(piece);
  const strands = pattern.strands.filter(({ piece }) => !silent(piece));
  const plain = strands.length < pattern.strands.length ? { ...pattern, strands } : pattern;
  const meter = meterOfStretch(song, laying);
  return fit === 'repeat' || !meter ? plain : inMeter(plain, meter, fit);
}

/** The meter a stretch of the song begins in. */
export function meterOfStretch(song: Song, { from }: Pick<Laying, 'from'>): Meter | undefined {
  const laid = laidPlaces(song).findLast(({ start }) => start <= from);
  return laid?.section.meters[0].meter;
}

/** Whether the bars of a pattern are other ones than those of a stretch. */
export function isOtherMeter(song: Song, laying: Pick<Laying, 'from' | 'pattern'>): boolean {
  const meter = meterOfStretch(song, laying);
  return (
    meter !== undefined &&
    !sameMeter(meter, laying.pattern.meter) &&
    barTicks(meter) !== barTicks(laying.pattern.meter)
  );
}

/**
 * The spans that lay a pattern of the shelf over a stretch, sounding as it does when it is tried there
 * (`auditioned`). A section is changed once, however many of its places lie in the stretch.
 * @param id the id of the pattern on the shelf
 * @param newId gives ids that no span has
 */
export function liesOver(song: Song, laying: Laying, id: string, newId: () => string): Lie[] {
  const { pieces, instead = [], from, to, reach, mode } = laying;
  const done = new Set<string>();
  return laidPlaces(song).flatMap((laid): Lie[] => {
    const [first, last] = [Math.max(laid.start, from), Math.min(laid.end, to)];
    if (first >= last || (reach === 'section' && done.has(laid.section.id))) return [];
    done.add(laid.section.id);
    const span = spanOver(id, newId(), {
      role: 'change',
      ...anchored(first - laid.start, last - laid.start, laid.end - laid.start),
      pieces: [...new Set([...pieces, ...instead])],
      offset: first - from,
      mode: instead.length > 0 ? 'replace' : mode,
    });
    return [{ reach, laid, span }];
  });
}
