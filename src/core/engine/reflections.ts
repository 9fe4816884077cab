import type { Hertz, Samples, Seconds } from '../time';
import { BLOCK } from './block';

const SOUND_SPEED = 343;
/** How far apart the two microphones stand, in metres. */
const APART = 1.2;
/** How much of a sound a wall gives back. */
const GIVEN_BACK = 0.72;
/** So many reflections are heard one by one: those of each side at each microphone. */
const EACH = 10;

/** One reflection: from a side, to a microphone, so much later. */
interface Tap {
  from: 0 | 1;
  to: 0 | 1;
  delay: Samples;
  gain: number;
}

/**
 * The first reflections of a room, by which a listener tells its size: mirror images of both sides of
 * the kit in its walls, up to the second order. Source: Allen and Berkley, "Image method for efficiently
 * simulating small-room acoustics", 1979.
 */
export class Reflections {
  private readonly taps: readonly Tap[];
  private readonly lines: readonly [Float32Array, Float32Array];
  private readonly mask: number;
  private at = 0;

  /** @param ring of the room until it is 60 dB softer: larger rooms ring longer */
  constructor(sampleRate: Hertz, ring: Seconds) {
    this.taps = tapsOf(sampleRate, ring);
    const longest = Math.max(...this.taps.map(({ delay }) => delay)) + BLOCK;
    const size = 2 ** Math.ceil(Math.log2(longest + 1));
    this.lines = [new Float32Array(size), new Float32Array(size)];
    this.mask = size - 1;
  }

  /** Adds what comes back in this block of what both sides sent, now and before. */
  mixTo(
    sent: readonly [Float32Array, Float32Array],
    left: Float64Array,
    right: Float64Array,
    frames: number,
  ): void {
    const { lines, mask, at } = this;
    for (let side = 0; side < 2; side++) {
      const line = lines[side];
      const input = sent[side];
      for (let i = 0; i < frames; i++) line[(at + i) & mask] = input[i];
    }
    for (let n = 0; n < this.taps.length; n++) {
      const { from, to, delay, gain } = this.taps[n];
      const line = lines[from];
      const out = to === 0 ? left : right;
      // The line is a ring: what is read may go on at its beginning.
      const start = (at - delay) & mask;
      const first = Math.min(frames, line.length - start);
      for (let i = 0; i < first; i++) out[i] += line[start + i] * gain;
      for (let i = first; i < frames; i++) out[i] += line[i - first] * gain;
    }
    this.at = (at + frames) & mask;
  }

  reset(): void {
    for (const line of this.lines) line.fill(0);
  }
}

/** Where something stands: to the right, forwards, up; in metres. */
type Point = readonly [number, number, number];

function tapsOf(sampleRate: Hertz, ring: Seconds): Tap[] {
  // A room's ring grows with its size; its shape stays.
  const scale = Math.max(0.5, (ring / 0.42) ** 0.5);
  const room: Point = [5.3 * scale, 4.1 * scale, 2.7 * scale];
  const middle = room[0] / 2;
  const sides = [-0.7, 0.7].map((x): Point => [middle + x * 1.03, 1.3 * scale, 0.9]);
  const microphones = [-APART / 2, APART / 2].map((x): Point => [middle + x, 2.9 * scale, 1.5]);
  const taps = sides.flatMap((side, from) =>
    microphones.flatMap((microphone, to) => {
      const direct = distance(side, microphone);
      const images = imagesOf(side, room).map(({ point, order }) => {
        const way = distance(point, microphone);
        return {
          from: from as 0 | 1,
          to: to as 0 | 1,
          delay: Math.round(((way - direct) / SOUND_SPEED) * sampleRate),
          gain: (GIVEN_BACK ** order * direct) / way,
        };
      });
      return images.sort((a, b) => b.gain - a.gain).slice(0, EACH);
    }),
  );
  const power = taps.reduce((sum, { gain }) => sum + gain * gain, 0);
  return taps.map((tap) => ({ ...tap, gain: tap.gain / Math.sqrt(power) }));
}

const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** The mirror images of a point in the walls of a room, up to two walls deep. */
function imagesOf(point: Point, room: Point): { point: Point; order: number }[] {
  const along = (axis: number) => [
    { at: point[axis], order: 0 },
    { at: -point[axis], order: 1 },
    { at: 2 * room[axis] - point[axis], order: 1 },
    { at: 2 * room[axis] + point[axis], order: 2 },
    { at: point[axis] - 2 * room[axis], order: 2 },
  ];
  return along(0).flatMap((x) =>
    along(1).flatMap((y) =>
      along(2).flatMap((z) => {
        const order = x.order + y.order + z.order;
        if (order === 0 || order > 2) return [];
        return [{ point: [x.at, y.at, z.at] as const, order }];
      }),
    ),
  );
}
