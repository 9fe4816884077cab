import type { Hit, Pattern } from '../model';
import { sameMeter } from '../time';
import { stepOf } from './strands';

/**
 * Whether two patterns are the same music: meter, length, swing, and every hit of every strand. What they
 * are called, what was noted of them, and rows without hits say nothing.
 */
export function sameMusic(a: Pattern, b: Pattern): boolean {
  if (a === b) return true;
  if (a.length !== b.length || !sameMeter(a.meter, b.meter)) return false;
  if (a.swing?.percent !== b.swing?.percent || a.swing?.unit !== b.swing?.unit) return false;
  const [mine, theirs] = [a, b].map((pattern) =>
    pattern.strands.filter(({ hits }) => hits.length > 0),
  );
  return (
    mine.length === theirs.length &&
    mine.every((strand, i) => {
      const other = theirs[i];
      return (
        strand.piece === other.piece &&
        strand.loopTicks === other.loopTicks &&
        stepOf(a, strand) === stepOf(b, other) &&
        strand.hits.length === other.hits.length &&
        strand.hits.every((hit, n) => hit === other.hits[n] || sameStroke(hit, other.hits[n]))
      );
    })
  );
}

/** A text that patterns have in common when they are the same music, and no others: see `sameMusic`. */
export function musicKey(pattern: Pattern): string {
  const { length, meter, swing } = pattern;
  const strands = pattern.strands.filter(({ hits }) => hits.length > 0);
  return JSON.stringify([
    ...[length, meter.beats, meter.unit, swing?.percent, swing?.unit],
    ...strands.map((strand) => [
      ...[strand.piece, strand.loopTicks, stepOf(pattern, strand)],
      ...strand.hits.map(({ id: _, ...hit }) => inOrder(hit)),
    ]),
  ]);
}

/** Whether two hits are the same in everything but their ids. */
function sameStroke(a: Hit, b: Hit): boolean {
  const [{ id: _, ...one }, { id: __, ...other }] = [a, b];
  return JSON.stringify(inOrder(one)) === JSON.stringify(inOrder(other));
}

const inOrder = (hit: Omit<Hit, 'id'>) =>
  Object.entries(hit)
    .filter(([, value]) => value !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
