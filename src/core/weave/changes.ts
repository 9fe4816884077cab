import { type Hit, type Pattern, type PieceId } from '../model';
import { swingOf } from '../pattern';
import type { Ticks } from '../time';

/** Bars (or parts of them) in which the same pieces are played otherwise. */
export interface Region {
  /** Ticks from the start of what was compared. */
  from: Ticks;
  to: Ticks;
  /** From the top of the staff as the patterns have them; never empty. */
  pieces: PieceId[];
}

/**
 * Where two patterns that begin together are played otherwise, bar by bar and piece by piece.
 * @param lines where bars begin, in order, the first at 0, and at last the end
 */
export function changedRegions(before: Pattern, after: Pattern, lines: readonly Ticks[]): Region[] {
  const pieces = [...new Set([...before.strands, ...after.strands].map(({ piece }) => piece))];
  const played = [before, after].map((pattern) => strokesByBar(pattern, lines));
  const regions: Region[] = [];
  for (let bar = 0; bar + 1 < lines.length; bar++) {
    const changed = pieces.filter(
      (piece) => played[0].get(piece)?.[bar] !== played[1].get(piece)?.[bar],
    );
    if (changed.length === 0) continue;
    const last = regions.at(-1);
    if (last && last.to === lines[bar] && last.pieces.join() === changed.join()) {
      last.to = lines[bar + 1];
    } else regions.push({ from: lines[bar], to: lines[bar + 1], pieces: changed });
  }
  return regions;
}

/** What each piece plays in each bar, as a text that is the same where it sounds the same. */
function strokesByBar(
  pattern: Pattern,
  lines: readonly Ticks[],
): Map<PieceId, (string | undefined)[]> {
  const found = new Map<PieceId, (string | undefined)[]>();
  for (const { piece, hits, loopTicks: period = pattern.length } of pattern.strands) {
    const texts = new Array<string | undefined>(lines.length - 1).fill(undefined);
    const end = Math.min(lines.at(-1)!, pattern.length);
    for (let round = 0; round < end; round += period) {
      for (const hit of hits) {
        const at = round + hit.at;
        if (at >= end) continue;
        const bar = barOf(lines, at);
        texts[bar] = `${texts[bar] ?? ''}${strokeText(pattern, hit, at, at - lines[bar])};`;
      }
    }
    found.set(piece, texts);
  }
  return found;
}

/** A stroke as it sounds, whatever it is called and wherever its push came from. */
function strokeText(pattern: Pattern, hit: Hit, at: Ticks, inBar: Ticks): string {
  const { id: _, at: __, push, ...rest } = hit;
  const late = Math.round((push + swingOf(pattern, at % pattern.length)) * 1e4) / 1e4;
  return JSON.stringify([
    inBar,
    late,
    ...Object.entries(rest)
      .filter(([, v]) => v !== undefined)
      .sort(),
  ]);
}

function barOf(lines: readonly Ticks[], at: Ticks): number {
  let bar = 0;
  while (bar + 2 < lines.length && lines[bar + 1] <= at) bar++;
  return bar;
}
