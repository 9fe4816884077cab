import { GHOST_BELOW } from '../model';
import { barTicks, PPQ, toVelocity, type Meter } from '../time';
import type { Rung } from './ladder';
import { isGhost } from './pool';

/** How much and how loud a feel is played, from no energy to all of it. */
export interface Range {
  /** Strokes a quarter note. */
  density: readonly [low: number, high: number];
  loudness: readonly [low: number, high: number];
}

/**
 * Energy is played in ten steps: places whose lines lie in the same step play the same, and a line that is moved
 * by less than the eye sees changes nothing.
 */
export const STEPS = 10;

/** The step that an energy of 0 to 1 lies in, 0 to `STEPS`. */
export const stepOf = (energy: number): number =>
  Math.round(Math.max(0, Math.min(1, energy)) * STEPS);

/** How hard strokes are struck at one step of energy. */
export interface Curve {
  /** The velocity that no stroke goes beyond. */
  ceiling: number;
  /** The power that a share of the hardest velocity is taken to: below 1 is harder, above 1 softer. */
  power: number;
  /** The feel is soft throughout: its soft strokes are no ghosts. */
  soft: boolean;
}

/** The hardest stroke with no energy, and with all of it. */
const CEILING = [102, 124] as const;
const HARDEST = 127;

/** A stroke that a curve is about. */
type Stroke = Pick<Rung, 'piece' | 'hit'>;

/** Whether a stroke is a ghost note of the snare, which stays one however loud the rest is. */
const isGhostNote = ({ piece, hit }: Stroke, { soft }: Curve) =>
  !soft && piece === 'snare' && isGhost(hit);

/**
 * How hard a stroke is struck on a curve, unrounded. Harder strokes stay harder, nothing is cut off at the top, ghost
 * notes stay ghosts and accents never become any.
 */
function onCurve(stroke: Stroke, curve: Curve): number {
  const { velocity } = stroke.hit;
  const { ceiling, power, soft } = curve;
  if (isGhostNote(stroke, curve)) {
    return Math.max(10, (GHOST_BELOW - 2) * (velocity / GHOST_BELOW) ** (power ** 0.3));
  }
  const least = soft || velocity < GHOST_BELOW ? 8 : GHOST_BELOW;
  return Math.max(least, ceiling * (velocity / HARDEST) ** power);
}

/** A stroke as it is played: on its curve, and so much off it. */
export function strayed(stroke: Stroke, curve: Curve, by: number): number {
  const [low, high] = isGhostNote(stroke, curve)
    ? [8, GHOST_BELOW - 2]
    : [curve.soft || isGhost(stroke.hit) ? 8 : GHOST_BELOW, curve.ceiling + 1];
  return toVelocity(Math.max(low, Math.min(high, onCurve(stroke, curve) + by)));
}

/**
 * How many strokes of a ladder are played at each step of energy, and how hard. With each step there are no fewer, no
 * stroke is softer than before, and neither is the mean; the mean is as the range has it, as far as that can be.
 */
export function dynamicsOf(
  ladder: readonly Rung[],
  { range, meter }: { range: Range; meter: Meter },
): { counts: number[]; curves: Curve[] } {
  const soft = 2 * ladder.filter(({ hit }) => isGhost(hit)).length > ladder.length;
  const counts: number[] = [];
  const curves: Curve[] = [];
  let power = 8;
  let before = 0;
  for (let step = 0; step <= STEPS; step++) {
    const energy = step / STEPS;
    const perQuarter = between(range.density, energy);
    const count = Math.min(ladder.length, Math.round((perQuarter * barTicks(meter)) / PPQ));
    const ceiling = between(CEILING, energy);
    const mean = (at: number) => {
      let sum = 0;
      for (let i = 0; i < count; i++) {
        sum += onCurve(ladder[i], { ceiling, power: at, soft });
      }
      return sum / Math.max(1, count);
    };
    const wanted = Math.max(before, between(range.loudness, energy));
    if (mean(power) < wanted) {
      let [loud, quiet] = [0.2, power];
      for (let i = 0; i < 14; i++) {
        const middle = Math.sqrt(loud * quiet);
        if (mean(middle) < wanted) quiet = middle;
        else loud = middle;
      }
      power = loud;
    }
    before = mean(power);
    counts.push(count);
    curves.push({ ceiling, power, soft });
  }
  return { counts, curves };
}

const between = ([low, high]: readonly [number, number], share: number) =>
  low + (high - low) * share;
