import type { Samples } from '../time';

/** A stretch of a bounced sound, as it is heard. */
export interface Stretch {
  from: Samples;
  to: Samples;
  reverse?: true;
}

/**
 * Stretches, heard one after another, with what is heard between two samples of them turned round. The same once more
 * is as it was.
 */
export function turnedRound(stretches: readonly Stretch[], from: Samples, to: Samples): Stretch[] {
  const [first, inside, rest]: [Stretch[], Stretch[], Stretch[]] = [[], [], []];
  let at = 0;
  for (const stretch of stretches) {
    const end = at + stretch.to - stretch.from;
    const add = (list: Stretch[], a: Samples, b: Samples) => {
      const [begin, stop] = [Math.max(a, at), Math.min(b, end)];
      if (stop <= begin) return;
      // Of a stretch that is heard backwards the end comes first.
      list.push(
        stretch.reverse
          ? { ...stretch, from: stretch.to - (stop - at), to: stretch.to - (begin - at) }
          : { ...stretch, from: stretch.from + (begin - at), to: stretch.from + (stop - at) },
      );
    };
    add(first, 0, from);
    add(inside, from, to);
    add(rest, to, Infinity);
    at = end;
  }
  const turned = inside.reverse().map(({ from: a, to: b, reverse }): Stretch => ({
    from: a,
    to: b,
    ...(!reverse && { reverse: true }),
  }));
  return joined([...first, ...turned, ...rest]);
}

/** Neighbours that are one stretch of the file are one. */
function joined(stretches: readonly Stretch[]): Stretch[] {
  const all: Stretch[] = [];
  for (const stretch of stretches) {
    const last = all.at(-1);
    if (last && !last.reverse && !stretch.reverse && last.to === stretch.from) {
      all[all.length - 1] = { ...last, to: stretch.to };
    } else if (last?.reverse && stretch.reverse && last.from === stretch.to) {
      all[all.length - 1] = { ...last, from: stretch.from };
    } else all.push(stretch);
  }
  return all;
}
