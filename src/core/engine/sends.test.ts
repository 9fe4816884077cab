import { BLOCK } from './block';
import { Echo, Room } from './sends';

const RATE = 48_000;

/** What a bus gives back of one click, for so many seconds, in blocks of any size. */
function answer(bus: Room | Echo, seconds: number, block = BLOCK) {
  const left = new Float32Array(Math.ceil((seconds * RATE) / block) * block);
  const right = new Float32Array(left.length);
  if (bus instanceof Room) for (const side of bus.input) side[0] = 1;
  else bus.input[0] = 1;
  bus.wake();
  for (let at = 0; at < left.length; at += block) {
    bus.mixTo(left.subarray(at, at + block), right.subarray(at, at + block), block);
  }
  return { left, right };
}

const energy = (samples: Float32Array, from: number, to: number) =>
  samples.slice(from * RATE, to * RATE).reduce((sum, x) => sum + x * x, 0);
const decibels = (ratio: number) => 10 * Math.log10(ratio);

describe('the room', () => {
  test('is silent until its first wall answers, and is 60 dB softer after its ring', () => {
    for (const ring of [0.4, 1.1]) {
      const { left, right } = answer(new Room(RATE, ring), ring * 1.3);
      const first = left.findIndex((x) => x !== 0);
      // The floor is nearest, and no wall is nearer than a hand's breadth.
      expect(first / RATE).toBeGreaterThan(0.001);
      expect(first / RATE).toBeLessThan(0.012);
      for (const side of [left, right]) {
        const early = energy(side, 0.05, 0.15);
        const late = energy(side, ring + 0.05, ring + 0.15);
        expect(decibels(late / early)).toBeLessThan(-50);
        expect(decibels(late / early)).toBeGreaterThan(-95);
      }
    }
  });

  test('loses its high tones first', () => {
    const { left } = answer(new Room(RATE, 1.1), 1);
    // From one sample to the next, high tones change most.
    const high = (from: number, to: number) => {
      const steps = left.map((x, i) => x - (left[i - 1] ?? 0));
      return energy(steps, from, to) / energy(left, from, to);
    };
    expect(high(0.6, 0.8)).toBeLessThan(high(0.06, 0.26) * 0.8);
  });

  test('gives the same samples in blocks of any size', () => {
    const whole = answer(new Room(RATE, 0.5), 0.2);
    for (const block of [37, 100]) {
      const pieces = answer(new Room(RATE, 0.5), 0.2, block);
      expect(pieces.left.slice(0, 9000)).toEqual(whole.left.slice(0, 9000));
    }
  });

  test('falls silent by itself, and then costs nothing', () => {
    const room = new Room(RATE, 0.2);
    answer(room, 0.4);
    expect(room.isSounding).toBe(false);
  });
});

describe('the echo', () => {
  test('answers from side to side in its time, each repeat softer by the same share', () => {
    const echo = new Echo(RATE);
    echo.setTime(0.25);
    const { left, right } = answer(echo, 1.2);
    const at = (seconds: number) => Math.round(seconds * RATE);
    expect(left[at(0.25)]).toBeGreaterThan(0.5);
    expect(right[at(0.25)]).toBe(0);
    expect(right[at(0.5)] / left[at(0.25)]).toBeCloseTo(0.42, 5);
    expect(left[at(0.75)] / right[at(0.5)]).toBeCloseTo(0.42, 5);
  });

  test('takes a time from 20 ms to 2 s, and forgets what it had when that changes', () => {
    const echo = new Echo(RATE);
    for (const [asked, given] of [
      [0, 0.02],
      [9, 2],
    ]) {
      echo.setTime(asked);
      const { left } = answer(echo, given + 0.1);
      expect(left.findIndex((x) => x !== 0) / RATE).toBeCloseTo(given, 3);
    }
    echo.setTime(0.1);
    expect(echo.isSounding).toBe(false);
  });
});
