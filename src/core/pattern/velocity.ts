import type { Hit, Pattern } from '../model';
import { seeded } from '../random';
import { pulseTicks, toVelocity, type Velocity, type Ticks } from '../time';
import { chosenHits, mapHits } from './strands';
import { heardAt } from './swing';

/** Gives each named hit its own velocity; values are brought to 1 to 127. */
export function setVelocities(
  pattern: Pattern,
  velocities: ReadonlyMap<string, Velocity>,
): Pattern {
  return mapHits(pattern, new Set(velocities.keys()), (hit) => {
    const velocity = toVelocity(velocities.get(hit.id) ?? hit.velocity);
    return velocity === hit.velocity ? hit : { ...hit, velocity };
  });
}

/** Makes the chosen hits louder (positive) or softer by the same amount. */
export function addVelocity(pattern: Pattern, ids: ReadonlySet<string>, by: number): Pattern {
  return revalue(pattern, ids, ({ velocity }) => velocity + by);
}

/** A straight line of velocities between two moments of a pattern, drawn over hits. */
export interface VelocityLine {
  /** Ticks of the pattern. */
  from: Ticks;
  to: Ticks;
  first: Velocity;
  last: Velocity;
}

/** Gives the chosen hits that are heard along a line the velocity it has there. */
export function drawVelocityLine(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { from, to, first, last }: VelocityLine,
): Pattern {
  const span = to - from;
  return revalue(pattern, ids, (hit) => {
    const share = span === 0 ? 1 : (heardAt(pattern, hit) - from) / span;
    const along = share > -1e-9 && share < 1 + 1e-9;
    return along ? first + (last - first) * Math.max(0, Math.min(1, share)) : hit.velocity;
  });
}

/** Gives the chosen hits velocities by a function; `index` counts them per strand, in step order. */
function revalue(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  valueOf: (hit: Hit, index: number) => number,
): Pattern {
  let strand: unknown;
  let index = 0;
  return mapHits(pattern, ids, (hit, on) => {
    if (on !== strand) index = 0;
    strand = on;
    const velocity = toVelocity(valueOf(hit, index++));
    return velocity === hit.velocity ? hit : { ...hit, velocity };
  });
}

function meanVelocity(pattern: Pattern, ids: ReadonlySet<string>): number {
  const chosen = chosenHits(pattern, ids);
  return chosen.reduce((sum, { hit }) => sum + hit.velocity, 0) / Math.max(1, chosen.length);
}

/** All chosen hits equally hard. */
export function setVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { velocity }: { velocity: Velocity },
): Pattern {
  return revalue(pattern, ids, () => velocity);
}

/** @param options.percent 100 leaves them as they are */
export function scaleVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  return revalue(pattern, ids, (hit) => (hit.velocity * percent) / 100);
}

/** A straight line from the first chosen step to the last, over all strands. */
export function rampVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { from, to }: { from: Velocity; to: Velocity },
): Pattern {
  const ats = chosenHits(pattern, ids).map(({ hit }) => hit.at + hit.push);
  const [first, last] = [Math.min(...ats), Math.max(...ats)];
  return revalue(pattern, ids, (hit) =>
    last === first ? to : from + ((to - from) * (hit.at + hit.push - first)) / (last - first),
  );
}

/** Pulls the chosen hits towards their mean: 100 % makes them equal. */
export function levelVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  const mean = meanVelocity(pattern, ids);
  return revalue(pattern, ids, ({ velocity }) => velocity + ((mean - velocity) * percent) / 100);
}

/** Drives the chosen hits away from their mean: 100 % doubles their differences. */
export function spreadVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  const mean = meanVelocity(pattern, ids);
  return revalue(pattern, ids, ({ velocity }) => velocity + ((velocity - mean) * percent) / 100);
}

/** Velocities drawn between two bounds, both possible; the same seed draws the same ones. */
export function randomVelocity(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { low, high, seed }: { low: Velocity; high: Velocity; seed: number },
): Pattern {
  const random = seeded(seed);
  const [bottom, top] = low <= high ? [low, high] : [high, low];
  return revalue(pattern, ids, () => bottom + Math.floor(random() * (top - bottom + 1)));
}

/** Strong and weak hand in turn along each strand; the weak hand is softer by some percent. */
export function alternateHands(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { softer, lead }: { softer: number; lead: 'strong' | 'weak' },
): Pattern {
  const weak = lead === 'strong' ? 1 : 0;
  return revalue(pattern, ids, ({ velocity }, i) =>
    i % 2 === weak ? velocity * (1 - softer / 100) : velocity,
  );
}

/** Steps of an accent pattern: `x` is accented, `.` is not. */
export const ACCENT_STEPS = /^(?=.*x)[x.]{2,16}$/;

/**
 * Accents by a pattern of steps that repeats from the start: `x..x..` over sixteenths.
 * @param options.louder what an accent gains
 * @param options.softer what the others lose
 */
export function accentSteps(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { steps, louder, softer }: { steps: string; louder: number; softer: number },
): Pattern {
  if (!ACCENT_STEPS.test(steps)) return pattern;
  return revalue(pattern, ids, ({ at, velocity }) => {
    const step = Math.floor(at / pattern.step) % steps.length;
    return steps[step] === 'x' ? velocity + louder : velocity - softer;
  });
}

/** Makes ghosts of the chosen hits that are not on a beat. */
export function ghostOffBeats(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { velocity }: { velocity: Velocity },
): Pattern {
  const beat = pulseTicks(pattern.meter);
  return revalue(pattern, ids, (hit) => (hit.at % beat === 0 ? hit.velocity : velocity));
}
