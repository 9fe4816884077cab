import { barTicks, COMMON_TIME, DEFAULT_STEP, type Meter } from '../time';
import type { PieceId } from './kit';
import { DYE_COUNT, type Pattern, type PatternKind } from './pattern';

/** The rows a new pattern opens with: a four-piece kit with two cymbals. */
export const USUAL_PIECES: readonly PieceId[] = [
  'crash',
  'ride',
  'hihat',
  'snare',
  'tom-high',
  'tom-low-mid',
  'tom-high-floor',
  'kick',
];

export interface NewPattern {
  id: string;
  name: string;
  kind?: PatternKind;
  meter?: Meter;
  bars?: number;
  dye?: number;
}

/** A pattern without hits, with the rows of a usual kit. */
export function emptyPattern(options: NewPattern): Pattern {
  const meter = options.meter ?? COMMON_TIME;
  return {
    id: options.id,
    name: options.name,
    kind: options.kind ?? 'groove',
    meter,
    length: barTicks(meter) * (options.bars ?? 1),
    step: DEFAULT_STEP,
    strands: USUAL_PIECES.map((piece) => ({ piece, hits: [] })),
    dye: (options.dye ?? 0) % DYE_COUNT,
  };
}

/** The dye fewest patterns of the song wear, so that neighbours on the cloth stay apart. */
export function nextDye(song: { patterns: readonly Pattern[] }): number {
  const worn = new Array<number>(DYE_COUNT).fill(0);
  for (const pattern of song.patterns) worn[pattern.dye]++;
  return worn.indexOf(Math.min(...worn));
}

/** A pattern once more, under another name and in a dye of its own. */
export function duplicateOf(
  pattern: Pattern,
  song: { patterns: readonly Pattern[] },
  id: string,
): Pattern {
  const { locked: _, local: __, ...rest } = pattern;
  return { ...rest, id, name: `${pattern.name}, again`, dye: nextDye(song) };
}
