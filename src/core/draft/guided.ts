import { findPiece, type Kit } from '../model';
import { chance } from '../random';
import { PPQ, type Meter, type Ticks } from '../time';
import { isBackbeat, plainHit, saidBeat, strengthOf, type Rung } from './ladder';
import type { Pool } from './pool';

/** Notes of a guide in one bar of a section. */
export interface GuidedBar {
  /** “bass”: what the guide is called. */
  name: string;
  /** Ticks from the start of the bar, in order, with the share of the section's places that have them. */
  onsets: readonly { at: Ticks; share: number }[];
}

/** A note this near to a stroke is together with it. */
const NEAR: Ticks = PPQ / 8;
/** How late a kick comes in at most when nothing follows the guide. */
const LATEST = 0.52;

/**
 * A ladder whose kicks go with a guide: where it has a note, a kick comes in the earlier the more the kick is to
 * follow; where it is silent, kicks of the groove are left out. The one of a bar stays, and so does what is
 * between the backbeat and its note. Kicks keep a sixteenth apart.
 * @param follow 0 leaves the ladder as it is, 1 goes with every note that can be played
 */
export function guidedLadder(
  ladder: readonly Rung[],
  { name, onsets }: GuidedBar,
  follow: number,
  of: { seed: number; kit: Kit; meter: Meter; pool: Pool },
): readonly Rung[] {
  if (follow <= 0 || onsets.length === 0 || !findPiece('kick', of.kit)) return ladder;
  const { seed, kit, meter, pool } = of;
  const isKick = ({ piece }: Rung) => piece === 'kick';
  const kicks = ladder.filter(isKick);
  const backbeats = ladder.filter(({ piece, hit, at }) => isBackbeat(piece, hit, at, meter));
  const near = (list: readonly { at: Ticks }[], at: Ticks) =>
    list.find((other) => Math.abs(other.at - at) <= NEAR);
  const kept = kicks.flatMap((rung): Rung[] => {
    const met = onsets.find(({ at }) => Math.abs(at - rung.at) <= NEAR);
    if (met) {
      const says = `kick with the ${name} on ${saidBeat(rung.at, meter)}`;
      return [{ ...rung, rank: Math.min(rung.rank, LATEST * (1 - follow * met.share)), says }];
    }
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
  for (const { at: onset, share } of onsets) {
    const at = nearestStep(onset, grid);
    if (at === undefined || near(kept, at) || near(backbeats, at)) continue;
    const all = [...kept, ...fresh];
    if (all.some((other) => Math.abs(other.at - at) < PPQ / 4 - 1)) continue;
    const strength = strengthOf(at, meter);
    // A run of sixteenths is met on its eighths first.
    const eager = follow * share * (strength < 4 ? 1.15 : 0.75);
    if (chance(seed, 'with', at) >= eager) continue;
    const velocity = template.velocity * (strength < 3 ? 1 : strength === 3 ? 0.94 : 0.86);
    fresh.push({
      piece: 'kick',
      at,
      hit: { ...template, at, velocity },
      rank: LATEST * (1 - follow * share) + 0.02 * strength,
      says: `kick with the ${name} on ${saidBeat(at, meter)}`,
    });
  }
  return [...ladder.filter((rung) => !isKick(rung)), ...kept, ...fresh].sort(
    (a, b) => a.rank - b.rank || a.at - b.at,
  );
}

/** The step of a family, or the sixteenth, that a note belongs to; undefined where it is between them. */
function nearestStep(onset: Ticks, grid: ReadonlySet<number>): Ticks | undefined {
  let best: Ticks | undefined;
  for (const at of [...grid, Math.round(onset / (PPQ / 4)) * (PPQ / 4)]) {
    const off = Math.abs(at - onset);
    if (off <= PPQ / 12 && (best === undefined || off < Math.abs(best - onset))) best = at;
  }
  return best;
}
