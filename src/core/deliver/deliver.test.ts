import wavDecoder from 'wav-decoder';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { WaveFile } from 'wavefile';
import { demoSongs } from '../../demo';
import { checkSong, layoutOf, TEN_KEYS, trackOfHit, type Pattern, type Song } from '../model';
import { setPush } from '../pattern';
import { integratedLoudness } from '../sound';
import { oneLayer } from '../testing/engine';
import { anyWholeSong } from '../testing/songs';
import {
  compileDesk,
  compileScore,
  notesIn,
  Rendering,
  renderMix,
  soundsFor,
  TruePeakMeter,
} from '../engine';
import { heard } from '../heard';
import {
  hitsPerTrack,
  isSilent as isSilentStrip,
  sendTrack,
  setDrums,
  setStrip,
  stripsOf,
} from '../tracks';
import { exportMidi, importMidi } from '../midi';
import { bpmAt, laidPlaces, timeline } from '../weave';
import {
  audioParts,
  csvOfSong,
  DEPTHS,
  frameBytes,
  gainOf,
  HANDED,
  heldBack,
  midiBytes,
  midiOptions,
  partsOf,
  plannedFiles,
  renderPart,
  rounded,
  songOfFile,
  StemSum,
  tabOfSong,
  USUAL_AUDIO,
  USUAL_DELIVERY,
  whatIn,
  USUAL_MIDI,
  USUAL_NAMES,
  wavBytes,
  WavStream,
  type AudioPart,
  type Depth,
  type MidiWish,
  type NamedPart,
  type What,
} from '.';

const [demo] = demoSongs();
const [place] = demo.places;

const joined = (parts: readonly Uint8Array[]) => Buffer.concat(parts);
const decoded = (bytes: Buffer) =>
  wavDecoder.decode.sync(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
  );

/** A file that was written in pieces of some lengths. */
function written(
  depth: Depth,
  left: Float32Array,
  right: Float32Array,
  cuts: readonly number[] = [],
) {
  const stream = new WavStream(depth, 48_000);
  const edges = [0, ...[...cuts].sort((a, b) => a - b), left.length];
  const parts = edges
    .slice(0, -1)
    .map((from, i) =>
      stream.bytes(left.subarray(from, edges[i + 1]), right.subarray(from, edges[i + 1])),
    );
  return joined([stream.header(), ...parts]);
}

const anySide = fc
  .array(fc.float({ min: -1, max: Math.fround(0.99), noNaN: true }), {
    minLength: 1,
    maxLength: 200,
  })
  .map((values) => Float32Array.from(values));

test('what is written is read back within a step and its dither, and in floating point exactly', () => {
  fc.assert(
    fc.property(anySide, fc.constantFrom(...DEPTHS), (left, depth) => {
      const right = left.map((x) => -x * 0.5);
      const file = written(depth, left, right);
      expect(file.length).toBe(wavBytes(depth, left.length));
      const { sampleRate, channelData } = decoded(file);
      expect(sampleRate).toBe(48_000);
      const off = depth === 'float' ? 0 : 2 * 2 ** (1 - Number(depth));
      const apart = [left, right].flatMap((side, n) =>
        [...side].map((x, i) => Math.abs(channelData[n][i] - x)),
      );
      expect(Math.max(...apart)).toBeLessThanOrEqual(off);
    }),
  );
});

test('a reader that has nothing to do with the writer finds the same header and samples', () => {
  fc.assert(
    fc.property(anySide, fc.constantFrom(...DEPTHS), (left, depth) => {
      const file = written(depth, left, left);
      const wav = new WaveFile(file);
      const { numChannels, sampleRate, bitsPerSample, blockAlign } = wav.fmt as Record<
        string,
        number
      >;
      const bits = depth === 'float' ? 32 : Number(depth);
      expect([numChannels, sampleRate, bitsPerSample]).toEqual([2, 48_000, bits]);
      expect(blockAlign).toBe(frameBytes(depth));
      // Samples of floating point are counted in the header.
      const { chunkId, dwSampleLength } = wav.fact as { chunkId: string; dwSampleLength: number };
      expect([chunkId, dwSampleLength]).toEqual(
        depth === 'float' ? ['fact', left.length] : ['', 0],
      );
      const [one] = wav.getSamples(false, Float64Array) as unknown as Float64Array[];
      const scale = depth === 'float' ? 1 : 2 ** (bits - 1);
      expect(one).toHaveLength(left.length);
      one.forEach((x, i) => expect(Math.abs(x / scale - left[i])).toBeLessThan(3 / scale + 1e-6));
    }),
  );
});

test('a file is the same in however many pieces it is written', () => {
  fc.assert(
    fc.property(anySide, fc.array(fc.nat(200), { maxLength: 5 }), (left, cuts) => {
      const within = cuts.map((cut) => Math.min(cut, left.length));
      for (const depth of DEPTHS)
        expect(written(depth, left, left, within)).toEqual(written(depth, left, left));
    }),
  );
  expect(frameBytes('24')).toBe(6);
});

test('a tone softer than a step of 16 bits is still there, without its harmonics', () => {
  const step = 2 ** -15;
  const tone = Float32Array.from(
    { length: 48_000 },
    (_, i) => 0.4 * step * Math.sin((i * Math.PI) / 24),
  );
  const { channelData } = decoded(written('16', tone, tone));
  const level = (times: number) => {
    let [re, im] = [0, 0];
    channelData[0].forEach((x, i) => {
      re += x * Math.cos((times * i * Math.PI) / 24);
      im += x * Math.sin((times * i * Math.PI) / 24);
    });
    return Math.hypot(re, im) / 24_000;
  };
  expect(level(1)).toBeGreaterThan(0.3 * step);
  expect(level(3)).toBeLessThan(0.05 * step);
});

/** What the first section strikes. */
const [beginningPart] = partsOf(demo, { place: place.id }, USUAL_NAMES);
const [{ song: beginning }] = audioParts(USUAL_AUDIO, beginningPart);
const sounds = soundsFor(notesIn(compileScore(beginning)), 48_000, demo.kit);

const loudestOf = (...sides: Float32Array[]) =>
  sides.reduce((most, side) => side.reduce((most, x) => Math.max(most, Math.abs(x)), most), 0);

const rendered = (song: Song, seconds: number) => {
  const out = new Rendering(compileScore(song), { desk: compileDesk(song), sounds, to: seconds });
  const left = new Float32Array(out.most);
  const right = new Float32Array(out.most);
  expect(out.next(left, right)).toBe(out.most);
  return left;
};

test('stems add up to the mix where nothing is done to all drums together', () => {
  const soft = ['kick', 'snare', 'hihat', 'ride'].reduce(
    (song, track) => setStrip(song, track, { level: 0.3 }) as Song,
    sendTrack(demo, 'snare', 'echo', 0.5) as Song,
  );
  const wish = { ...USUAL_AUDIO, stems: true, bus: false };
  const [mix, ...stems] = audioParts(wish, partsOf(soft, { place: place.id }, USUAL_NAMES)[0]);
  expect(stems.length).toBeGreaterThan(2);
  const whole = rendered(mix.song, 3);
  const sum = new Float32Array(whole.length);
  for (const { song } of stems) rendered(song, 3).forEach((x, i) => (sum[i] += x));
  let most = 0;
  sum.forEach((x, i) => (most = Math.max(most, Math.abs(x - whole[i]))));
  expect(most).toBeLessThan(2 ** -21);
  expect(whole.some((x) => Math.abs(x) > 0.01)).toBe(true);
});

test('stems add up to the mix, whatever the song, where its bus is neutral', () => {
  fc.assert(
    fc.property(anyWholeSong, (any) => {
      const song = { ...any, guides: [] };
      const wish = { ...USUAL_AUDIO, stems: true, bus: false };
      const [mix, ...stems] = audioParts(wish, partsOf(song, {}, USUAL_NAMES)[0]);
      const sounds = notesIn(compileScore(song)).map((note) =>
        oneLayer(note, new Float32Array(900).fill(0.004)),
      );
      const sidesOf = (of: Song) => {
        const { left, right } = renderMix(of, { sounds, to: 3 });
        return [left, right];
      };
      const parts = stems.map((stem) => sidesOf(stem.song));
      const apart = sidesOf(mix.song).map((whole, side) => {
        const left = Float64Array.from(whole);
        for (const part of parts) part[side].forEach((x, i) => (left[i] -= x));
        return left.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
      });
      expect(Math.max(...apart)).toBeLessThan(2 ** -18);
    }),
  );
});

test('a section that lets another track be heard does so in its own file alone', () => {
  const section = demo.sections.find(({ id }) => id === place.section)!;
  const quiet = setStrip(demo, 'hihat', { mute: true }) as Song;
  const heardHere = {
    ...quiet,
    sections: quiet.sections.map((one) =>
      one === section ? { ...one, mix: { strips: [{ track: 'hihat', mute: false }] } } : one,
    ),
  };
  const wish = { ...USUAL_AUDIO, mix: false, stems: true, mutes: false };
  const stems = audioParts(wish, partsOf(heardHere, { place: place.id }, USUAL_NAMES)[0]);
  const hats = stems.find(({ track }) => track === 'hihat')!;
  const kick = stems.find(({ track }) => track === 'kick')!;
  const strips = (song: Song) => song.sections.find(({ id }) => id === section.id)!.mix!.strips;
  expect(strips(hats.song)).toHaveLength(1);
  expect(strips(kick.song)).toEqual([]);
});

test('in pieces a song comes out as it does at once', () => {
  const whole = renderMix(beginning, { sounds, to: 1 }).left;
  const desk = compileDesk(beginning);
  const out = new Rendering(compileScore(beginning), { desk, sounds, to: 1 });
  const pieces: number[] = [];
  for (const size of [1, 100, 1000, 7, 48_000]) {
    const left = new Float32Array(size);
    const frames = out.next(left, new Float32Array(size));
    pieces.push(...left.subarray(0, frames));
  }
  expect(pieces).toEqual([...whole]);
  expect(out.next(new Float32Array(10), new Float32Array(10))).toBe(0);
  expect(out.done).toBe(out.most);
});

test('each track that sounds is a stem with its hits, and every hit is in one', () => {
  const [whole] = partsOf(demo, {}, USUAL_NAMES);
  const parts = audioParts({ ...USUAL_AUDIO, stems: true }, whole);
  for (const { song } of parts) expect(checkSong(song)).toEqual([]);
  const [mix, ...stems] = parts;
  const all = [...hitsPerTrack(demo).values()].reduce((a, b) => a + b, 0);
  expect(mix.hits).toBe(all);
  expect(stems.reduce((sum, { hits }) => sum + hits, 0)).toBe(all);
  const muted = setStrip(demo, 'kick', { mute: true }) as Song;
  const tracks = (song: Song, mutes: boolean) =>
    audioParts({ ...USUAL_AUDIO, stems: true, mutes }, { ...whole, song }).map(
      ({ track }) => track,
    );
  expect(tracks(muted, true)).not.toContain('kick');
  expect(tracks(muted, false)).toContain('kick');
});

describe('a file of sound', () => {
  const rate = 8_000;
  const [part] = audioParts(USUAL_AUDIO, beginningPart);
  const own = soundsFor(notesIn(compileScore(beginning)), rate, demo.kit);
  const form = { sampleRate: rate, sounds: own };
  /** The loudest sample of either side. */
  let peak = 0;
  const sidesOf = async (wish: Partial<AudioPart>, gain = 1) => {
    const [rest, first]: number[][][] = [
      [[], []],
      [[], []],
    ];
    const into = (lists: number[][]) => ({
      add: (...sides: Float32Array[]) => sides.forEach((side, n) => lists[n].push(...side)),
    });
    const encodings = { encoding: into(rest), beginning: into(first) };
    await renderPart({ ...part, ...wish }, form, { ...encodings, gain });
    return [0, 1].map((n) => Float32Array.from([...first[n], ...rest[n]]));
  };
  const collected = async (wish: Partial<AudioPart>, gain = 1) => {
    const sides = await sidesOf(wish, gain);
    peak = loudestOf(...sides);
    return [...sides[0]];
  };

  test('as a loop is as long as its bars, and holds all that it is with its tail, folded over', async () => {
    const tail = await collected({ ending: 'tail' });
    const loop = await collected({ ending: 'loop' });
    const bars = Math.round(part.seconds * rate);
    expect(loop).toHaveLength(bars);
    expect(tail.length).toBeGreaterThan(bars);
    const apart = loop.map((x, i) => Math.abs(x - tail[i] - (tail[i + bars] ?? 0)));
    expect(apart.reduce((a, b) => Math.max(a, b))).toBeLessThan(5e-7);
    expect(await collected({ ending: 'bar' })).toHaveLength(Math.ceil(part.seconds * rate));
  });

  test('as a loop is under its ceiling with its tail folded in, and goes round as it would be played', async () => {
    const loud = { ...part, song: setDrums(part.song, { level: 4, ceiling: -3 }) };
    const loop = await collected({ ...loud, ending: 'loop' });
    expect(loop).toHaveLength(Math.round(part.seconds * rate));
    expect(20 * Math.log10(peak)).toBeLessThanOrEqual(-3 + 1e-4);
    const wish = { by: 'peak', target: 0, song: loud.song, click: false } as const;
    await collected(
      { ...loud, measured: wish, ending: 'loop' },
      (await gainOf({ ...loud, measured: wish, ending: 'loop' }, form)).gain,
    );
    expect(peak).toBeLessThanOrEqual(1);
    // At the end of the head, where body and head were computed apart, nothing jumps.
    const held = heldBack({ seconds: part.seconds, ending: 'loop' }, rate);
    const steps = loop.map((x, i) => Math.abs(x - loop.at(i - 1)!));
    if (held < loop.length) {
      const around = steps.slice(held - 400, held + 400);
      expect(steps[held]).toBeLessThanOrEqual(Math.max(...around));
    }
  });

  test('is as loud as is wished, by its peak or its loudness, and never over full scale', async () => {
    const measured = (by: 'peak' | 'loudness', target: number) =>
      ({ ...part, measured: { song: part.song, click: false, by, target } }) as AudioPart;
    for (const target of [-1, -12]) {
      const { gain, short } = await gainOf(measured('peak', target), form);
      const [left, right] = await sidesOf({}, gain);
      const meter = new TruePeakMeter();
      meter.add(left, right);
      expect(20 * Math.log10(meter.peak)).toBeCloseTo(target, 3);
      expect(short).toBe(0);
    }
    const { gain } = await gainOf(measured('loudness', -24), form);
    const loud = Float32Array.from(await collected({}, gain));
    expect(integratedLoudness(loud, loud, rate)).toBeLessThan(-20);
    // What cannot be reached is said with what there is instead.
    const most = await gainOf(measured('loudness', 0), form);
    const [left, right] = await sidesOf({}, most.gain);
    expect(loudestOf(left, right)).toBeLessThan(1);
    expect(most.short).toBeGreaterThan(1);
    expect(integratedLoudness(left, right, rate)).toBeCloseTo(-most.short, 1);
  });

  test('of stems that add up is part of a mix in which nothing is over full scale, as loud a bus as there is', async () => {
    const loud = { ...demo, mixes: setDrums(demo, { level: 4, ceiling: -3 }).mixes };
    const [whole] = partsOf(loud, { place: place.id }, USUAL_NAMES);
    const wish = { ...USUAL_AUDIO, stems: true };
    for (const ending of ['bar', 'loop'] as const) {
      for (const addUp of [false, true]) {
        const [mix, ...stems] = audioParts({ ...wish, addUp, bus: !addUp, ending }, whole);
        const { gain } = await gainOf(mix, form);
        const sum = new StemSum(rate);
        let peak = 0;
        for (const stem of stems) {
          expect(await gainOf(stem, form)).toEqual({ gain, short: expect.anything() });
          const [left, right] = await sidesOf(stem, gain);
          peak = Math.max(peak, loudestOf(left, right));
          sum.stem().add(left, right);
        }
        const [left, right] = await sidesOf(mix, gain);
        sum.mix().add(left, right);
        // Through a bus and its limiter each file is held by itself.
        if (addUp) expect(Math.abs(sum.apart)).toBeLessThan(1e-3);
        else expect(Math.abs(sum.apart)).toBeGreaterThan(0.5);
        if (addUp) expect(Math.max(peak, loudestOf(left, right))).toBeLessThan(1);
      }
    }
  });

  test('of a stem that is louder than the mix says by how much, where it differs most', () => {
    const tone = (level: number) =>
      Float32Array.from({ length: 3 * rate }, (_, i) => level * Math.sin(i / 3));
    const sum = new StemSum(rate);
    const halves = [tone(0.1), tone(0.1)];
    for (const half of halves) sum.stem().add(half, half);
    const mix = tone(0.2);
    // For two stretches the mix is held back by 6 dB.
    mix.subarray(0.8 * rate, 1.6 * rate).forEach((_, i, part) => (part[i] /= 2));
    sum.mix().add(mix, mix);
    expect(sum.apart).toBeCloseTo(6.02, 1);
  });

  test('of the drum bus stands beside stems that add up, as it is mixed', () => {
    const [whole] = partsOf(demo, { place: place.id }, USUAL_NAMES);
    const wish = { ...USUAL_AUDIO, stems: true, addUp: true, bus: true };
    const bus = audioParts(wish, whole).at(-1)!;
    const [mix] = audioParts(USUAL_AUDIO, whole);
    expect(bus).toMatchObject({ track: 'bus', song: mix.song, hits: mix.hits });
    expect(bus.measured).toBeUndefined();
    expect(bus.file).toMatch(/, drum bus$/);
  });

  test('of a stem rings no longer than its mix, whichever ends last', async () => {
    const [whole] = partsOf(demo, { place: place.id }, USUAL_NAMES);
    for (const effects of [true, false]) {
      const wish = { ...USUAL_AUDIO, stems: true, effects, click: true };
      const [mix, ...stems] = audioParts(wish, whole);
      const [{ length }] = await sidesOf(mix);
      for (const stem of stems) expect((await sidesOf(stem))[0].length).toBeLessThanOrEqual(length);
    }
  });

  test('has a click on every beat when it is asked for, and among stems it is one of them', async () => {
    const wish = { ...USUAL_AUDIO, mix: false, stems: true, click: true };
    const click = audioParts(wish, beginningPart).at(-1)!;
    expect(click.file).toMatch(/Click$/);
    const heard = await collected(click);
    const beat = (60 / bpmAt(beginning, 0)) * rate;
    for (let n = 0; n < 8; n++) {
      const at = Math.round(n * beat);
      const peak = Math.max(...heard.slice(at, at + 200).map(Math.abs));
      expect(peak).toBeGreaterThan(0.05);
      expect(Math.max(0, ...heard.slice(at - 400, at - 20).map(Math.abs))).toBeLessThan(0.01);
    }
  });
});

const files = (song: Song, what: What, names = USUAL_NAMES) => partsOf(song, what, names);
const read = (song: Song, part: NamedPart, wish: Partial<MidiWish> = {}) =>
  importMidi(
    exportMidi(songOfFile(song, part), midiOptions(song, { ...USUAL_MIDI, ...wish }, part)),
    'x',
  ).song!;

describe('MIDI', () => {
  test('of each section holds together every hit of the song, at the tempo it has there', () => {
    const parts = files(demo, { each: 'sections' });
    expect(parts).toHaveLength(demo.places.length);
    expect(parts[0].file).toBe('Saltmarsh Signal 01 intro');
    const hits = parts.map((part) => timeline(read(demo, part)).length);
    expect(hits.reduce((a, b) => a + b, 0)).toBe(timeline(demo).length);
    laidPlaces(demo).forEach(({ start }, i) =>
      expect(bpmAt(parts[i].song, 0)).toBeCloseTo(bpmAt(demo, start), 6),
    );
  });

  test('of each pattern has names of its own, by what the template says, in folders where it has a stroke', () => {
    const twice = { ...demo, patterns: demo.patterns.map((one) => ({ ...one, name: 'Beat/1' })) };
    const named = (names: string) =>
      plannedFiles(twice, {
        ...USUAL_DELIVERY,
        ...{ handed: 'midi', what: { each: 'patterns' }, names },
      }).map(({ path }) => path);
    expect(new Set(named('{part}')).size).toBe(demo.patterns.length);
    expect(named('{song}/{part} {nn} {foo}')[1]).toBe('Saltmarsh Signal/Beat-1 02 {foo}.mid');
    expect(named('../../{nn}')[0]).toBe('01.mid');
    expect(named('  ')[0]).toBe('01.mid');
  });

  test('of one part is that part alone', () => {
    const [verse] = demo.patterns;
    const [part] = files(demo, { pattern: verse.id, passes: 1 });
    expect(part.file).toBe(`Saltmarsh Signal, ${verse.name}`);
    const hits = verse.strands.reduce((sum, strand) => sum + strand.hits.length, 0);
    expect(timeline(read(demo, part)).length).toBeLessThanOrEqual(hits * 3);
    expect(files(demo, { place: 'gone' })[0].file).toBe('Saltmarsh Signal');
  });

  test('holds several sections one after another, or each by itself, in the order of the song', () => {
    const { places } = demo;
    const places3 = [places[4].id, places[0].id, 'gone', places[2].id];
    const [part, ...more] = partsOf(demo, { places: places3 }, USUAL_NAMES);
    expect(more).toEqual([]);
    expect(part.file).toMatch(/^Saltmarsh Signal, intro \+ .* \+ /);
    const alone = partsOf(demo, { places: places3, each: 'sections' }, USUAL_NAMES);
    expect(alone).toHaveLength(3);
    const counts = alone.map(({ song }) => timeline(song).length);
    expect(timeline(part.song)).toHaveLength(counts.reduce((a, b) => a + b, 0));
    const all = partsOf(demo, { places: places.map(({ id }) => id) }, USUAL_NAMES)[0];
    expect(all.file).toBe('Saltmarsh Signal, 9 sections');
    expect(timeline(all.song)).toEqual(timeline(demo));
    expect(partsOf(demo, { places: [] }, USUAL_NAMES)[0].song).toBe(demo);
  });

  test('of a pattern each track is a file too, laid out in the song or not', () => {
    const unlaid: Song = { ...demo, places: [], sections: [] };
    for (const song of [demo, unlaid]) {
      const { id } = song.patterns[0];
      const midi = { ...USUAL_MIDI, tracks: 'pieces' as const, apart: true };
      const planned = plannedFiles(song, { ...USUAL_DELIVERY, midi, what: { pattern: id } });
      const [whole] = files(song, { pattern: id });
      const hits = timeline(whole.song);
      expect(planned.map((one) => one.hits)).toEqual(
        planned.map(({ part }) => hits.filter(({ piece }) => piece === part.track).length),
      );
      expect(planned.reduce((sum, one) => sum + one.hits, 0)).toBe(hits.length);
      expect(planned.length).toBe(new Set(hits.map(({ piece }) => piece)).size);
    }
  });

  test('a song in which nothing is laid out is the pattern that is shown, or its first', () => {
    const unlaid: Song = { ...demo, places: [], sections: [] };
    const [first, , third] = demo.patterns;
    expect(whatIn(unlaid, {})).toEqual({ pattern: first.id });
    expect(whatIn(unlaid, { places: ['gone'] }, third.id)).toEqual({ pattern: third.id });
    expect(whatIn(unlaid, {}, 'gone')).toEqual({ pattern: first.id });
    for (const what of [{ each: 'patterns' as const }, { pattern: third.id }]) {
      expect(whatIn(unlaid, what, first.id)).toBe(what);
    }
    const whole = {};
    expect(whatIn(demo, whole, first.id)).toBe(whole);
  });

  test('leaves out what is muted when that is wished, and nothing else', () => {
    const muted = setStrip(demo, 'kick', { mute: true }) as Song;
    const [part] = files(muted, {});
    const kicks = (mutes: boolean) =>
      timeline(read(muted, part, { mutes })).filter(({ piece }) => piece === 'kick').length;
    const all = (mutes: boolean) => timeline(read(muted, part, { mutes })).length;
    expect(kicks(true)).toBe(0);
    expect(all(false) - all(true)).toBe(kicks(false));
    expect(kicks(false)).toBeGreaterThan(0);
  });
});

test('each track as a MIDI file of its own holds its hits, and all of them are in one', () => {
  const wish = {
    ...USUAL_DELIVERY,
    midi: { ...USUAL_MIDI, tracks: 'pieces' as const, apart: true },
  };
  const ticks = (bytes: Uint8Array) => {
    const notes: string[] = [];
    for (const track of parseMidi(bytes).tracks) {
      let at = 0;
      for (const event of track) {
        at += event.deltaTime;
        if (event.type === 'noteOn') notes.push(`${at} ${event.noteNumber} ${event.velocity}`);
      }
    }
    return notes.sort();
  };
  const planned = plannedFiles(demo, wish);
  const pieces = new Set(timeline(demo).map(({ piece }) => piece));
  expect(planned).toHaveLength(pieces.size);
  expect(planned[0].path).toMatch(/^Saltmarsh Signal, 01 /);
  const files = planned.map(({ part, hits, tracks, bytes }) => {
    const written = midiBytes(demo, wish.midi, part);
    const notes = ticks(written);
    expect([notes.length, tracks, written.length]).toEqual([hits, 1, bytes]);
    return notes;
  });
  const whole = plannedFiles(demo, { ...wish, midi: { ...wish.midi, apart: false } })[0];
  expect(files.flat().sort()).toEqual(ticks(midiBytes(demo, wish.midi, whole.part)));
});

describe('the resolution', () => {
  const header = (song: Song, wish: Partial<typeof USUAL_MIDI>) => {
    const [part] = files(song, {});
    const bytes = midiBytes(song, { ...USUAL_MIDI, ...wish }, part);
    return new DataView(bytes.buffer, bytes.byteOffset).getUint16(12);
  };
  const came: Song = { ...demo, origin: { file: 'came.mid', ppq: 480 } };

  test('is that of the file that came in, or what is wished', () => {
    expect(header(demo, {})).toBe(960);
    expect(header(came, {})).toBe(480);
    expect(header(came, { ppq: 96 })).toBe(96);
  });

  test('says how many hits a coarse one moves, and how far', () => {
    expect(rounded(demo, 960)).toEqual({ hits: 0, most: 0 });
    const { hits, most } = rounded(demo, 24);
    const [part] = files(demo, {});
    const written = timeline(read(demo, part, { ppq: 24 }));
    const [was, now] = [timeline(demo), written].map((list) =>
      list.map(({ tick, piece }) => ({ tick, piece })).sort((a, b) => a.tick - b.tick),
    );
    expect(now).toHaveLength(was.length);
    expect(hits).toBeGreaterThan(10);
    expect(hits).toBe(
      timeline(demo).filter(({ tick }) => Math.abs(Math.round(tick / 40) * 40 - tick) > 0.5).length,
    );
    // Half a tick of 24, at the slowest tempo of the song.
    expect(most).toBeLessThan((20 / 960) * (60_000 / 70));
  });
});

describe('the table of files', () => {
  test('says what each file will hold, whatever the song', () => {
    fc.assert(
      fc.property(anyWholeSong, fc.constantFrom(...HANDED), (song, handed) => {
        const files = plannedFiles(song, { ...USUAL_DELIVERY, handed });
        // A chart is as many files as it has pages.
        const pages = handed === 'chart' ? files.splice(1) : [];
        for (const planned of files) {
          for (const page of pages) planned.hits += page.hits;
          const strips = stripsOf(song);
          const audible = timeline(song).filter((hit) => {
            const { section } = song.places.find(({ id }) => id === hit.place)!;
            const { mix } = song.sections.find(({ id }) => id === section)!;
            const strip = strips.find(
              ({ track }) => track === trackOfHit(layoutOf(song), song.kit, hit),
            )!;
            const told = mix?.strips.find(({ track }) => track === strip.track)?.mute;
            return !(told ?? isSilentStrip(strip, strips));
          });
          const { hits } = heard(song);
          expect(planned.hits).toBe(handed === 'audio' ? audible.length : hits.length);
          const isSilent = planned.hits === 0 && (handed !== 'audio' || song.guides.length === 0);
          if (isSilent) expect(planned.warnings.join()).toMatch(/Nothing is struck/);
          if (handed === 'midi') {
            const [part] = partsOf(song, {}, USUAL_NAMES);
            const bytes = midiBytes(song, USUAL_MIDI, part);
            expect(planned.bytes).toBe(bytes.length);
            const { tracks } = parseMidi(bytes);
            expect(tracks.flat().filter(({ type }) => type === 'noteOn')).toHaveLength(hits.length);
          }
        }
      }),
    );
  });

  test('warns of strokes the map has no note for, and of what MIDI has no word for', () => {
    const warned = (song: Song) => plannedFiles(song, USUAL_DELIVERY)[0].warnings.join(' ');
    expect(warned({ ...demo, noteMap: TEN_KEYS })).toMatch(
      /^“ten keys” has no note for 301 hits, .*tambourine as snare, centre \(176\);/,
    );
    const [first, ...rest] = demo.patterns;
    const panned = {
      ...demo,
      patterns: [
        {
          ...first,
          strands: first.strands.map((strand) => ({
            ...strand,
            hits: strand.hits.map((hit) => ({ ...hit, pan: 0.5 })),
          })),
        },
        ...rest,
      ],
    };
    expect(warned(panned)).toMatch(/MIDI does not say \(panned: \d+\)/);
  });
});

describe('a song as text', () => {
  test('names each section once with its bars, and does not write again what comes again', () => {
    const { text } = tabOfSong(demo);
    const heads = [...text.matchAll(/^\[(.+)\] bars (\d+) to (\d+)/gm)];
    expect(heads).toHaveLength(demo.places.length);
    let next = 1;
    for (const [, , from, to] of heads) {
      expect(Number(from)).toBe(next);
      next = Number(to) + 1;
    }
    expect(text).toMatch(/^as /m);
    expect(text.split('legend')).toHaveLength(2);
  });

  test('as a table has a row a hit, and no name becomes a formula', () => {
    const evil = { ...demo, patterns: demo.patterns.map((one) => ({ ...one, name: '=1+1' })) };
    const rows = csvOfSong(evil).trim().split('\r\n');
    expect(rows).toHaveLength(1 + timeline(evil).length);
    expect(rows[0]).toBe(
      'bar,beat,tick,seconds,piece,struck,velocity,off ms,note,channel,section,pattern',
    );
    for (const row of rows.slice(1)) expect(row).not.toMatch(/(^|,)=/);
  });
});

test('a chart counts the hits that are played off their steps, and a swing is none of them', () => {
  const [first] = demo.patterns;
  const warned = (change: (pattern: Pattern) => Pattern) =>
    plannedFiles(
      { ...demo, patterns: demo.patterns.map((one) => (one === first ? change(one) : one)) },
      { ...USUAL_DELIVERY, handed: 'chart' },
    )[0].warnings.join(' ');
  const offIn = (text: string) => Number(/([\d,]+) hits? played early/.exec(text)?.[1] ?? 0);
  const before = offIn(warned((one) => one));
  expect(offIn(warned((one) => ({ ...one, swing: { unit: 240, percent: 66 } })))).toBe(before);
  const [strand] = first.strands.filter(({ hits }) => hits.length > 0);
  const [hit] = strand.hits;
  const pushed = warned((one) => setPush(one, new Set([hit.id]), 60));
  const played = timeline(demo).filter((t) => t.pattern === first.id && t.hit === hit.id).length;
  expect(offIn(pushed)).toBe(before + played);
});
