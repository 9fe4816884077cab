import wavDecoder from 'wav-decoder';
import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { checkSong, type Song } from '../model';
import { compileDesk, compileScore, notesIn, Rendering, renderMix, soundsFor } from '../engine';
import { sendTrack, setStrip, hitsPerTrack } from '../tracks';
import { exportMidi, importMidi } from '../midi';
import { bpmAt, laidPlaces, timeline } from '../weave';
import {
  audioParts,
  DEPTHS,
  frameBytes,
  midiFiles,
  USUAL_NAMES,
  USUAL_WISH,
  wavBytes,
  WavStream,
  type Depth,
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
const [{ song: beginning }] = audioParts(demo, { ...USUAL_WISH, place: place.id });
const sounds = soundsFor(notesIn(compileScore(beginning)), 48_000, demo.kit);

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
  const wish = { ...USUAL_WISH, place: place.id, stems: true, bus: false };
  const [mix, ...stems] = audioParts(soft, wish);
  expect(stems.length).toBeGreaterThan(2);
  const whole = rendered(mix.song, 3);
  const sum = new Float32Array(whole.length);
  for (const { song } of stems) rendered(song, 3).forEach((x, i) => (sum[i] += x));
  let most = 0;
  sum.forEach((x, i) => (most = Math.max(most, Math.abs(x - whole[i]))));
  expect(most).toBeLessThan(2 ** -21);
  expect(whole.some((x) => Math.abs(x) > 0.01)).toBe(true);
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
  const parts = audioParts(demo, { ...USUAL_WISH, stems: true });
  for (const { song } of parts) expect(checkSong(song)).toEqual([]);
  const [mix, ...stems] = parts;
  const all = [...hitsPerTrack(demo).values()].reduce((a, b) => a + b, 0);
  expect(mix.hits).toBe(all);
  expect(stems.reduce((sum, { hits }) => sum + hits, 0)).toBe(all);
  const muted = setStrip(demo, 'kick', { mute: true }) as Song;
  const tracks = (song: Song, mutes: boolean) =>
    audioParts(song, { ...USUAL_WISH, stems: true, mutes }).map(({ track }) => track);
  expect(tracks(muted, true)).not.toContain('kick');
  expect(tracks(muted, false)).toContain('kick');
});

describe('MIDI', () => {
  const read = (song: Song, options = {}) => importMidi(exportMidi(song, options), 'x').song!;

  test('of each section holds together every hit of the song, at the tempo it has there', () => {
    const files = midiFiles(demo, { each: 'sections', names: USUAL_NAMES });
    expect(files).toHaveLength(demo.places.length);
    expect(files[0].name).toBe('Saltmarsh Signal 01 intro');
    const hits = files.map(({ song }) => timeline(read(song)).length);
    expect(hits.reduce((a, b) => a + b, 0)).toBe(timeline(demo).length);
    laidPlaces(demo).forEach(({ start }, i) =>
      expect(bpmAt(files[i].song, 0)).toBeCloseTo(bpmAt(demo, start), 6),
    );
  });

  test('of each pattern has names of its own, by what the template says', () => {
    const twice = { ...demo, patterns: demo.patterns.map((one) => ({ ...one, name: 'Beat' })) };
    const named = (names: string) =>
      midiFiles(twice, { each: 'patterns', names }).map(({ name }) => name);
    expect(new Set(named('{part}')).size).toBe(demo.patterns.length);
    expect(named('{song}: {part} {nn} {foo}')[1]).toBe('Saltmarsh Signal: Beat 02 {foo}');
    expect(named('  ')[0]).toBe('01');
  });

  test('of one part is that part alone', () => {
    const [verse] = demo.patterns;
    const [file] = midiFiles(demo, { pattern: verse.id, names: USUAL_NAMES });
    expect(file).toEqual({
      name: `Saltmarsh Signal, ${verse.name}`,
      song: demo,
      pattern: verse.id,
    });
    const [whole] = midiFiles(demo, { place: 'gone', names: USUAL_NAMES });
    expect(whole).toEqual({ name: 'Saltmarsh Signal', song: demo });
  });
});
