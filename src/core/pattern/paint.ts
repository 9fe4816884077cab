import {
  articulationOf,
  DEFAULT_KIT,
  findStrand,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { toVelocity, type Ticks, type Velocity } from '../time';
import { placeHits } from './hits';
import { freeIds, hitOfStep, mapHits, stepOf } from './strands';

/** Where a painting hand was, and how hard it struck there. */
export interface PaintPoint {
  at: Ticks;
  velocity: Velocity;
}

/** A stroke that paints a run of hits along one row. */
export interface Painting {
  piece: PieceId;
  /** In the order the hand passed them; between two of them it went in a straight line. */
  points: readonly PaintPoint[];
  /** Hits are painted on every n-th step, counted from where the stroke began. */
  every: number;
  articulation: string;
  /** Makes the ids of new hits. */
  seed: string;
}

/** A step that was painted. */
export interface PaintedStep {
  at: Ticks;
  velocity: Velocity;
  /** The hit that was on it already: it takes the velocity. */
  there?: Hit;
}

/** No stroke paints more steps: as many as a pattern of 64 bars can have. */
const MOST_STEPS = 8192;

/**
 * The steps a stroke paints. Steps that a quick hand jumped over are filled along a straight line of
 * velocities; where it passed a step twice, what it did last counts.
 */
export function paintedSteps(pattern: Pattern, painting: Painting): PaintedStep[] {
  const { piece, points, every } = painting;
  const strand = findStrand(pattern, piece);
  const step = stepOf(pattern, strand ?? {});
  const hits = strand?.hits ?? [];
  const loop = strand?.loopTicks;
  const run = new Map<Ticks, PaintedStep>();
  const [first] = points;
  let last = first;
  for (const point of points) {
    const count = Math.min(MOST_STEPS, Math.round(Math.abs(point.at - last.at) / step));
    for (let i = run.size === 0 || count === 0 ? 0 : 1; i <= count; i++) {
      const share = count === 0 ? 1 : i / count;
      const place = last.at + Math.round(((point.at - last.at) * share) / step) * step;
      if (Math.round((place - first.at) / step) % every !== 0) continue;
      if (!(place >= 0 && place < pattern.length)) continue;
      const at = loop ? place % loop : place;
      const velocity = toVelocity(last.velocity + (point.velocity - last.velocity) * share);
      const there = hitOfStep(hits, at, step);
      run.set(there?.at ?? at, { at: there?.at ?? at, velocity, ...(there && { there }) });
    }
    last = point;
  }
  return [...run.values()];
}

/** The pattern with a painted run: hits that were there take the velocities, the others are new. */
export function paint(pattern: Pattern, painting: Painting, kit: Kit = DEFAULT_KIT): Pattern {
  const steps = paintedSteps(pattern, painting);
  const struck = new Map(
    steps.flatMap(({ there, velocity }) => (there ? [[there.id, velocity] as const] : [])),
  );
  const free = freeIds(pattern);
  const articulation = articulationOf(painting.piece, painting.articulation, kit).id;
  const fresh = steps
    .filter(({ there }) => !there)
    .map(({ at, velocity }) => ({
      piece: painting.piece,
      hit: { id: free(`${painting.seed}-${at}`), at, push: 0, velocity, articulation },
    }));
  const louder = mapHits(pattern, new Set(struck.keys()), (hit) => {
    const velocity = struck.get(hit.id)!;
    return velocity === hit.velocity ? hit : { ...hit, velocity };
  });
  return fresh.length > 0 ? placeHits(louder, fresh, kit) : louder;
}
