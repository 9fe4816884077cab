import { PPQ, type Ticks } from '../time';
import { GROUP_OF_PIECE, GROUPS, type Strokes } from './strokes';

/**
 * Where the strokes of a groove lie that carry it: its kicks, and the accents of other pieces. In units of
 * four ticks: its length, how many kicks there are, the kicks, then the accents, each in order of time.
 */
export type Heavy = Uint16Array;

/** Ticks of a unit: two bytes reach over 64 bars of 4/4. */
const UNIT: Ticks = PPQ / 240;
const MOST = 0xffff;
/** From this velocity on a stroke is an accent. */
export const ACCENT = 104;
const KICK = GROUPS.indexOf('kick');

export function heavyOf({ count, at, piece, velocity, length }: Strokes): Heavy {
  const kicks: number[] = [];
  const accents: number[] = [];
  for (let i = 0; i < count; i++) {
    const kick = GROUP_OF_PIECE[piece[i]] === KICK;
    if (!kick && velocity[i] < ACCENT) continue;
    // What lies beyond is measured no more: no stretch is that long.
    if (at[i] < MOST * UNIT) (kick ? kicks : accents).push(inUnits(at[i]));
  }
  return Uint16Array.from([Math.max(1, inUnits(length)), kicks.length, ...kicks, ...accents]);
}

/** Whether a value that was stored or sent is one. */
export const isHeavy = (value: unknown): value is Heavy =>
  ArrayBuffer.isView(value) &&
  (value as Heavy).BYTES_PER_ELEMENT === Uint16Array.BYTES_PER_ELEMENT &&
  (value as Heavy).length > 1;

const inUnits = (ticks: Ticks) => Math.max(0, Math.min(MOST, Math.round(ticks / UNIT)));

/** Kicks and accents in ticks, and how long the groove lasts until it goes round. */
export function ticksOfHeavy(heavy: Heavy): { kicks: Ticks[]; accents: Ticks[]; length: Ticks } {
  const ticks = Array.from(heavy, (units) => units * UNIT);
  const end = 2 + (heavy[1] ?? 0);
  return { length: ticks[0] ?? UNIT, kicks: ticks.slice(2, end), accents: ticks.slice(end) };
}
