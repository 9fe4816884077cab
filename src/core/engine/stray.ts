/** A number in [0, 1) that looks like chance, and is always the same for the same two. */
function chance(note: number, stroke: number): number {
  let t = Math.imul(note + 1, 0x9e3779b1) ^ Math.imul(stroke + 1, 0x85ebca6b);
  t = Math.imul(t ^ (t >>> 15), 0x2c1b3c6d);
  t = Math.imul(t ^ (t >>> 12), 0x297a2d39);
  return ((t ^ (t >>> 15)) >>> 0) / 4294967296;
}

/**
 * Which alternate of a sound one of its strokes has: all of them forwards, then all of them backwards,
 * then on from the next one, so that the order comes again only after 2 n^2 strokes and no alternate
 * comes twice in a row. Allocates nothing.
 * @param stroke which stroke of this sound in the song it is, counted from 0
 * @param count how many alternates there are, at least 1
 */
export function alternateOf(stroke: number, count: number): number {
  if (count < 3) return stroke % count;
  const round = Math.floor(stroke / count);
  const turn = stroke % count;
  const first = round >> 1;
  return (round % 2 === 0 ? first + turn : first + 2 * count - 2 - turn) % count;
}

/** How much louder or softer a stroke is than its velocity says, as a factor: half a decibel at most. */
export function levelStray(note: number, stroke: number): number {
  return 10 ** ((chance(note ^ 0x155, stroke) - 0.5) / 20);
}

/** How much more or less of its edge a stroke has, as a factor: 15 % at most. */
export function edgeStray(note: number, stroke: number): number {
  return 1 + (chance(note ^ 0x2aa, stroke) - 0.5) * 0.3;
}
