import { GHOST_BELOW, type PieceId, type Hit, type Pattern, type Strand } from '../model';
import { pulseTicks, type Ticks, type Velocity } from '../time';
import { allIds } from './strands';

/** Which hits are meant. What is absent does not matter. */
export interface Description {
  pieces?: readonly PieceId[];
  articulation?: string;
  /** On a beat, half-way between two beats, or on none of both. */
  beat?: 'on the beat' | 'off-beat' | 'between';
  /** Every n-th stroke of each strand, among those that fit the rest, from the first one on. */
  every?: number;
  velocity?: readonly [low: Velocity, high: Velocity];
  /** Off their steps by more than this. */
  offBy?: Ticks;
  figures?: 'bursts' | 'ghosts' | 'flams' | 'cycles';
}

/** The ids of the hits that fit a description. */
export function describedHits(pattern: Pattern, wanted: Description): string[] {
  const beat = pulseTicks(pattern.meter);
  return pattern.strands.flatMap((strand) => {
    if (wanted.pieces && !wanted.pieces.includes(strand.piece)) return [];
    const fitting = strand.hits.filter((hit) => fits(hit, wanted, beat));
    const every = Math.max(1, wanted.every ?? 1);
    return fitting.filter((_, i) => i % every === 0).map((hit) => hit.id);
  });
}

function fits(hit: Hit, wanted: Description, beat: Ticks): boolean {
  const { articulation, velocity, offBy, figures } = wanted;
  if (articulation && hit.articulation !== articulation) return false;
  if (wanted.beat && beatPlace(hit.at, beat) !== wanted.beat) return false;
  if (velocity && (hit.velocity < velocity[0] || hit.velocity > velocity[1])) return false;
  if (offBy !== undefined && !(Math.abs(hit.push) > offBy)) return false;
  switch (figures) {
    case 'bursts':
      return hit.burst !== undefined;
    case 'ghosts':
      return hit.velocity < GHOST_BELOW;
    case 'flams':
      return hit.flam !== undefined;
    case 'cycles':
      return hit.cycle !== undefined;
    default:
      return true;
  }
}

function beatPlace(at: Ticks, beat: Ticks): NonNullable<Description['beat']> {
  const inBeat = at % beat;
  if (inBeat === 0) return 'on the beat';
  return inBeat === beat / 2 ? 'off-beat' : 'between';
}

/** The selection and, on each strand, what comes right before and after each chosen hit. */
export function grownSelection(pattern: Pattern, ids: ReadonlySet<string>): string[] {
  return byNeighbours(pattern, (hits, i) =>
    [hits[i - 1], hits[i], hits[i + 1]].some((hit) => hit && ids.has(hit.id)),
  );
}

/** The selection without the first and last hit of each run of neighbours. */
export function shrunkSelection(pattern: Pattern, ids: ReadonlySet<string>): string[] {
  return byNeighbours(pattern, (hits, i) =>
    [hits[i - 1], hits[i], hits[i + 1]].every((hit) => hit && ids.has(hit.id)),
  );
}

function byNeighbours(
  pattern: Pattern,
  keep: (hits: readonly Hit[], index: number) => boolean,
): string[] {
  return pattern.strands.flatMap(({ hits }: Strand) =>
    hits.filter((_, i) => keep(hits, i)).map((hit) => hit.id),
  );
}

/** What is not selected. */
export function invertedSelection(pattern: Pattern, ids: ReadonlySet<string>): string[] {
  return [...allIds(pattern)].filter((id) => !ids.has(id));
}
