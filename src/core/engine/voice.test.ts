import { synthesise } from '../sound';
import {
  bareSong,
  bothSides,
  engineWith,
  jump,
  oneLayer,
  peak,
  RATE,
  run,
  spike,
  struck,
  tone,
} from '../testing/engine';
import type { Hit } from '../model';

const level = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.slice(from * RATE, to * RATE).reduce((sum, x) => sum + x * x, 0));

describe('hats', () => {
  test('choke one another: a closed hat ends an open one within 15 ms, without a click', () => {
    const hits = [
      struck('hihat', 0, 0, { articulation: 'open' }),
      struck('hihat', 960, 0, { articulation: 'closed' }),
    ];
    const engine = engineWith(bareSong(hits), [tone(46), spike(42, 0)]);
    engine.play({ from: 0 });
    const out = run(engine, 1);
    expect(out[RATE * 0.499]).toBeGreaterThan(0.25);
    expect(peak(out.subarray(RATE * 0.515, RATE * 0.9))).toBeLessThan(0.001);
    expect(jump(out.subarray(100, RATE))).toBeLessThan(0.005);
  });

  test('leave other pieces alone', () => {
    const engine = engineWith(bareSong([struck('ride', 0), struck('hihat', 960)]), [
      tone(51),
      spike(42),
    ]);
    engine.play({ from: 0 });
    expect(run(engine, 1)[RATE * 0.7]).toBeGreaterThan(0.25);
  });
});

describe('what is done to a stroke', () => {
  const touched = (touch: Partial<Hit>, sound = tone(56)) =>
    engineWith(bareSong([struck('cowbell', 0, 0, touch)]), [sound]);
  const sides = (engine: ReturnType<typeof touched>, seconds: number) => {
    engine.play({ from: 0 });
    return bothSides(engine, seconds);
  };

  test.each([480, 483, 500, 511])(
    'a choke after %i ticks stops it there, and does not click',
    (choke) => {
      const { left } = sides(touched({ choke }), 0.6);
      const stopped = choke / 1920;
      expect(level(left, stopped - 0.05, stopped)).toBeGreaterThan(1);
      expect(level(left, stopped + 0.05, 0.6)).toBe(0);
      expect(jump(left.subarray(10))).toBeLessThan(0.002);
    },
  );

  test('pan puts it to one side and leaves the other silent', () => {
    const { left, right } = sides(touched({ pan: 1 }), 0.2);
    expect(level(right, 0, 0.2)).toBeGreaterThan(1);
    expect(level(left, 0, 0.2)).toBeLessThan(level(right, 0, 0.2) / 1000);
  });

  test('an octave up it is over in half the time', () => {
    const { left } = sides(touched({ tune: 1200 }), 0.8);
    expect(level(left, 0.4, 0.49)).toBeGreaterThan(1);
    expect(level(left, 0.52, 0.8)).toBe(0);
  });

  test('reversed, it ends with the stroke it would have begun with', () => {
    const body = Float32Array.from({ length: RATE / 2 }, (_, i) => 0.5 * Math.exp(-i / 4000));
    const { left } = sides(touched({ reverse: true }, oneLayer(56, body)), 0.6);
    expect(level(left, 0.4, 0.5)).toBeGreaterThan(10 * level(left, 0, 0.1));
    expect(level(left, 0.51, 0.6)).toBe(0);
  });

  test('sent to the room it rings on after the stroke and after a stop, and ends', () => {
    const engine = touched({ room: 1, choke: 100 });
    const first = sides(engine, 0.3);
    engine.stop();
    const rest = bothSides(engine, 3.7);
    expect(level(first.left, 0, 0.1)).toBeGreaterThan(1);
    expect(level(rest.left, 0, 0.3)).toBeGreaterThan(0.05);
    expect(level(rest.left, 2.7, 3.7)).toBeLessThan(level(rest.left, 0, 0.3) / 100);
    expect(engine.isSounding).toBe(false);
  });

  test('sent to the echo it comes back after three quarters of a beat, from the left', () => {
    const { left, right } = sides(touched({ echo: 1, choke: 100 }), 0.7);
    expect(level(left, 0.2, 0.36)).toBe(0);
    expect(level(left, 0.375, 0.45)).toBeGreaterThan(1);
    expect(level(right, 0.375, 0.45)).toBe(0);
  });
});

describe('a sound', () => {
  const strike = (sound: ReturnType<typeof tone>, velocity = 127) => {
    const engine = engineWith(bareSong([struck('cowbell', 0, 0, { velocity })]), [sound]);
    engine.play({ from: 0 });
    return bothSides(engine, 0.5);
  };

  test('of two sides is heard on both, each with its own samples', () => {
    const layer = {
      left: new Float32Array(4800).fill(0.2),
      right: new Float32Array(4800).fill(-0.1),
      rate: RATE,
      curve: 'body' as const,
    };
    const zones = [{ velocities: [1, 127] as const, alternates: [[layer]] }];
    const { left, right } = strike({ note: 56, zones });
    expect(left[2000]).toBeCloseTo(0.2, 5);
    expect(right[2000]).toBeCloseTo(-0.1, 5);
  });

  test('recorded at half the rate lasts as long as it did', () => {
    const { left } = strike(oneLayer(56, new Float32Array(4800).fill(0.3), RATE / 2));
    expect(level(left, 0.15, 0.19)).toBeGreaterThan(1);
    expect(level(left, 0.21, 0.5)).toBe(0);
  });

  test('of several zones is the one of its velocity', () => {
    const zone = (low: number, high: number, value: number) => ({
      velocities: [low, high] as const,
      alternates: [
        [{ left: new Float32Array(480).fill(value), rate: RATE, curve: 'body' as const }],
      ],
    });
    const sound = { note: 56, zones: [zone(1, 63, 0.5), zone(64, 127, -0.5)] };
    expect(strike(sound, 40).left[10]).toBeGreaterThan(0);
    expect(strike(sound, 100).left[10]).toBeLessThan(0);
  });

  test('that is struck harder is louder and brighter', () => {
    const measure = (velocity: number) => {
      const out = strike({ ...synthesise(38, RATE), note: 56 }, velocity).left.subarray(0, 4800);
      const energy = out.reduce((sum, x) => sum + x * x, 0);
      const edges = out.reduce((sum, x, i) => sum + (x - (out[i - 1] ?? 0)) ** 2, 0);
      return { energy, brightness: edges / energy };
    };
    const [soft, hard] = [measure(40), measure(120)];
    expect(hard.energy).toBeGreaterThan(soft.energy * 10);
    expect(hard.brightness).toBeGreaterThan(soft.brightness * 1.1);
  });
});
