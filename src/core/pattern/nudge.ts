import type { Pattern } from '../model';
import type { Ticks } from '../time';
import { retime } from './retime';
import { mapHits } from './strands';

/** Plays the chosen hits this far off their steps: negative early, positive late. */
export function setPush(pattern: Pattern, ids: ReadonlySet<string>, push: Ticks): Pattern {
  return mapHits(pattern, ids, (hit) => (hit.push === push ? hit : { ...hit, push }));
}

/** Plays the chosen hits earlier (negative) or later by the same time; their steps stay. */
export function layBack(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { by }: { by: Ticks },
): Pattern {
  return retime(pattern, ids, (hit) => ({ position: hit.at + hit.push + by }));
}

/** Takes away how far the chosen hits are off their steps; 100 % puts them on. */
export function straighten(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  return retime(pattern, ids, (hit) => ({ position: hit.at + hit.push * (1 - percent / 100) }));
}
