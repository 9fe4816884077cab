import fc from 'fast-check';
import { peak, RATE } from '../testing/engine';
import { saturated } from './drive';
import { Limiter } from './limiter';

/** What comes out of a limiter, block by block of different sizes. */
function limited(input: readonly Float32Array[], ceiling: number, block = 128) {
  const limiter = new Limiter(RATE);
  limiter.take(ceiling);
  const out = input.map((side) => side.slice());
  for (let at = 0; at < out[0].length; at += block) {
    const [left, right] = out.map((side) => side.subarray(at, at + block));
    limiter.process(left, right, left.length);
  }
  return { out, delay: limiter.delay };
}

/** Noise, impulses and full strokes, each up to twelve times too loud. */
const anySignal = fc
  .array(
    fc.record({
      kind: fc.constantFrom('noise', 'impulse', 'stroke', 'silence'),
      length: fc.integer({ min: 1, max: 900 }),
      size: fc.double({ min: 0, max: 12, noNaN: true }),
    }),
    { minLength: 1, maxLength: 12 },
  )
  .map((parts) =>
    Float32Array.from(
      parts.flatMap(({ kind, length, size }, n) =>
        Array.from({ length }, (_, i) => {
          if (kind === 'silence') return 0;
          if (kind === 'impulse') return i === 0 ? size : 0;
          if (kind === 'stroke') return size * Math.exp(-i / 200) * Math.cos(i / 9);
          return size * Math.sin((i + 1) * (n + 2) * 12.9898) * Math.cos(i * 78.233);
        }),
      ),
    ),
  );

test('nothing passes the ceiling, whatever comes', () => {
  fc.assert(
    fc.property(anySignal, anySignal, fc.integer({ min: -24, max: 0 }), (one, other, ceiling) => {
      const length = Math.max(one.length, other.length) + 200;
      const sides = [one, other].map((side) => {
        const whole = new Float32Array(length);
        whole.set(side);
        return whole;
      });
      const { out } = limited(sides, ceiling);
      const top = Math.max(...out.map(peak));
      expect(top).toBeLessThanOrEqual(Math.fround(10 ** (ceiling / 20)) + 1e-7);
      // In larger or smaller blocks it is the same.
      expect(
        limited(sides, ceiling, 96).out[0].every((x, i) => Math.abs(x - out[0][i]) < 1e-6),
      ).toBe(true);
    }),
  );
});

test('what is under the ceiling comes out as it went in, only later', () => {
  const tone = Float32Array.from({ length: 4800 }, (_, i) => 0.8 * Math.sin(i / 10));
  const { out, delay } = limited([tone, tone], -1);
  expect(out[0].subarray(delay)).toEqual(tone.subarray(0, tone.length - delay));
  expect(delay / RATE).toBeCloseTo(0.0015, 6);
});

test('comes down before a loud sample without a step, and is as it was soon after', () => {
  const input = new Float32Array(24_000).fill(0.5);
  input[6000] = 4;
  const { out, delay } = limited([input, input], -1);
  const factors = [...out[0].subarray(delay)].map((x, i) => x / input[i]);
  const steps = factors.slice(1).map((x, i) => Math.abs(x - factors[i]));
  expect(Math.max(...steps)).toBeLessThan(0.02);
  expect(factors[6000]).toBeCloseTo(10 ** (-1 / 20) / 4, 3);
  expect(factors[6000 - delay - 1]).toBe(1);
  expect(factors[6000 + 0.36 * RATE]).toBeCloseTo(1, 2);
});

test('drive leaves what it is at nothing, keeps the sign and the order, and half scale where it is', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: 0.01, max: 1, noNaN: true }),
      (x, amount) => {
        expect(saturated(x, 0)).toBe(x);
        expect(saturated(x, amount) * x).toBeGreaterThanOrEqual(0);
        expect(saturated(x + 0.01, amount)).toBeGreaterThanOrEqual(saturated(x, amount));
        expect(saturated(0.5, amount)).toBeCloseTo(0.5, 9);
      },
    ),
  );
});

/** The largest value of a signal sixteen times oversampled, by a long windowed sinc that is not ours. */
function truePeakOf(signal: Float32Array): number {
  const reach = 32;
  let most = 0;
  for (let i = reach; i < signal.length - reach; i++) {
    for (let part = 0; part < 16; part++) {
      let value = 0;
      for (let k = 1 - reach; k <= reach; k++) {
        const x = k - part / 16;
        const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
        value += signal[i + k] * sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / (reach + 1)));
      }
      most = Math.max(most, Math.abs(value));
    }
  }
  return most;
}

test('nothing between two samples passes the ceiling either, as far as a tenth of a decibel', () => {
  // A tone at a quarter of the rate, an eighth of a turn late: its samples lie 3 dB under its peaks.
  for (const [hertz, size] of [
    [12_000, 1.3],
    [7_350, 1.6],
    [997, 2],
  ]) {
    const tone = Float32Array.from(
      { length: 2400 },
      (_, i) => size * Math.sin((2 * Math.PI * hertz * i) / RATE + Math.PI / 4),
    );
    const { out } = limited([tone, tone], -1);
    expect(20 * Math.log10(truePeakOf(out[0].subarray(400)))).toBeLessThan(-0.9);
  }
});
