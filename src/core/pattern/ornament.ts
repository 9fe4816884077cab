import {
  articulationOf,
  DEFAULT_KIT,
  MIN_STEP,
  type Burst,
  type Flam,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { toVelocity, type Ticks, type Velocity } from '../time';
import { placeHits, removeHits, type StrandHit } from './hits';
import { freeIds, mapHits, stepOf } from './strands';

/** What can be put on a hit or taken off it. */
export type Ornament = 'flam' | 'burst' | 'choke' | 'cycle' | 'reverse' | 'swell';

/** A flam (one grace stroke) or drag (two) before each chosen hit. */
export function setFlam(pattern: Pattern, ids: ReadonlySet<string>, flam: Flam): Pattern {
  const { strokes, lead, softness } = flam;
  return mapHits(pattern, ids, (hit) => {
    const { flam } = hit;
    const same = flam?.strokes === strokes && flam.lead === lead && flam.softness === softness;
    return same ? hit : { ...hit, flam: { strokes, lead, softness } };
  });
}

/** Several strokes in the room of the step each chosen hit is on. */
export function setBurst(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { strokes, slope }: Omit<Burst, 'room'>,
): Pattern {
  return mapHits(pattern, ids, (hit, strand) => {
    const room = stepOf(pattern, strand);
    const { burst } = hit;
    const same = burst?.strokes === strokes && burst.room === room && burst.slope === slope;
    return same ? hit : { ...hit, burst: { strokes, room, slope } };
  });
}

/** Stops the sound of the chosen hits by hand, so many ticks after the stroke. */
export function setChoke(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { after }: { after: Ticks },
): Pattern {
  return mapHits(pattern, ids, (hit) => (hit.choke === after ? hit : { ...hit, choke: after }));
}

/** Has a swell of its own sound and room lead up to each chosen hit. */
export function setSwell(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { lasts }: { lasts: Ticks },
): Pattern {
  return mapHits(pattern, ids, (hit) => (hit.swell === lasts ? hit : { ...hit, swell: lasts }));
}

/** Lets the sound of the chosen hits run backwards; once more, forwards. */
export function toggleReverse(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  const all = pattern.strands.every(({ hits }) =>
    hits.every((hit) => !ids.has(hit.id) || hit.reverse),
  );
  return mapHits(pattern, ids, (hit) => {
    if (!all) return hit.reverse ? hit : { ...hit, reverse: true };
    const { reverse: _, ...rest } = hit;
    return rest;
  });
}

/** Takes ornaments off the chosen hits. */
export function plain(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { of }: { of: Ornament | 'all' },
): Pattern {
  const gone: readonly Ornament[] =
    of === 'all' ? ['flam', 'burst', 'choke', 'cycle', 'reverse', 'swell'] : [of];
  return mapHits(pattern, ids, (hit) => {
    if (gone.every((ornament) => hit[ornament] === undefined)) return hit;
    const left: Hit = { ...hit };
    for (const ornament of gone) delete left[ornament];
    return left;
  });
}

export interface Roll {
  piece: PieceId;
  articulation: string;
  /** Ticks of the pattern; `to` is not struck. */
  from: Ticks;
  to: Ticks;
  /** From one stroke to the next. */
  rate: Ticks;
  first: Velocity;
  last: Velocity;
  /** Makes the ids of the strokes. */
  seed: string;
}

/** Writes a roll: even strokes along a ramp of velocities, in place of what is there. */
export function writeRoll(pattern: Pattern, roll: Roll, kit: Kit = DEFAULT_KIT): Pattern {
  const { piece, from, rate, first, last, seed } = roll;
  const strand = pattern.strands.find((s) => s.piece === piece);
  const to = Math.min(roll.to, strand?.loopTicks ?? pattern.length);
  if (!(rate >= MIN_STEP) || !(from >= 0) || !(to > from)) return pattern;
  const count = Math.ceil((to - from) / rate - 1e-6);
  const articulation = articulationOf(piece, roll.articulation, kit).id;
  const free = freeIds(pattern);
  const strokes = Array.from({ length: count }, (_, i): StrandHit => {
    const share = count === 1 ? 1 : i / (count - 1);
    const velocity = toVelocity(first + (last - first) * share);
    return {
      piece,
      hit: { id: free(`${seed}-${i}`), at: from + i * rate, push: 0, velocity, articulation },
    };
  });
  const under = (strand?.hits ?? []).filter((hit) => hit.at >= from && hit.at < to);
  return placeHits(removeHits(pattern, new Set(under.map((hit) => hit.id))), strokes, kit);
}
