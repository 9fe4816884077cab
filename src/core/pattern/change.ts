import { articulationOf, pieceOf } from '../model/pieces';
import type { Pattern } from '../model/song';
import { toVelocity, type Ticks, type Velocity } from '../time/units';
import { mapHits } from './strands';

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
  return mapHits(pattern, ids, (hit) => {
    const velocity = toVelocity(hit.velocity + by);
    return velocity === hit.velocity ? hit : { ...hit, velocity };
  });
}

/** Plays the chosen hits this far off their steps: negative early, positive late. */
export function setPush(pattern: Pattern, ids: ReadonlySet<string>, push: Ticks): Pattern {
  return mapHits(pattern, ids, (hit) => (hit.push === push ? hit : { ...hit, push }));
}

/** Strikes the chosen hits another way. Hits of a piece that has no such articulation stay. */
export function setArticulation(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  articulation: string,
): Pattern {
  return mapHits(pattern, ids, (hit, { piece }) => {
    const known = pieceOf(piece).articulations.some((a) => a.id === articulation);
    return known && hit.articulation !== articulation ? { ...hit, articulation } : hit;
  });
}

/** Strikes each chosen hit the next way its piece can be struck, round and round. */
export function turnArticulation(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  return mapHits(pattern, ids, (hit, { piece }) => {
    const { articulations } = pieceOf(piece);
    if (articulations.length < 2) return hit;
    const now = articulations.indexOf(articulationOf(piece, hit.articulation));
    return { ...hit, articulation: articulations[(now + 1) % articulations.length].id };
  });
}
