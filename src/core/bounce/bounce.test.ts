import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { renderPart } from '../deliver';
import { compileScore, notesIn, renderMix, soundsFor } from '../engine';
import { checkSong, layoutOf, type SampleHash, type Song } from '../model';
import type { KitSound, Pcm } from '../sound';
import { chooseLayout, setSectionStrip, setStrip } from '../tracks';
import { laidPlaces, tempoOfSong, timeline } from '../weave';
import { oneLayer } from '../testing/engine';
import { anyWholeSong } from '../testing/songs';
import {
  bouncePart,
  bouncesIn,
  layBounce,
  reverseBounced,
  takeBounceBack,
  whyNotBounced,
  type Bounce,
} from '.';
import { turnedRound, type Stretch } from './stretches';

const RATE = 48_000;
const [demo] = demoSongs();
/** The first two places: what rings from one into the other is in neither by itself. */
const song: Song = { ...demo, places: demo.places.slice(0, 2), guides: [] };
const [intro, verse] = laidPlaces(song);
const hash: SampleHash = 'b'.repeat(64);
const own = soundsFor(notesIn(compileScore(song)), RATE, song.kit);

async function bounced(of: Song, place: string, track?: string, sounds = own) {
  const made = bouncePart(of, { place, ...(track && { track }) });
  if (typeof made === 'string') throw new Error(made);
  const [left, right]: [number[], number[]] = [[], []];
  const encoding = {
    add(l: Float32Array, r: Float32Array) {
      for (const x of l) left.push(x);
      for (const x of r) right.push(x);
    },
  };
  const form = { sampleRate: RATE, sounds };
  await renderPart(made.part, form, { encoding, beginning: encoding });
  const file: Pcm = { left: Float32Array.from(left), right: Float32Array.from(right) };
  const bounce: Bounce = {
    ...{ id: 'b1', place, hash, frames: left.length, lead: made.lead },
    ...(track && { track }),
  };
  const after = layBounce(of, bounce);
  if (typeof after === 'string') throw new Error(after);
  return { after, file };
}

function heard(of: Song, file?: Pcm, sounds = own) {
  const files = new Map(file && [[hash, file]]);
  const known = new Set(sounds.map(({ note }) => note));
  const more: KitSound[] = soundsFor(
    notesIn(compileScore(of)).filter((note) => !known.has(note)),
    RATE,
    of.kit,
    files,
  );
  const { end } = laidPlaces(of).at(-1)!;
  const to = tempoOfSong(of).secondsAt(end);
  return renderMix(of, { sounds: [...sounds, ...more], to }).left;
}

function apart(a: Float32Array, b: Float32Array): number {
  expect(a).toHaveLength(b.length);
  return a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);
}

const before = heard(song);

test('a place that became a sound sounds as it did, to the sample', async () => {
  for (const { place, end } of [intro, verse]) {
    const { after, file } = await bounced(song, place.id);
    expect(checkSong(after)).toEqual([]);
    const struck = timeline(after).filter((hit) => hit.place === place.id);
    expect(struck.map(({ piece }) => piece)).toEqual(['b1']);
    // After it the strokes of a sound take turns from another one on.
    const to = Math.round(tempoOfSong(song).secondsAt(end) * RATE);
    expect(apart(heard(after, file).slice(0, to), before.slice(0, to))).toBeLessThan(1e-5);
  }
});

test.each(['one', 'families', 'pieces'])(
  'a place that became a sound sounds as it did in the layout “%s”, whatever its strips are',
  async (layout) => {
    const shown = chooseLayout(song, layout) as Song;
    const mixed = layoutOf(shown).tracks.reduce<Song>(
      (now, { id }, n) => setStrip(now, id, { level: n % 2 ? 1.3 : 0.5, pan: 0.2 }) as Song,
      shown,
    );
    const was = heard(mixed);
    const { after, file } = await bounced(mixed, intro.place.id);
    expect(checkSong(after)).toEqual([]);
    const to = Math.round(tempoOfSong(song).secondsAt(intro.end) * RATE);
    expect(apart(heard(after, file).slice(0, to), was.slice(0, to))).toBeLessThan(1e-4);
    const back = takeBounceBack(after, intro.place.id, 'b1') as Song;
    expect(layoutOf(back)).toEqual(layoutOf(mixed));
    expect(back.mixes).toEqual(mixed.mixes);
  },
);

test('a track that became a sound leaves the others as they were', async () => {
  const { after, file } = await bounced(song, verse.place.id, 'hihat');
  const left = (of: Song) =>
    timeline(of).filter(({ piece, place }) => piece !== 'b1' && place === verse.place.id);
  expect(left(after)).toEqual(left(song).filter(({ piece }) => piece !== 'hihat'));
  expect(apart(heard(after, file), before)).toBeLessThan(1e-5);
});

test('what is taken back is the song that it was', async () => {
  const { after } = await bounced(song, verse.place.id, 'hihat');
  expect(bouncesIn(after, verse.place.id)).toHaveLength(1);
  const back = takeBounceBack(after, verse.place.id, 'b1') as Song;
  expect(timeline(back)).toEqual(timeline(song));
  expect(back.kit.pieces).toEqual(song.kit.pieces);
  expect(back.patterns).toEqual(song.patterns);
  expect(takeBounceBack(back, verse.place.id, 'b1')).toMatch(/not in this section/);
});

test('bars that are turned round sound backwards, and twice turned round as before', async () => {
  const { after, file } = await bounced(song, verse.place.id);
  const [place, pattern] = [verse.place.id, 'b1'];
  const turned = reverseBounced(after, { place, pattern, from: 1, to: 2 }) as Song;
  expect(checkSong(turned)).toEqual([]);
  expect(bouncesIn(turned, place)[0].piece.articulations).toHaveLength(3);
  const tempo = tempoOfSong(song);
  const at = (bar: number) => Math.round(tempo.secondsAt(verse.start + bar * 3840) * RATE);
  // The bus of all drums holds back by what came before: it is taken out of the comparison.
  const open = (of: Song) => {
    const plain = { ...of, mixes: of.mixes.map((mix) => ({ ...mix, drums: { ceiling: 0 } })) };
    return setStrip(plain, 'snare', { level: 1 }) as Song;
  };
  const [forwards, backwards] = [open(after), open(turned)].map((of) => heard(of, file));
  const bar = (of: Float32Array, n: number) => of.slice(at(n) + 72, at(n + 1) + 72);
  expect(apart(bar(backwards, 2), bar(forwards, 2))).toBeLessThan(0.02);
  expect(apart(bar(backwards, 1), bar(forwards, 1))).toBeGreaterThan(0.1);
  const again = reverseBounced(turned, { place, pattern, from: 1, to: 2 }) as Song;
  const strands = (of: Song) => of.patterns.find(({ id }) => id === 'b1')!.strands;
  expect(strands(again)).toEqual(strands(after));
  expect(reverseBounced(after, { place, pattern, from: 3, to: 3 })).toMatch(/Choose bars/);
});

test('what is part of a piece, or nothing, is refused in a sentence', () => {
  const notes = chooseLayout(song, 'notes') as Song;
  expect(bouncePart(notes, { place: verse.place.id, track: 'hihat closed' })).toMatch(/on another/);
  expect(bouncePart(song, { place: verse.place.id, track: 'cowbell' })).toMatch(
    /Nothing is struck/,
  );
  expect(bouncePart(song, { place: 'gone' })).toMatch(/Choose a section/);
});

const side = Float32Array.from({ length: 100 }, (_, i) => i);
const played = (stretches: readonly Stretch[]) =>
  stretches.flatMap(({ from, to, reverse }) => {
    const part = [...side.slice(from, to)];
    return reverse ? part.reverse() : part;
  });

test('turning round any stretches is what turning round their samples is, and undoes itself', () => {
  const cut = fc.tuple(fc.nat(100), fc.nat(100)).map((pair) => pair.sort((a, b) => a - b));
  fc.assert(
    fc.property(fc.array(cut, { maxLength: 6 }), (cuts) => {
      let stretches: readonly Stretch[] = [{ from: 0, to: 100 }];
      let samples = [...side];
      for (const [from, to] of cuts) {
        const again = turnedRound(turnedRound(stretches, from, to), from, to);
        expect(played(again)).toEqual(samples);
        stretches = turnedRound(stretches, from, to);
        samples = [
          ...samples.slice(0, from),
          ...samples.slice(from, to).reverse(),
          ...samples.slice(to),
        ];
        expect(played(stretches)).toEqual(samples);
      }
    }),
  );
});

/** Short bursts of noise in the place of sounds: strokes that overlap are heard as they are mixed. */
const bursts = (song: Song): KitSound[] =>
  notesIn(compileScore(song)).map((note) =>
    oneLayer(
      note,
      Float32Array.from(
        { length: 1500 },
        (_, i) => 0.1 * Math.sin(i * i * (note + 3)) * (1 - i / 1500),
      ),
    ),
  );

/** How far two renderings are apart in the worst 50 ms, in dB; what is softer than -60 dB is silence. */
function worst(a: Float32Array, b: Float32Array): number {
  expect(a).toHaveLength(b.length);
  const step = RATE / 20;
  let most = 0;
  for (let from = 0; from < a.length; from += step) {
    const level = (of: Float32Array) =>
      10 *
      Math.log10(1e-6 + of.subarray(from, from + step).reduce((sum, x) => sum + x * x, 0) / step);
    most = Math.max(most, Math.abs(level(a) - level(b)));
  }
  return most;
}

test('a track some of which goes dry beside the drum bus is not bounced: its room does not go there', () => {
  const past = setStrip(song, 'snare', { dry: 0.5 }) as Song;
  expect(whyNotBounced(past, { place: verse.place.id, track: 'snare' })).toMatch(
    /beside the drum bus/,
  );
  expect(whyNotBounced(past, { place: verse.place.id, track: 'kick' })).toBeUndefined();
  expect(whyNotBounced(past, { place: verse.place.id })).toMatch(/beside the drum bus/);
});

test('a muted track that a section lets in little by little becomes a sound that comes in so', async () => {
  const muted = setStrip(song, 'kick', { mute: true }) as Song;
  const coming = setSectionStrip(muted, verse.section.id, {
    track: 'kick',
    mute: false,
    ramp: 8,
  }) as Song;
  const { after, file } = await bounced(coming, verse.place.id, 'kick');
  expect(apart(heard(after, file), heard(coming))).toBeLessThan(1e-4);
});

test('what becomes a sound sounds as it did, whatever the song, its layout and its strips', async () => {
  await fc.assert(
    fc.asyncProperty(anyWholeSong, fc.nat(3), fc.nat(4), async (any, n, m) => {
      const song = { ...any, guides: [] };
      const laid = laidPlaces(song);
      const here = laid[n % Math.max(1, laid.length)];
      const { tracks } = layoutOf(song);
      const track = m === 0 ? undefined : tracks[m % tracks.length].id;
      const lasts = tempoOfSong(song).secondsAt(laid.at(-1)?.end ?? 0);
      fc.pre(here !== undefined && lasts < 8);
      fc.pre(whyNotBounced(song, { place: here.place.id, ...(track && { track }) }) === undefined);
      const sounds = bursts(song);
      const { after, file } = await bounced(song, here.place.id, track, sounds);
      expect(checkSong(after)).toEqual([]);
      expect(worst(heard(after, file, sounds), heard(song, undefined, sounds))).toBeLessThan(0.1);
    }),
  );
});
