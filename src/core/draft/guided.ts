import type { Kit } from '../model';
import { chance } from '../random';
import { PPQ, type Meter, type Ticks } from '../time';
import { isBackbeat, plainHit, saidBeat, type Rung } from './ladder';
import type { Pool } from './pool';
import { strengthOf } from './strength';

/** Notes of a guide in one bar of a section. */
export interface GuidedBar {
  /** “bass”: what the guide is called. */
  name: string;
  /** Ticks from the start of the bar, in order. */
  onsets: readonly Ticks[];
  /** The bar is the first one of the song. */
  first: boolean;
}

/** A note this near to a stroke is together with it. */
const NEAR: Ticks = PPQ / 8;
/** How late a kick comes in at most when nothing follows the guide. */
const LATEST = 0.52;

/** Everything goes with the guide from here on. */
const ALL = 0.995;

/**
 * The kicks of a ladder as they go with a guide: where it has a note, a kick comes in the earlier the more the kick is
 * to follow; where it is silent, kicks of the groove are left out. The one of a bar and what every bar of the feel has
 * stay, unless all is to follow; what is between the backbeat and its note stays too. Kicks keep a sixteenth apart.
 * @param follow above 0; 1 goes with every note that can be played, and no kick stands alone
 */
export function guidedKicks(
  ladder: readonly Rung[],
  guided: GuidedBar,
  follow: number,
  of: { seed: number; kit: Kit; meter: Meter; pool: Pool },
): readonly Rung[] {
  const { name, onsets } = guided;
  const { seed, kit, meter, pool } = of;
  const kicks = ladder.filter(({ piece }) => piece === 'kick');
  const backbeats = ladder.filter(({ piece, hit, at }) => isBackbeat(piece, hit, at, meter));
  const near = (list: readonly { at: Ticks }[], at: Ticks) =>
    list.some((other) => Math.abs(other.at - at) <= NEAR);
  const kept = kicks.flatMap((rung): Rung[] => {
    if (onsets.some((at) => Math.abs(at - rung.at) <= NEAR)) {
      const says = `kick with the ${name} on ${saidBeat(rung.at, meter)}`;
      return [{ ...rung, rank: Math.min(rung.rank, LATEST * (1 - follow)), says }];
    }
    if (follow >= ALL) return mayKick(guided, follow, rung.at) ? [rung] : [];
    // What every bar of the feel has is the feel: a four to the floor stays one.
    const common = pool.strokes.find(
      ({ piece, at }) => piece === 'kick' && Math.abs(at - rung.at) < 1,
    );
    const structural = rung.at < NEAR || (common?.share ?? 0) > 0.75;
    if (structural) return [rung];
    return chance(seed, 'leave', rung.at) < follow * 0.85 ? [] : [rung];
  });
  const template = kicks[0]?.hit ?? plainHit('kick', 96, kit, 'beater');
  const grid = new Set(pool.strokes.map(({ at }) => Math.round(at)));
  const fresh: Rung[] = [];
  for (const onset of onsets) {
    const at = nearestStep(onset, grid);
    if (at === undefined || near(kept, at) || near(backbeats, at)) continue;
    const all = [...kept, ...fresh];
    if (all.some((other) => Math.abs(other.at - at) < PPQ / 4 - 1)) continue;
    const strength = strengthOf(at, meter);
    // A run of sixteenths is met on its eighths first.
    const eager = follow * (strength < 4 ? 1.15 : 0.75);
    if (chance(seed, 'with', at) >= eager) continue;
    const velocity = template.velocity * (strength < 3 ? 1 : strength === 3 ? 0.94 : 0.86);
    fresh.push({
      piece: 'kick',
      at,
      hit: { ...template, at, velocity },
      rank: LATEST * (1 - follow) + 0.02 * strength,
      says: `kick with the ${name} on ${saidBeat(at, meter)}`,
    });
  }
  return [...kept, ...fresh].sort((a, b) => a.rank - b.rank || a.at - b.at);
}

/**
 * Whether a kick may be struck at a moment of a bar: where all is to follow, none stands alone but on the first beat of
 * the song.
 */
export const mayKick = (
  { onsets, first }: Pick<GuidedBar, 'onsets' | 'first'>,
  follow: number,
  at: Ticks,
): boolean =>
  follow < ALL || (first && at < NEAR) || onsets.some((onset) => Math.abs(onset - at) <= NEAR);

/** The step of a family, or the sixteenth, that a note belongs to; undefined where it is between them. */
function nearestStep(onset: Ticks, grid: ReadonlySet<number>): Ticks | undefined {
  let best: Ticks | undefined;
  for (const at of [...grid, Math.round(onset / (PPQ / 4)) * (PPQ / 4)]) {
    const off = Math.abs(at - onset);
    if (off <= PPQ / 12 && (best === undefined || off < Math.abs(best - onset))) best = at;
  }
  return best;
}
