import {
  BY_PIECE,
  DEFAULT_KIT,
  layoutByPiece,
  ONE_TRACK,
  type DrumBus,
  type Mix,
  type SectionStrip,
  type Song,
  type StripSetting,
} from '../model';
import { gainThrough, synthesise } from '../sound';
import { chooseLayout, filtersOf, READY_LAYOUTS, setDrums, setSectionStrip } from '../tracks';
import {
  bareSong,
  bothSides,
  cued,
  engineWith,
  jump,
  onsets,
  oneLayer,
  peak,
  RATE,
  run,
  spike,
  struck,
  tone,
} from '../testing/engine';
import { compileDesk, laneOfPiece } from './deskTable';
import { renderMix, renderStems } from './mix';
import { MOVE_SIZE, MOVES } from './score';

const strip = (track: string, change: Partial<StripSetting>): StripSetting => ({
  track,
  level: 1,
  pan: 0,
  sends: [],
  ...change,
});

/** A song whose tracks are mixed like this. */
const mixed = (song: Song, strips: StripSetting[], change: Partial<Mix> = {}): Song => ({
  ...song,
  mixes: [{ ...song.mixes.find(({ layout }) => layout === song.layout)!, strips, ...change }],
});

const cowbell = bareSong([struck('cowbell', 0)], { bars: 1 });
/** A tone that lasts a bar. */
const long = (note: number) => oneLayer(note, new Float32Array(2 * RATE).fill(0.3));
const play = (song: Song, seconds = 0.5) => {
  const engine = engineWith(song, [tone(56)]);
  engine.play({ from: 0 });
  return bothSides(engine, seconds);
};

describe('a track', () => {
  test('has the level and the place of its strip, and is silent when muted', () => {
    expect(play(cowbell).left[1000]).toBeCloseTo(0.3, 5);
    expect(play(mixed(cowbell, [strip('cowbell', { level: 0.5 })])).left[1000]).toBeCloseTo(
      0.15,
      5,
    );
    const right = play(mixed(cowbell, [strip('cowbell', { pan: 1 })]));
    expect(Math.abs(right.left[1000])).toBeLessThan(1e-6);
    expect(right.right[1000]).toBeCloseTo(0.3 * Math.SQRT2, 5);
    expect(peak(play(mixed(cowbell, [strip('cowbell', { mute: true })])).left)).toBe(0);
    const other = mixed(cowbell, [strip('snare', { solo: true })]);
    expect(peak(play(other).left)).toBe(0);
  });

  test('that is changed while it sounds glides to its level: nothing clicks', () => {
    const engine = engineWith(cowbell, [tone(56)]);
    engine.play({ from: 0 });
    run(engine, 0.2);
    engine.setDesk(compileDesk(mixed(cowbell, [strip('cowbell', { level: 0 })])));
    const out = run(engine, 0.3);
    expect(out[0]).toBeGreaterThan(0.29);
    expect(jump(out)).toBeLessThan(0.002);
    expect(peak(out.subarray(RATE * 0.02))).toBe(0);
  });

  test('is another one in a section that says so, and itself again after it', () => {
    const [section] = cowbell.sections;
    const quiet = { strips: [{ track: 'cowbell', level: 0.25 }] };
    const song: Song = {
      ...cowbell,
      sections: [section, { ...section, id: 'b', mix: quiet }],
      places: ['a', 'b', 'a'].map((id, i) => ({ id: `p${i}`, section: id, overlay: [] })),
    };
    const heard = (from: number) => {
      const engine = engineWith(song, [tone(56)]);
      engine.play({ from });
      return run(engine, 0.1)[4000];
    };
    expect([0, 3840, 7680].map((from) => Math.round(heard(from) * 1000))).toEqual([300, 75, 300]);
    // Played through, it is the same.
    const engine = engineWith(song, [tone(56)]);
    engine.play({ from: 0 });
    const through = run(engine, 4.5);
    const at = [0.3, 2.3, 4.3].map((seconds) =>
      Math.round(through[Math.round(seconds * RATE)] * 1000),
    );
    expect(at).toEqual([300, 75, 300]);
  });

  test('sends to a bus what its table says', () => {
    const sent = mixed(cowbell, [strip('cowbell', { sends: [{ bus: 'room', level: 0.5 }] })]);
    const [dry, wet] = [play(cowbell, 2), play(sent, 2)];
    expect(peak(dry.left.subarray(1.2 * RATE))).toBe(0);
    expect(peak(wet.left.subarray(1.2 * RATE))).toBeGreaterThan(0.001);
  });
});

describe('a layout', () => {
  test('changes where strokes are mixed, and with a neutral mix nothing that sounds', () => {
    const hits = ['kick', 'snare', 'crash', 'hihat'].map((piece, i) => struck(piece, i * 480));
    const song = { ...bareSong(hits), layout: BY_PIECE.id };
    const sounds = [36, 38, 49, 42].map((note) => synthesise(note, RATE));
    const render = (layout: string) => renderMix({ ...song, layout }, { sounds, to: 2 }).left;
    const [pieces, one] = [render(BY_PIECE.id), render(ONE_TRACK.id)];
    expect(pieces.every((x, i) => Math.abs(x - one[i]) < 1e-6)).toBe(true);
    expect(peak(pieces)).toBeGreaterThan(0.3);
  });

  test('may put one articulation of a piece on a track of its own', () => {
    const layout = {
      ...layoutByPiece(),
      id: 'split',
      tracks: [{ id: 'sticks', name: 'sticks' }, ...BY_PIECE.tracks],
      rules: [{ piece: 'snare', articulation: 'side-stick', track: 'sticks' }, ...BY_PIECE.rules],
    };
    const song = { ...cowbell, layouts: [layout], layout: 'split' };
    const table = compileDesk(song);
    const stripOf = (articulation: string) =>
      table.lanes[laneOfPiece(song, 'snare', articulation)].strip;
    expect(layout.tracks[stripOf('side-stick')].id).toBe('sticks');
    expect(layout.tracks[stripOf('centre')].id).toBe('snare');
  });
});

test('stems are taken in the pass of the mix, one a track that sounds, and add up to it', () => {
  const hits = [struck('cowbell', 0), struck('claves', 960)];
  const song = bareSong(hits, { bars: 1 });
  const sounds = [tone(56), tone(75)].map((sound) => ({
    ...sound,
    zones: sound.zones.map((zone) => ({
      ...zone,
      alternates: zone.alternates.map((layers) =>
        layers.map((layer) => ({ ...layer, left: layer.left.map((x) => x / 2) })),
      ),
    })),
  }));
  const { mix, stems } = renderStems(song, { sounds });
  expect(stems.map(({ name }) => name)).toEqual(['Cowbell', 'Claves']);
  expect(mix.left).toEqual(renderMix(song, { sounds }).left);
  const sum = mix.left.map((_, i) => stems.reduce((all, { left }) => all + left[i], 0));
  expect(sum.every((x, i) => Math.abs(x - mix.left[i]) < 1e-6)).toBe(true);
});

test('the mix is the same every time, and none of its samples is out of bounds', () => {
  const song = bareSong(['kick', 'snare', 'crash', 'hihat', 'tom-high'].map((p) => struck(p, 0)));
  const [first, second] = [renderMix(song), renderMix(song)];
  expect(first.left).toEqual(second.left);
  expect(peak(first.left)).toBeLessThanOrEqual(1);
  expect(peak(first.left)).toBeGreaterThan(0.3);
});

test('an engine gives the same samples whatever the size of the blocks that are asked for', () => {
  const song = bareSong([struck('kick', 0), struck('snare', 960), struck('hihat', 250, 3)]);
  const sounds = [36, 38, 42].map((note) => synthesise(note, RATE));
  const render = (block: number) => {
    const engine = engineWith(song, sounds);
    engine.play({ from: 0 });
    const out: number[] = [];
    for (let done = 0; done < 30_720; done += block) {
      const [left, right] = [new Float32Array(block), new Float32Array(block)];
      engine.process(left, right, block);
      out.push(...left);
      if (done === 15_360) engine.setScore(cued(song));
    }
    return out;
  };
  const reference = render(128);
  expect(render(1024)).toEqual(reference);
  expect(render(64)).toEqual(reference);
});

test('whichever way the hits are put on tracks, the song is the same, room and all', () => {
  const sounds = [36, 38, 42].map((note) => synthesise(note, RATE));
  const beat = [struck('kick', 0), struck('hihat', 480), struck('snare', 960)];
  const song = { ...bareSong(beat), kit: DEFAULT_KIT };
  const of = (layout: string) =>
    renderMix(chooseLayout(song, layout) as Song, { sounds, to: 1.5 }).left;
  const before = of(song.layout);
  expect(peak(before)).toBeGreaterThan(0.1);
  for (const layout of READY_LAYOUTS) {
    const after = of(layout);
    expect(after.every((x, i) => Math.abs(x - before[i]) < 1e-5)).toBe(true);
  }
});

test('a level in one section ends with it, and what is soloed elsewhere stays silent after it', () => {
  const hits = [struck('cowbell', 0), struck('cowbell', 3840)];
  const song = bareSong(hits, { bars: 2 });
  const [section] = song.sections;
  const softer = setSectionStrip(song, section.id, { track: 'cowbell', level: 0.5 }) as Song;
  expect(play(softer).left[1000]).toBeCloseTo(0.15, 5);
  const alone = mixed(softer, [strip('snare', { solo: true })]);
  const unmuted = setSectionStrip(alone, section.id, { track: 'cowbell', mute: true }) as Song;
  const { moves } = cued(unmuted).score;
  const last = moves.subarray(moves.length - MOVE_SIZE);
  expect([...last.subarray(1)]).toEqual([expect.any(Number), MOVES.mute, 1, 0]);
});

describe('a section that mixes a track otherwise', () => {
  const [section] = cowbell.sections;
  const second = { ...section, id: 'b', name: 'b' };
  const two: Song = {
    ...cowbell,
    sections: [section, second],
    places: ['a', 'b', 'a'].map((id, i) => ({ id: `p${i}`, section: id, overlay: [] })),
  };
  const otherwise = (change: Omit<SectionStrip, 'track'>) =>
    setSectionStrip(two, 'b', { track: 'cowbell', ...change }) as Song;
  const at = (samples: Float32Array, seconds: number) => samples[Math.round(seconds * RATE)];

  test('gets there in the beats it says, in a straight line, from wherever it is played', () => {
    const song = otherwise({ level: 0, ramp: 2 });
    const engine = engineWith(song, [long(56)]);
    engine.play({ from: 0 });
    const through = run(engine, 4.5);
    // A bar is two seconds; the ramp takes one of them.
    expect(at(through, 1.9)).toBeCloseTo(0.3, 3);
    for (const beat of [0.25, 0.5, 0.75]) {
      expect(at(through, 2 + beat)).toBeCloseTo(0.3 * (1 - beat), 2);
    }
    expect(at(through, 3.5)).toBe(0);
    expect(at(through, 4.1)).toBeCloseTo(0.3, 3);
    const inside = engineWith(song, [long(56)]);
    inside.play({ from: 3840 + 480 });
    expect(at(run(inside, 0.1), 0.01)).toBe(0);
    inside.strike({
      note: 56,
      velocity: 127,
      lane: laneOfPiece(song, 'cowbell', 'struck'),
      choke: 0,
    });
    expect(at(run(inside, 0.1), 0.05)).toBeCloseTo(0.3 * (1 - 0.25 - 0.15), 2);
  });

  test('sends it to the room there only', () => {
    const sent = otherwise({ sends: [{ bus: 'room', level: 1 }] });
    const heard = (song: Song) => {
      const engine = engineWith(song, [tone(56)]);
      engine.play({ from: 3840 });
      const first = run(engine, 1.9);
      return at(first, 0.5) - 0.3;
    };
    expect(Math.abs(heard(two))).toBeLessThan(1e-5);
    expect(Math.abs(heard(sent))).toBeGreaterThan(0.01);
  });
});

describe('the bus of all drums', () => {
  const holding: DrumBus = {
    dynamics: { threshold: -30, ratio: 10, attack: 0.001, release: 0.1, gain: 0 },
    ceiling: 0,
  };

  test('holds all back but what goes past it', () => {
    const half = mixed(cowbell, [strip('cowbell', { dry: 0.5 })], { drums: holding });
    const [bare, held, past] = [
      cowbell,
      mixed(cowbell, [], { drums: holding }),
      mixed(cowbell, [strip('cowbell', { dry: 1 })], { drums: holding }),
    ].map((song) => play(song).left[8000]);
    expect(held).toBeLessThan(bare / 4);
    expect(past).toBeCloseTo(bare, 5);
    expect(play(half).left[8000]).toBeGreaterThan(bare / 2);
  });

  test('is the same in every layout, so that another layout is the same song', () => {
    const song = setDrums(cowbell, { ceiling: -6, drive: 0.5 });
    for (const layout of READY_LAYOUTS) {
      expect(compileDesk(chooseLayout(song, layout) as Song).drums).toMatchObject({
        ceiling: -6,
        drive: 0.5,
      });
    }
  });
});

test('a track that is turned upside down takes away the same track beside it', () => {
  const flipped = play(mixed(cowbell, [strip('cowbell', { flip: true })])).left;
  const straight = play(cowbell).left;
  expect(Math.max(...straight.map((x, i) => Math.abs(x + flipped[i])))).toBe(0);
});

describe('the tone of a track', () => {
  const bands = {
    cut: { frequency: 90, gain: 0 },
    low: { frequency: 160, gain: 4 },
    mid: { frequency: 900, gain: -7 },
    high: { frequency: 6000, gain: 5 },
  };
  const toned = mixed(cowbell, [strip('cowbell', { tone: bands })]);

  /** What is left of a frequency of a click, in decibels. */
  function level(samples: Float32Array, frequency: number): number {
    let [re, im] = [0, 0];
    samples.forEach((x, i) => {
      re += x * Math.cos((2 * Math.PI * frequency * i) / RATE);
      im += x * Math.sin((2 * Math.PI * frequency * i) / RATE);
    });
    return 10 * Math.log10(re * re + im * im);
  }
  const click = (song: Song) => {
    const engine = engineWith(song, [spike(56)]);
    engine.play({ from: 0 });
    return bothSides(engine, 0.4).left;
  };

  test.each([60, 160, 900, 3000, 9000])('is what its curve says, at %i Hz', (frequency) => {
    const curve = gainThrough(filtersOf(bands), frequency, RATE);
    const heard = level(click(toned), frequency) - level(click(cowbell), frequency);
    expect(Math.abs(heard - curve)).toBeLessThan(0.1);
  });

  test('that is changed while it sounds does not click', () => {
    const engine = engineWith(cowbell, [tone(56)]);
    engine.play({ from: 0 });
    bothSides(engine, 0.2);
    engine.setDesk(compileDesk(toned));
    const { left } = bothSides(engine, 0.05);
    expect(jump(left)).toBeLessThan(0.02);
  });

  test('without bands is none: the samples are the same', () => {
    const flat = mixed(cowbell, [strip('cowbell', { tone: { mid: { frequency: 900, gain: 0 } } })]);
    expect(click(flat)).toEqual(click(cowbell));
  });
});

describe('a pair of outputs of its own', () => {
  const song = mixed(bareSong([struck('cowbell', 480), struck('ride', 960)]), [
    strip('cowbell', { output: 3, sends: [{ bus: 'room', level: 1 }] }),
  ]);
  const sounds = [oneLayer(56, Float32Array.of(0.3)), oneLayer(51, Float32Array.of(0.4))];
  const played = (of: Song, pairs: number) => {
    const engine = engineWith(of, sounds);
    engine.play({ from: 0 });
    const sides = Array.from({ length: 2 * pairs }, () => new Float32Array(RATE));
    engine.process(sides[0], sides[1], RATE, undefined, sides.slice(2));
    return sides;
  };
  const at = (beat: number, engineDelay: number) => beat * (RATE / 2) + engineDelay;

  test('takes the track at the very moment of the others, and leaves the room to all drums', () => {
    const { delay } = engineWith(song, sounds);
    const [left, right, , , third, fourth] = played(song, 3);
    expect(third[at(0.5, delay)]).toBeCloseTo(0.3, 6);
    expect(fourth[at(0.5, delay)]).toBeCloseTo(0.3, 6);
    expect(onsets(third)).toEqual([at(0.5, delay)]);
    expect(left[at(0.5, delay)]).toBe(0);
    expect(left[at(1, delay)]).toBeCloseTo(0.4, 2);
    // What the room gives back of it is heard with all drums.
    expect(peak(right.subarray(at(0.5, delay) + 1, at(1, 0)))).toBeGreaterThan(0.001);
  });

  test('that the device does not have is the first', () => {
    const usual = mixed(song, [strip('cowbell', { sends: [{ bus: 'room', level: 1 }] })]);
    expect(played(song, 1)).toEqual(played(usual, 1));
    expect(played(song, 2).slice(0, 2)).toEqual(played(usual, 1));
  });
});

test('two values that ramp together are, played from the middle, where they are played from the start', () => {
  const rest: SectionStrip = { track: 'cowbell', level: 0.25, pan: 1, ramp: 4 };
  const song = setSectionStrip(
    bareSong([struck('cowbell', 0), struck('cowbell', 1920)], { bars: 1 }),
    'a',
    rest,
  ) as Song;
  const sounds = [long(56)];
  const whole = engineWith(song, sounds);
  whole.play({ from: 0 });
  const all = bothSides(whole, 1.5);
  const later = engineWith(song, sounds);
  later.play({ from: 1920 });
  const half = bothSides(later, 0.5);
  // What was struck before still rings in the one: what ramps is told by the ratio of the sides.
  for (const at of [0.1, 0.3, 0.45].map((seconds) => Math.round(seconds * RATE))) {
    const from = Math.round(RATE + at);
    expect(half.left[at] / half.right[at]).toBeCloseTo(all.left[from] / all.right[from], 3);
  }
});

test('a second play begins with the very samples of the first', () => {
  const dynamics = { threshold: -30, ratio: 4, attack: 0.01, release: 0.1, gain: 9 };
  const song = mixed(cowbell, [strip('cowbell', { dynamics })], {
    drums: { dynamics, ceiling: 0 },
  });
  const engine = engineWith(song, [spike(56)]);
  engine.play({ from: 0 });
  const first = run(engine, 0.1);
  engine.stop();
  run(engine, 4);
  engine.play({ from: 0 });
  const { delay } = engine;
  const second = run(engine, 0.1);
  expect(peak(first)).toBeGreaterThan(0.5);
  // The first was heard from its first sample on, the second as late as the limiter looks ahead.
  expect([...second.slice(delay, 2000)]).toEqual([...first.slice(0, 2000 - delay)]);
});

test('a change of the kit while a piece rings is heard within a block, without a step', () => {
  const hum = Float32Array.from(
    { length: RATE },
    (_, i) => 0.3 * Math.sin((i * 2 * Math.PI * 110) / RATE),
  );
  const piece = (level: number, pan: number, gain: number): Song => ({
    ...cowbell,
    kit: {
      ...cowbell.kit,
      pieces: cowbell.kit.pieces.map((one) =>
        one.id === 'cowbell'
          ? { ...one, level, pan, filters: [{ kind: 'lowshelf', frequency: 200, q: 0.7, gain }] }
          : one,
      ),
    },
  });
  const before = piece(1, 0, -12);
  const engine = engineWith(before, [oneLayer(56, hum)]);
  engine.play({ from: 0 });
  const start = run(engine, 0.3);
  engine.setDesk(compileDesk(piece(0.5, -1, 6)));
  const after = run(engine, 0.3);
  const plain = jump(start.slice(RATE * 0.1));
  expect(jump(after)).toBeLessThan(Math.max(2.5 * plain, 3 * jump(after.slice(RATE * 0.1))));
  const alone = engineWith(piece(0.5, -1, 6), [oneLayer(56, hum)]);
  alone.play({ from: 0 });
  run(alone, 0.3);
  const there = run(alone, 0.3);
  for (let i = RATE * 0.1; i < after.length; i += 997) expect(after[i]).toBeCloseTo(there[i], 3);
});

test('what a ringing piece gives to the room is changed within a block, whatever the others of its track give', () => {
  const hum = Float32Array.from({ length: RATE }, (_, i) => 0.3 * Math.cos((i * Math.PI) / 400));
  const inRoom = (cowbell: number, ride: number): Song => {
    const song = bareSong([struck('cowbell', 0), struck('ride', 0)]);
    const rooms: Readonly<Record<string, number>> = { cowbell, ride };
    const pieces = song.kit.pieces.map((one) => ({ ...one, room: rooms[one.id] ?? 0 }));
    return { ...song, layout: 'one', mixes: [], kit: { ...song.kit, pieces } };
  };
  /** The largest step in what the room is given, one block after another, over its steps as it stays. */
  const steps = (from: Song, to: Song) => {
    const engine = engineWith(from, [oneLayer(56, hum), oneLayer(51, hum)]);
    engine.play({ from: 0 });
    run(engine, 0.3);
    engine.setDesk(compileDesk(to));
    return jump(run(engine, 0.2));
  };
  for (const [from, to] of [
    [inRoom(0, 0), inRoom(1, 1)],
    [inRoom(0, 0), inRoom(1, 0)],
    [inRoom(1, 0), inRoom(0, 0)],
    [inRoom(1, 0), inRoom(0, 1)],
  ]) {
    expect(steps(from, to)).toBeLessThan(2.5 * Math.max(steps(from, from), steps(to, to)));
  }
});

test('stems add up to the mix where a section lets a muted track be heard', () => {
  const muted = mixed(cowbell, [strip('cowbell', { mute: true })]);
  const song = setSectionStrip(muted, 'a', { track: 'cowbell', mute: false }) as Song;
  const { mix, stems } = renderStems(song, { sounds: [tone(56)] });
  expect(stems.map(({ track }) => track)).toEqual(['cowbell']);
  expect(peak(mix.left)).toBeGreaterThan(0.2);
});
