import type { Hertz, Samples, Seconds } from '../time';
import { BLOCK } from './block';

const SOUND_SPEED = 343;
/** How far apart the two microphones stand, in metres. */
const APART = 1.2;
/** How much of a sound a wall gives back. */
const GIVEN_BACK = 0.72;
/** So many reflections are heard one by one, a multiple of five: those of each side at each microphone. */
const EACH = 10;

/** Rooms do not grow any more from this ring on. */
const LONGEST_RING: Seconds = 20;

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
  private taps: readonly Tap[] = [];
  /** Those of the room that it was, for one more block. */
  private before: readonly Tap[] | undefined;
  private ring: Seconds = 0;
  /** What each side sent, twice in a row: what is read is always in one piece. */
  private readonly lines: readonly [Float64Array, Float64Array];
  private readonly size: Samples;
  private at = 0;

  constructor(private readonly sampleRate: Hertz) {
    const longest = Math.max(...tapsOf(sampleRate, LONGEST_RING).map(({ delay }) => delay)) + BLOCK;
    this.size = longest + BLOCK;
    this.lines = [new Float64Array(2 * this.size), new Float64Array(2 * this.size)];
  }

  /** @param ring of the room until it is 60 dB softer, 20 s at most: larger rooms ring longer */
  setRing(ring: Seconds): void {
    if (ring === this.ring) return;
    if (this.ring > 0) this.before = this.taps;
    this.ring = ring;
    this.taps = tapsOf(this.sampleRate, Math.min(ring, LONGEST_RING));
  }

  /** Adds what comes back in this block of what both sides sent, now and before. */
  mixTo(
    sent: readonly [Float32Array, Float32Array],
    left: Float64Array,
    right: Float64Array,
    frames: number,
  ): void {
    const { lines, size, at } = this;
    for (let side = 0; side < 2; side++) {
      const line = lines[side];
      const input = sent[side];
      let to = at;
      for (let i = 0; i < frames; i++) {
        line[to] = input[i];
        line[to + size] = input[i];
        if (++to === size) to = 0;
      }
    }
    const { before } = this;
    if (before) {
      // One block from the walls that were to those that are.
      this.fade(before, left, right, frames, 1, 0);
      this.fade(this.taps, left, right, frames, 0, 1);
      this.before = undefined;
    } else this.add(left, right, frames);
    this.at = (at + frames) % size;
  }

  private add(left: Float64Array, right: Float64Array, frames: number): void {
    const { taps, lines } = this;
    // Five at once: what is added to is read and written that less often.
    for (let n = 0; n + 4 < taps.length; n += 5) {
      const { from, to, gain: gain0 } = taps[n];
      const { gain: gain1 } = taps[n + 1];
      const { gain: gain2 } = taps[n + 2];
      const { gain: gain3 } = taps[n + 3];
      const { gain: gain4 } = taps[n + 4];
      const line = lines[from];
      const out = to === 0 ? left : right;
      let at0 = this.startOf(taps[n]);
      let at1 = this.startOf(taps[n + 1]);
      let at2 = this.startOf(taps[n + 2]);
      let at3 = this.startOf(taps[n + 3]);
      let at4 = this.startOf(taps[n + 4]);
      for (let i = 0; i < frames; i++) {
        out[i] +=
          line[at0++] * gain0 +
          line[at1++] * gain1 +
          line[at2++] * gain2 +
          line[at3++] * gain3 +
          line[at4++] * gain4;
      }
    }
  }

  private fade(
    taps: readonly Tap[],
    left: Float64Array,
    right: Float64Array,
    frames: number,
    share: number,
    then: number,
  ): void {
    for (const tap of taps) {
      const line = this.lines[tap.from];
      const start = this.startOf(tap);
      const out = tap.to === 0 ? left : right;
      for (let i = 0; i < frames; i++) {
        const now = share + ((then - share) * (i + 1)) / frames;
        out[i] += line[start + i] * tap.gain * now;
      }
    }
  }

  private startOf({ delay }: Tap): number {
    return (this.at - delay + this.size) % this.size;
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
