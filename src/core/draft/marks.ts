import { type Drafted, type Hit, type Pattern } from '../model';
import { barTicks } from '../time';
import { barsOfPattern } from './pool';

/**
 * What tells a bar of a pattern as it was drafted from one that was changed by hand. Source: FNV-1a of Fowler, Noll
 * and Vo, of 32 bits, taken twice with different starts.
 */
export function marksOf(pattern: Pattern): string[] {
  return barsOfPattern(pattern).map((bar) => {
    let [a, b] = [0x811c9dc5, 0x01000193];
    const take = (value: string | number) => {
      const text = `${value}|`;
      for (let i = 0; i < text.length; i++) {
        const letter = text.charCodeAt(i);
        a = Math.imul(a ^ letter, 0x01000193);
        b = Math.imul(b ^ letter, 0x0100018d);
      }
    };
    for (const { piece, at, hit } of [...bar].sort(
      (x, y) => x.at - y.at || order(x.piece, y.piece),
    )) {
      take(piece);
      take(Math.round(at * 16));
      for (const value of said(hit)) take(value);
    }
    return `${(a >>> 0).toString(36)}${(b >>> 0).toString(36)}`;
  });
}

const order = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/** What is heard of a hit. */
function said(hit: Hit): (string | number)[] {
  const { push, velocity, articulation, id: _id, at: _at, ...rest } = hit;
  const more = Object.keys(rest).length > 0 ? JSON.stringify(rest) : '';
  return [Math.round(push * 16), velocity, articulation, more];
}

const touched = new WeakMap<Pattern, { bars: ReadonlySet<number> | undefined }>();

/** The bars of a drafted pattern that are not as they were drafted, counted from 0; undefined: all of it is another. */
export function touchedBars(pattern: Pattern): ReadonlySet<number> | undefined {
  let known = touched.get(pattern);
  if (!known) touched.set(pattern, (known = { bars: lookedAt(pattern) }));
  return known.bars;
}

function lookedAt(pattern: Pattern): ReadonlySet<number> | undefined {
  const { drafted } = pattern;
  if (!drafted || pattern.swing || pattern.strands.some(({ loopTicks }) => loopTicks))
    return undefined;
  const now = marksOf(pattern);
  const bars = pattern.length / barTicks(pattern.meter);
  if (now.length !== drafted.bars.length || (bars > 1 && !Number.isInteger(bars))) return undefined;
  return new Set(now.flatMap((mark, bar) => (mark === drafted.bars[bar] ? [] : [bar])));
}

/** Why a hit is there, as far as it was drafted. */
export function whyHit(drafted: Drafted, hit: string): string | undefined {
  return drafted.whys.find(({ hits }) => hits.includes(hit))?.says;
}
