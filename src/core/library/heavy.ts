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
const ACCENT = 104;
const KICK = GROUPS.indexOf('kick');

export function heavyOf({ count, at, piece, velocity, length }: Strokes): Heavy {
  // Counted first: tens of thousands of files are measured, and lists that grow cost more than the measuring.
  let [kicks, accents] = [0, 0];
  // What lies beyond is measured no more: no stretch is that long.
  let end = 0;
  for (; end < count && at[end] < MOST * UNIT; end++) {
    if (GROUP_OF_PIECE[piece[end]] === KICK) kicks++;
    else if (velocity[end] >= ACCENT) accents++;
  }
  const heavy = new Uint16Array(2 + kicks + accents);
  heavy[0] = Math.max(1, inUnits(length));
  heavy[1] = kicks;
  let [kick, accent] = [2, 2 + kicks];
  for (let i = 0; i < end; i++) {
    if (GROUP_OF_PIECE[piece[i]] === KICK) heavy[kick++] = inUnits(at[i]);
    else if (velocity[i] >= ACCENT) heavy[accent++] = inUnits(at[i]);
  }
  return heavy;
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
