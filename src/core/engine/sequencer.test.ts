import fc from 'fast-check';
import { compileTempo, TempoMap, type TempoChange } from '../time';
import {
  bareSong,
  cued,
  engineWith,
  numbered,
  onsets,
  peak,
  RATE,
  run,
  spike,
  struck,
} from '../testing/engine';
import { countInAt } from './score';

const mapOf = (changes: readonly TempoChange[]) => new TempoMap(compileTempo(changes));

/** Kicks on every eighth of two bars: a quarter of a second apart at 120. */
const kicks = Array.from({ length: 16 }, (_, i) => struck('kick', i * 480));

describe('a stroke', () => {
  test('starts at the sample its tick says, at any tempo, after changes and through glides', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(30), { minLength: 1, maxLength: 10 }),
        fc.integer({ min: 40, max: 300 }),
        fc.integer({ min: 40, max: 300 }),
        fc.integer({ min: -60, max: 60 }),
        fc.constantFrom(true as const, undefined),
        (steps, first, second, push, glide) => {
          const tempos = [
            { at: 0, bpm: first, glide },
            { at: 2000, bpm: second },
          ];
          const song = bareSong(
            steps.map((step) => struck('snare', step * 240, push)),
            { tempos },
          );
          const engine = engineWith(song, [spike(38)]);
          engine.play({ from: 0 });
          const map = mapOf(tempos);
          const expected = steps
            .map((step) => Math.round(map.secondsAt(Math.max(0, step * 240 + push)) * RATE))
            .sort((a, b) => a - b);
          expect(onsets(run(engine, map.secondsAt(7680) + 0.1))).toEqual(expected);
        },
      ),
    );
  });

  test('sounds with the same alternate from wherever playing began', () => {
    const song = bareSong(kicks);
    const heights = (from: number) => {
      const engine = engineWith(song, [numbered(36)]);
      engine.play({ from });
      const out = run(engine, (7680 - from) / 1920 - 0.01);
      return onsets(out).map((at) => Math.round(out[at] * 10));
    };
    const whole = heights(0);
    expect(new Set(whole.slice(0, 4)).size).toBe(4);
    for (const step of [1, 3, 6]) expect(heights(step * 480)).toEqual(whole.slice(step));
  });

  test('played before a start sounds at once, with its pan and its choke', () => {
    const early = struck('cowbell', 0, -96, { pan: 1, choke: 240 });
    const later = struck('cowbell', 3840, -96, { pan: 1, choke: 240 });
    const engine = engineWith(bareSong([early, later]), [
      { note: 56, zones: [{ velocities: [1, 127], alternates: [[toneLayer()]] }] },
    ]);
    engine.play({ from: 3840 });
    const left = new Float32Array(RATE / 2);
    const right = new Float32Array(RATE / 2);
    engine.process(left, right, left.length);
    expect(peak(right.subarray(0, 4000))).toBeGreaterThan(0.2);
    expect(peak(left)).toBeLessThan(0.001);
    expect(peak(right.subarray(8000))).toBe(0);
  });
});

function toneLayer() {
  return { left: new Float32Array(RATE).fill(0.3), rate: RATE, curve: 'body' as const };
}

describe('a loop', () => {
  test('goes round without a sample too many or too few', () => {
    const song = bareSong([struck('snare', 0)], { bars: 1 });
    const engine = engineWith(song, [spike(38)], { from: 0, to: 3840 });
    engine.play({ from: 0 });
    expect(onsets(run(engine, 7))).toEqual([0, 2, 4, 6].map((s) => s * RATE));
  });

  test('keeps a downbeat that is played early: it sounds before each new round', () => {
    const song = bareSong([struck('snare', 3840, -96), struck('snare', 5760)]);
    const engine = engineWith(song, [spike(38)], { from: 3840, to: 7680 });
    engine.play({ from: 3840 });
    const round = 2 * RATE;
    expect(onsets(run(engine, 4.1))).toEqual([
      0,
      RATE,
      round - 2400,
      round + RATE,
      2 * round - 2400,
    ]);
  });

  test('that shrinks under the playhead has it back, at its musical place', () => {
    const song = bareSong(kicks);
    const engine = engineWith(song, [spike(36)], { from: 0, to: 7680 });
    engine.play({ from: 0 });
    run(engine, 3.1);
    // Three seconds and a tenth in, in a loop of two seconds: a second and a tenth.
    engine.setScore(cued(song, { from: 0, to: 3840 }));
    expect(engine.tick).toBeCloseTo(1.1 * 1920, -1);
    expect(onsets(run(engine, 1))).toEqual([0.15, 0.4, 0.65, 0.9].map((s) => Math.round(s * RATE)));
  });

  test('plays on to the end where it was begun beyond it, and comes back', () => {
    const song = bareSong(kicks);
    const engine = engineWith(song, [spike(36)], { from: 0, to: 1920 });
    engine.play({ from: 5760 });
    const heard = onsets(run(engine, 2.3));
    const wanted = Array.from({ length: 10 }, (_, i) => (i * RATE) / 4);
    expect(heard).toEqual(wanted);
    expect(engine.tick).toBeLessThan(1920);
  });

  test('is exact through a change of tempo within it', () => {
    const tempos = [
      { at: 0, bpm: 120 },
      { at: 1920, bpm: 60 },
    ];
    const song = bareSong([struck('snare', 0), struck('snare', 1920)], { tempos, bars: 1 });
    const engine = engineWith(song, [spike(38)], { from: 0, to: 3840 });
    engine.play({ from: 0 });
    expect(onsets(run(engine, 6.5))).toEqual([0, 1, 3, 4, 6].map((s) => s * RATE));
  });
});

describe('an edit while it plays', () => {
  test('is heard from the next block on', () => {
    const engine = engineWith(bareSong([]), [spike(38)]);
    engine.play({ from: 0 });
    run(engine, 0.5);
    engine.setScore(cued(bareSong([struck('snare', 960 + 5)])));
    const tick = Math.round(((960 + 5) / 1920) * RATE);
    expect(onsets(run(engine, 0.5))).toEqual([tick - 0.5 * RATE]);
  });

  test('of the tempo leaves the playhead at its beat', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 40, max: 240 }),
        fc.integer({ min: 40, max: 240 }),
        fc.integer({ min: 1, max: 15 }),
        (before, after, tenths) => {
          const song = (bpm: number) => ({ ...bareSong(kicks), bpm });
          const engine = engineWith(song(before), [spike(36)]);
          engine.play({ from: 0 });
          run(engine, tenths / 10);
          const { tick } = engine;
          engine.setScore(cued(song(after)));
          expect(engine.tick).toBeCloseTo(tick, 0);
          expect(engine.isPlaying).toBe(true);
        },
      ),
    );
  });

  test('waits for its moment, to the very sample', () => {
    const engine = engineWith(bareSong(kicks), [spike(36), spike(38)]);
    engine.play({ from: 0 });
    const first = run(engine, 0.3);
    engine.setScore(cued(bareSong([struck('snare', 960)])), 1920);
    const rest = run(engine, 1.2);
    const at = [...onsets(first), ...onsets(rest).map((i) => i + first.length)];
    // Kicks every quarter of a second for a second; the song that follows has nothing left by then.
    expect(at).toEqual([0, 12_000, 24_000, 36_000]);
  });

  test('that waits in a loop comes with the round that follows', () => {
    const loop = { from: 0, to: 960 };
    const engine = engineWith(bareSong(kicks), [spike(36), spike(38)], loop);
    engine.play({ from: 0 });
    run(engine, 0.4);
    engine.setScore(cued(bareSong([struck('snare', 0)]), loop), 960);
    expect(onsets(run(engine, 1)).map((i) => i + 19_200)).toEqual([24_000, 48_000]);
  });

  test('that waits is there at once when the transport goes elsewhere', () => {
    const engine = engineWith(bareSong(kicks), [spike(36)]);
    engine.play({ from: 0 });
    engine.setScore(cued(bareSong([])), 3600);
    engine.locate(0);
    expect(onsets(run(engine, 0.2))).toEqual([]);
  });
});

describe('the transport', () => {
  test('counts one bar in before the first hit, with a click on each beat', () => {
    const song = bareSong([struck('snare', 0)]);
    const engine = engineWith(song, [spike(38)]);
    engine.play({ from: 0, countIn: countInAt(song, 0) });
    const out = run(engine, 2.2);
    for (const at of [0, 0.5, 1, 1.5].map((s) => s * RATE)) {
      expect(peak(out.subarray(at, at + 400))).toBeGreaterThan(0.1);
      expect(peak(out.subarray(at + 12_000, at + 20_000))).toBeLessThan(0.001);
    }
    expect(out[2 * RATE]).toBeGreaterThan(0.3);
  });

  test('stops by itself after the last hit has died away, and says that it did', () => {
    const engine = engineWith(bareSong([struck('snare', 0)], { bars: 1 }), [spike(38)]);
    engine.play({ from: 0 });
    run(engine, 2.1);
    expect([engine.isPlaying, engine.hasEnded]).toEqual([false, true]);
    engine.play({ from: 0 });
    run(engine, 0.5);
    engine.stop();
    expect([engine.isPlaying, engine.hasEnded]).toEqual([false, false]);
    expect(engine.tick).toBeCloseTo(960, 0);
  });
});
