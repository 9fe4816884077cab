import fc from 'fast-check';
import { applyCommand } from '../commands';
import { ANCHORS, checkSong, isBounce, layoutOf, salvage, SPAN_ROLES, type Song } from '../model';
import { compileDesk, compileScore, Desk } from '../engine';
import { RATE } from '../testing/engine';
import { anyWholeSong } from '../testing/songs';
import { onlyHits } from '../pattern';
import {
  chooseLayout,
  heardTracks,
  joinTracks,
  layoutsOf,
  ownTracks,
  READY_LAYOUTS,
  stripsOf,
} from '../tracks';
import {
  laidPlaces,
  layTogetherOnShelf,
  mergeNext,
  onItsOwn,
  replacePattern,
  SCOPES,
  splitPlace,
  tempoOfSong,
  timeline,
} from '../weave';
import { heard, heardKeys, mixedAt } from '.';

/** A whole song and one of its places. */
const anyPlaced = fc.tuple(anyWholeSong, fc.nat(20)).map(([song, n]) => {
  const laid = laidPlaces(song);
  return { song, laid: laid[n % Math.max(1, laid.length)] };
});

const told = (after: Song | string, before: Song) => (typeof after === 'string' ? before : after);

const overlaid = ({ places }: Song) => places.flatMap(({ overlay }) => overlay);

/** Parts of a song that the laws are to meet. */
const HELD: Readonly<Record<string, (song: Song) => boolean>> = {
  'a mute': (song) => stripsOf(song).some(({ mute }) => mute),
  'a solo': (song) => stripsOf(song).some(({ solo }) => solo),
  'a send': (song) => stripsOf(song).some(({ sends }) => sends.length > 0),
  dynamics: (song) => stripsOf(song).some(({ dynamics }) => dynamics),
  'a ramp': ({ sections }) => sections.some(({ mix }) => mix?.strips.some(({ ramp }) => ramp)),
  'a mute of a section': ({ sections }) =>
    sections.some(({ mix }) => mix?.strips.some(({ mute }) => mute)),
  'a layout of its own': (song) => !READY_LAYOUTS.some((id) => id === song.layout),
  energy: ({ places }) => places.some(({ energy }) => energy),
  'drafted marks': ({ places }) => places.some(({ drafted }) => drafted),
  wishes: ({ sections }) => sections.some(({ wishes }) => wishes),
  'a touch': (song) => timeline(song).some(({ touch }) => touch),
  'a choke group': ({ kit }) =>
    kit.pieces.some(({ articulations }) => articulations.some(({ choke }) => choke === 3)),
  'a glide': ({ sections }) => sections.some(({ tempos }) => tempos.some(({ glide }) => glide)),
  'meters inside a section': ({ sections }) => sections.some(({ meters }) => meters.length > 1),
  'a layer': ({ kit }) => kit.pieces.some(({ design }) => design?.layers),
  'a bounce': ({ kit }) => kit.pieces.some(isBounce),
  'a note map': ({ noteMap }) => Object.keys(noteMap.notes).length > 0,
  guides: ({ guides }) => guides.length > 0,
  'a lock': ({ places, sections, patterns }) =>
    [...places, ...sections, ...patterns].some(({ locked }) => locked),
  'a linked section': ({ places, sections }) => places.length > sections.length,
  'a place that is meant': ({ places }) => places.some(({ meant }) => meant),
  ...Object.fromEntries(
    SPAN_ROLES.map((role) => [
      `a ${role} laid over`,
      (song) => overlaid(song).some((one) => one.role === role),
    ]),
  ),
  ...Object.fromEntries(
    ANCHORS.map((anchor) => [
      `a span over the ${anchor}`,
      (song) => overlaid(song).some((one) => one.anchor === anchor),
    ]),
  ),
};

test('songs that hold everything are sound, and hold each part often enough to meet the others', () => {
  const songs = fc.sample(anyWholeSong, { numRuns: 100, seed: 20260 });
  for (const song of songs) expect(checkSong(song)).toEqual([]);
  const counts = Object.entries(HELD).map(([part, is]) => [part, songs.filter(is).length] as const);
  expect(counts.filter(([, count]) => count < 8)).toEqual([]);
});

describe('nothing that is heard is changed', () => {
  const keeps = (change: (song: Song, placed: { place: string; bar: number }) => Song | string) =>
    fc.assert(
      fc.property(anyPlaced, fc.nat(8), ({ song, laid }, bar) => {
        if (!laid) return;
        const after = told(change(song, { place: laid.place.id, bar }), song);
        expect(checkSong(after)).toEqual([]);
        expect(heardKeys(after)).toEqual(heardKeys(song));
      }),
    );

  test('by unlinking a place', () => keeps((song, { place }) => onItsOwn(song, place, 'unlinked')));

  test('by merging two sections, or it is refused', () =>
    keeps((song, { place }) => mergeNext(song, place)));

  test('by giving each track a pattern of its own', () =>
    keeps((song, { bar }) => ownTracks(song, song.patterns[bar % song.patterns.length].id)));

  test('by saving and opening', () =>
    keeps((song) => salvage(JSON.parse(JSON.stringify(song))).song!));

  test('by another step, of a pattern or of one of its rows', () =>
    keeps((song, { bar }) => {
      const { id: pattern, strands } = song.patterns[bar % song.patterns.length];
      const step = [80, 120, 160, 240, 320, 480, 960, 137][bar % 8];
      const all = applyCommand(song, { type: 'set step', pattern, step });
      const piece = strands[0]?.piece;
      return piece ? applyCommand(all, { type: 'set strand step', pattern, piece, step }) : all;
    }));

  test('by splitting a place', () => keeps((song, { place, bar }) => splitPlace(song, place, bar)));

  test('by playing a copy of a pattern instead, as far as one likes and of whichever pieces', () =>
    fc.assert(
      fc.property(
        anyPlaced,
        fc.constantFrom(...SCOPES),
        fc.nat(20),
        fc.nat(20),
        ({ song, laid }, scope, n, m) => {
          if (!laid) return;
          const { pieces } = song.kit;
          const pattern = song.patterns[n % song.patterns.length];
          const with_ = { ...song, patterns: [...song.patterns, { ...pattern, id: 'copy' }] };
          const replacing = { pattern: pattern.id, by: 'copy', scope, places: [laid.place.id] };
          for (const some of [{}, { pieces: [pieces[m % pieces.length].id] }]) {
            const after = replacePattern(with_, { ...replacing, ...some });
            expect(checkSong(after)).toEqual([]);
            expect(heardKeys(after)).toEqual(heardKeys(song));
          }
        },
      ),
    ));

  test('by laying together again what was taken apart, hit by hit', () =>
    fc.assert(
      fc.property(anyWholeSong, fc.nat(20), fc.array(fc.boolean()), (song, n, sides) => {
        const pattern = song.patterns[n % song.patterns.length];
        const ids = pattern.strands.flatMap(({ hits }) => hits.map(({ id }) => id));
        const side = new Set(ids.filter((_, i) => sides[i % sides.length]));
        const [one, other] = [side, new Set(ids.filter((id) => !side.has(id)))].map((of, i) => ({
          ...onlyHits(pattern, of),
          id: `part-${i}`,
        }));
        const apart = { ...song, patterns: [...song.patterns, one, other] };
        const laid = layTogetherOnShelf(apart, [one.id, other.id], { newId: 'laid', name: 'laid' });
        const everywhere = { scope: 'everywhere', places: [] } as const;
        const after = replacePattern(laid, { pattern: pattern.id, by: 'laid', ...everywhere });
        expect(checkSong(after)).toEqual([]);
        expect(heardKeys(after)).toEqual(heardKeys(song));
      }),
    ));

  test('by showing a song that nothing is mixed in on other tracks', () =>
    fc.assert(
      fc.property(anyWholeSong, fc.nat(20), (mixed, n) => {
        const sections = mixed.sections.map(({ mix: _, ...section }) => section);
        const song = { ...mixed, sections, mixes: [] };
        const layouts = layoutsOf(song);
        const after = told(chooseLayout(song, layouts[n % layouts.length].id), song);
        expect(checkSong(after)).toEqual([]);
        expect(heardKeys(after)).toEqual(heardKeys(song));
      }),
    ));

  test('by showing a song on other tracks and on its own again', () =>
    fc.assert(
      fc.property(anyWholeSong, fc.nat(20), (song, n) => {
        const layouts = layoutsOf(song);
        const other = told(chooseLayout(song, layouts[n % layouts.length].id), song);
        expect(checkSong(other)).toEqual([]);
        const strokes = (of: Song) => heard(of).hits.map(({ track: _, ...hit }) => hit);
        expect(strokes(other)).toEqual(strokes(song));
        expect(heardKeys(told(chooseLayout(other, song.layout), other))).toEqual(heardKeys(song));
      }),
    ));

  test('by splitting a place and merging its parts again', () =>
    keeps((song, { place, bar }) => {
      const split = splitPlace(song, place, bar);
      return split === song ? song : mergeNext(split, place);
    }));
});

test('the desk has each track at each moment where its section has it, wherever playing begins', () => {
  fc.assert(
    fc.property(
      anyWholeSong,
      fc.array(fc.double({ min: 0, max: 1, noNaN: true })),
      (song, shares) => {
        const { motions, end } = heard(song);
        const score = compileScore(song);
        const tempo = tempoOfSong(song);
        const desk = new Desk(RATE);
        desk.take(compileDesk(song));
        for (const share of shares) {
          const at = share * end;
          desk.locate(score.moves, tempo, tempo.tickAt(at), true);
          const mixed = layoutOf(song).tracks.map(({ id }) => mixedAt(motions.get(id)!, at));
          const told = desk['strips'].map((strip) => [
            strip['toLeft'],
            strip['toRight'],
            ...strip.sends.map(({ now }) => now),
          ]);
          const far = mixed.flatMap(({ left, right, sends }, i) =>
            [left, right, ...sends].map((value, n) => Math.abs(value - told[i][n])),
          );
          // A sample of a ramp is nothing.
          expect(Math.max(0, ...far)).toBeLessThan(1e-3);
        }
      },
    ),
  );
});

test('tracks that are joined lose no hit, and what was silent only for a solo that went is heard', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.nat(9), fc.nat(9), (song, one, other) => {
      const { tracks } = layoutOf(song);
      const [from, to] = [tracks[one % tracks.length].id, tracks[other % tracks.length].id];
      const joined = told(joinTracks(song, from, to, 'joined'), song);
      expect(checkSong(joined)).toEqual([]);
      const times = (of: Song) => heard(of).hits.map(({ at, velocity }) => `${at} ${velocity}`);
      expect(times(joined)).toEqual(times(song));
      const strips = stripsOf(joined);
      const soloed = strips.some(({ solo }) => solo);
      for (const { track, mute, solo } of strips) {
        if (!mute && (solo || !soloed)) expect(heardTracks(joined)).toContain(track);
      }
    }),
  );
});
