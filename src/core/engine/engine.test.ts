import fc from 'fast-check';
import { emptyPattern, emptySong, sectionOf } from '../model/make';
import type { Pattern, Song } from '../model/song';
import { placeHits } from '../pattern/place';
import { synthesise, type KitSound } from '../sound/kit';
import { tempoMap } from '../time/tempo';
import { Engine } from './engine';
import { renderMix } from './mix';
import { compileScore, countInAt, STRIP_PIECES, stripOf } from './score';

const RATE = 48_000;

/** A sound that is one sample long, so that a hit can be found to the sample. */
function spike(note: number, choke = 0): KitSound {
  const body = new Float32Array(1200).fill(0);
  body[0] = 0.5;
  return { note, choke, alternates: [{ body, edge: new Float32Array(0) }] };
}

/** A tone that lasts, to hear it being cut off. */
function tone(note: number, choke: number): KitSound {
  return {
    note,
    choke,
    alternates: [{ body: new Float32Array(RATE).fill(0.3), edge: new Float32Array(0) }],
  };
}

const place = (piece: string, at: number, push = 0, articulation = 'usual', velocity = 127) => ({
  piece,
  hit: { id: `${piece}${at}`, at, push, velocity, articulation },
});

function songWith(
  hits: ReturnType<typeof place>[],
  tempo: Song['tempo'] = [{ at: 0, bpm: 120 }],
  bars = 2,
): Song {
  const pattern: Pattern = placeHits(emptyPattern({ id: 'p', name: 'p', bars }), hits);
  return {
    ...emptySong('s', 's', 'p'),
    tempo,
    patterns: [pattern],
    sections: [sectionOf(pattern, { id: 'a', name: 'a', kind: 'verse' })],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
}

/** An engine without tone, so that what comes out is what the voices put in. */
function bareEngine(song: Song, sounds: KitSound[]): Engine {
  const engine = new Engine(RATE);
  STRIP_PIECES.forEach((_, i) => engine.setStrip(i, { level: 1, pan: 0, filters: [] }));
  for (const sound of sounds) engine.load(sound);
  engine.setScore(compileScore(song));
  return engine;
}

function run(engine: Engine, seconds: number): Float32Array {
  const left = new Float32Array(Math.ceil(seconds * RATE));
  const right = new Float32Array(left.length);
  engine.process(left, right, left.length);
  return left;
}

/** The largest sample, whatever its sign. */
const peak = (samples: Float32Array) => samples.reduce((top, x) => Math.max(top, Math.abs(x)), 0);

const onsets = (samples: Float32Array) =>
  samples.reduce<number[]>((found, x, i) => (Math.abs(x) > 0.01 ? [...found, i] : found), []);

describe('a hit', () => {
  test('starts at the sample its tick says, at any tempo and after a change of tempo', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(30), { minLength: 1, maxLength: 10 }),
        fc.integer({ min: 40, max: 300 }),
        fc.integer({ min: 40, max: 300 }),
        fc.integer({ min: -60, max: 60 }),
        (steps, first, second, push) => {
          const tempo = [
            { at: 0, bpm: first },
            { at: 2000, bpm: second },
          ];
          const song = songWith(
            steps.map((step) => place('snare', step * 240, push)),
            tempo,
          );
          const engine = bareEngine(song, [spike(38)]);
          engine.play({ from: 0 });
          const map = tempoMap(tempo);
          const expected = steps
            .map((step) => Math.round(map.secondsAt(Math.max(0, step * 240 + push)) * RATE))
            .sort((a, b) => a - b);
          expect(onsets(run(engine, map.secondsAt(7680) + 0.1))).toEqual(expected);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('is heard the same whatever the size of the blocks that are asked for', () => {
    const song = songWith([place('kick', 0), place('snare', 960), place('hihat', 250, 3)]);
    const sounds = [36, 38, 42].map((note) => synthesise(note, RATE));
    const render = (block: number) => {
      const engine = bareEngine(song, sounds);
      engine.play({ from: 0 });
      const out: number[] = [];
      for (let done = 0; done < 30_720; done += block) {
        const [left, right] = [new Float32Array(block), new Float32Array(block)];
        engine.process(left, right, block);
        out.push(...left);
      }
      return out;
    };
    expect(render(128)).toEqual(render(1024));
    expect(render(128)).toEqual(render(64));
  });

  test('that is struck harder is louder and brighter', () => {
    const sound = synthesise(38, RATE);
    const measure = (velocity: number) => {
      const engine = bareEngine(songWith([]), [sound]);
      engine.strike(38, velocity, stripOf('snare'));
      const out = run(engine, 0.1);
      const energy = out.reduce((sum, x) => sum + x * x, 0);
      const edges = out.reduce((sum, x, i) => sum + (x - (out[i - 1] ?? 0)) ** 2, 0);
      return { energy, brightness: edges / energy };
    };
    const [soft, hard] = [measure(40), measure(120)];
    expect(hard.energy).toBeGreaterThan(soft.energy * 10);
    expect(hard.brightness).toBeGreaterThan(soft.brightness * 1.1);
  });

  test('that is repeated does not sound like the same sample again', () => {
    const { alternates } = synthesise(38, RATE);
    expect(alternates).toHaveLength(4);
    const [first, ...others] = alternates.map(({ body }) => body);
    for (const other of others) expect(other).not.toEqual(first);
  });
});

describe('hats', () => {
  test('choke one another: a closed hat ends an open one within 15 ms', () => {
    const hits = [place('hihat', 0, 0, 'open'), place('hihat', 960, 0, 'closed')];
    const engine = bareEngine(songWith(hits), [tone(46, 1), spike(42, 1)]);
    engine.play({ from: 0 });
    const out = run(engine, 1);
    expect(out[RATE * 0.499]).toBeGreaterThan(0.25);
    expect(peak(out.subarray(RATE * 0.515, RATE * 0.9))).toBeLessThan(0.001);
  });

  test('leave other pieces alone', () => {
    const hits = [place('ride', 0), place('hihat', 960)];
    const engine = bareEngine(songWith(hits), [tone(51, 0), spike(42, 1)]);
    engine.play({ from: 0 });
    expect(run(engine, 1)[RATE * 0.7]).toBeGreaterThan(0.25);
  });
});

describe('the transport', () => {
  test('loops without a sample too many or too few', () => {
    const engine = bareEngine(songWith([place('snare', 0)], undefined, 1), [spike(38)]);
    engine.setLoop({ from: 0, to: 2 });
    engine.play({ from: 0 });
    expect(onsets(run(engine, 7))).toEqual([0, 2, 4, 6].map((s) => s * RATE));
  });

  test('a loop keeps a downbeat that is played early: it sounds before each new round', () => {
    const early = place('snare', 3840, -96);
    const engine = bareEngine(songWith([early, place('snare', 5760)]), [spike(38)]);
    engine.setLoop({ from: 2, to: 4 });
    engine.play({ from: 2 });
    const round = 2 * RATE;
    expect(onsets(run(engine, 4.1))).toEqual([
      0,
      RATE,
      round - 2400,
      round + RATE,
      2 * round - 2400,
    ]);
  });

  test('counts one bar in before the first hit, with a click on each beat', () => {
    const song = songWith([place('snare', 0)]);
    const engine = bareEngine(song, [spike(38)]);
    engine.play({ from: 0, countIn: countInAt(song, 0) });
    const out = run(engine, 2.2);
    const clicks = [0, 0.5, 1, 1.5].map((s) => s * RATE);
    for (const at of clicks) {
      expect(peak(out.subarray(at, at + 400))).toBeGreaterThan(0.1);
      expect(peak(out.subarray(at + 12_000, at + 20_000))).toBeLessThan(0.001);
    }
    expect(out[2 * RATE]).toBeGreaterThan(0.3);
  });

  test('an edit is heard from the next block on', () => {
    const engine = bareEngine(songWith([]), [spike(38)]);
    engine.play({ from: 0 });
    run(engine, 0.5);
    engine.setScore(compileScore(songWith([place('snare', 960 + 5)])));
    const tick = Math.round(((960 + 5) / 1920) * RATE);
    expect(onsets(run(engine, 0.5))).toEqual([tick - 0.5 * RATE]);
  });

  test('stops by itself after the last hit has died away', () => {
    const engine = bareEngine(songWith([place('snare', 0)], undefined, 1), [spike(38)]);
    engine.play({ from: 0 });
    run(engine, 2.1);
    expect(engine.isPlaying).toBe(false);
  });
});

describe('the mix', () => {
  test('is the same every time, and none of its samples is out of bounds', () => {
    const song = songWith(
      ['kick', 'snare', 'crash', 'hihat', 'tom-high'].map((piece) => place(piece, 0)),
    );
    const [first, second] = [renderMix(song), renderMix(song)];
    expect(first.left.every((x, i) => x === second.left[i])).toBe(true);
    expect(peak(first.left)).toBeLessThanOrEqual(1);
    expect(peak(first.left)).toBeGreaterThan(0.3);
  });
});

describe('what is done to a stroke', () => {
  const touched = (touch: object) => {
    const on = place('cowbell', 0);
    return bareEngine(songWith([{ ...on, hit: { ...on.hit, ...touch } }]), [tone(56, 0)]);
  };
  const sides = (engine: Engine, seconds: number) => {
    const left = new Float32Array(Math.ceil(seconds * RATE));
    const right = new Float32Array(left.length);
    engine.play({ from: 0 });
    engine.process(left, right, left.length);
    return { left, right };
  };
  const level = (samples: Float32Array, from: number, to: number) =>
    Math.sqrt(samples.slice(from * RATE, to * RATE).reduce((sum, x) => sum + x * x, 0));

  test('a choke stops it where it says: an eighth at 120 is a quarter of a second', () => {
    const { left } = sides(touched({ choke: 480 }), 0.6);
    expect(level(left, 0.2, 0.25)).toBeGreaterThan(1);
    expect(level(left, 0.3, 0.6)).toBe(0);
  });

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
    const sound = { note: 56, choke: 0, alternates: [{ body, edge: new Float32Array(0) }] };
    const on = place('cowbell', 0);
    const song = songWith([{ ...on, hit: { ...on.hit, reverse: true as const } }] as never);
    const { left } = sides(bareEngine(song, [sound]), 0.6);
    expect(level(left, 0.4, 0.5)).toBeGreaterThan(10 * level(left, 0, 0.1));
    expect(level(left, 0.51, 0.6)).toBe(0);
  });

  test('sent to the room it rings on after the stroke, and ends', () => {
    const engine = touched({ room: 1, choke: 100 });
    const { left } = sides(engine, 4);
    expect(level(left, 0.3, 0.6)).toBeGreaterThan(0.05);
    expect(level(left, 3, 4)).toBeLessThan(level(left, 0.3, 0.6) / 100);
    expect(engine.isSounding).toBe(false);
  });

  test('sent to the echo it comes back after three quarters of a beat, from the left', () => {
    const { left, right } = sides(touched({ echo: 1, choke: 100 }), 0.7);
    expect(level(left, 0.2, 0.36)).toBe(0);
    expect(level(left, 0.375, 0.45)).toBeGreaterThan(1);
    expect(level(right, 0.375, 0.45)).toBe(0);
  });
});

describe('a song that waits for its moment', () => {
  const kicks = Array.from({ length: 16 }, (_, i) => place('kick', i * 480));
  const snares = Array.from({ length: 16 }, (_, i) => place('snare', i * 480));
  const sounds = [spike(36), spike(38)];

  test('is taken over at that very sample, and not before', () => {
    const engine = bareEngine(songWith(kicks), sounds);
    engine.play({ from: 0 });
    const first = run(engine, 0.3);
    engine.setScore(compileScore(songWith([place('snare', 960)])), 1);
    const rest = run(engine, 1.2);
    const at = [...first, ...rest].flatMap((sample, i) => (sample !== 0 ? [i] : []));
    // Kicks every quarter of a second for a second; the song that follows has nothing left by then.
    expect(at.filter((sample) => sample < RATE)).toEqual([0, 12_000, 24_000, 36_000]);
    expect(at.filter((sample) => sample >= RATE)).toEqual([]);
  });

  test('in a loop comes with the round that follows', () => {
    const engine = bareEngine(songWith(kicks), sounds);
    engine.setLoop({ from: 0, to: 0.5 });
    engine.play({ from: 0 });
    run(engine, 0.4);
    engine.setScore(compileScore(songWith(snares.slice(0, 1))), 0.5);
    const rest = run(engine, 1);
    const at = [...rest].flatMap((sample, i) => (sample !== 0 ? [i + 19_200] : []));
    expect(at).toEqual([24_000, 48_000]);
  });

  test('is there at once when the transport is stopped or goes elsewhere', () => {
    const engine = bareEngine(songWith(kicks), sounds);
    engine.play({ from: 0 });
    engine.setScore(compileScore(songWith([])), 1.9);
    engine.locate(0);
    expect(run(engine, 0.2).every((sample) => sample === 0)).toBe(true);
  });
});
