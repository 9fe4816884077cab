import fc from 'fast-check';
import { layoutOf, checkSong, roomOf, trackOfHit, type Song } from '../model';
import { compileDesk, compileScore, MOVE_SIZE, MOVES, TOUCH_SIZE } from '../engine';
import { mapStrands } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { demoSongs } from '../../demo';
import { timeline } from '../weave';
import {
  chooseLayout,
  decibelsOf,
  hearAll,
  heardBy,
  heardTracks,
  hitsOnTrack,
  hitsPerTrack,
  joinTracks,
  layoutsOf,
  levelOf,
  LOUDEST,
  moveTrack,
  OFF,
  partsOf,
  putOnTrack,
  READY_LAYOUTS,
  removeLayout,
  renameTrack,
  rowsByTrack,
  sendTrack,
  sectionStripOf,
  setSectionStrip,
  setStrip,
  soloedDry,
  stripOf,
  tracksOfRows,
  withoutEffects,
} from '.';

const [demo] = demoSongs();
const sound = (result: Song | string): Song => {
  if (typeof result === 'string') throw new Error(result);
  expect(checkSong(result)).toEqual([]);
  return result;
};
const total = (song: Song) => [...hitsPerTrack(song).values()].reduce((a, b) => a + b, 0);

test('every hit is on exactly one track of any layout, and no layout changes a hit', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.constantFrom(...READY_LAYOUTS), (song, id) => {
      const shown = sound(chooseLayout(song, id));
      expect(timeline(shown)).toBe(timeline(song));
      expect(total(shown)).toBe(timeline(song).length);
      const tracks = new Set(layoutOf(shown).tracks.map((track) => track.id));
      for (const track of hitsPerTrack(shown).keys()) expect(tracks).toContain(track);
    }),
  );
});

test('another layout and back again is the same song, with its mix', () => {
  const mixed = sound(setStrip(demo, 'snare', { level: 0.5, pan: -0.2, solo: true }));
  const back = sound(chooseLayout(sound(chooseLayout(mixed, 'one')), mixed.layout));
  expect({ ...back, layouts: mixed.layouts }).toEqual(mixed);
  expect(stripOf(sound(chooseLayout(mixed, 'one')), 'drums').level).toBe(1);
  expect(stripOf(back, 'snare')).toEqual(stripOf(mixed, 'snare'));
});

test('hats that are apart by note are joined by hand, and named after what they hold', () => {
  const byNote = sound(chooseLayout(demo, 'notes'));
  const [closed, open] = ['closed', 'open'].map((way) => `hihat ${way}`);
  const joined = sound(joinTracks(byNote, open, closed, 'mine'));
  expect(layoutOf(joined)).toMatchObject({ id: 'mine', name: 'by hand' });
  expect(layoutsOf(joined).find(({ id }) => id === 'notes')).toEqual(layoutOf(byNote));
  const track = layoutOf(joined).tracks.find(({ id }) => id === closed)!;
  expect(track.name).toBe('Hi-hat, closed and open');
  const both = (song: Song, ids: string[]) =>
    ids.reduce((sum, id) => sum + (hitsPerTrack(song).get(id) ?? 0), 0);
  expect(both(joined, [closed])).toBe(both(byNote, [closed, open]));
  expect(total(joined)).toBe(timeline(demo).length);
  const own = sound(renameTrack(joined, closed, 'hats', 'x'));
  expect(layoutOf(own).id).toBe('mine');
  expect(sound(removeLayout(own, 'mine')).layout).not.toBe('mine');
});

test('the hits of a pattern are shared out among the tracks: each is on one, none is left over', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.constantFrom(...READY_LAYOUTS), (song, id) => {
      const shown = sound(chooseLayout(song, id));
      for (const pattern of shown.patterns) {
        const perTrack = layoutOf(shown).tracks.map((track) =>
          hitsOnTrack(shown, pattern, track.id),
        );
        const all = pattern.strands.flatMap(({ hits }) => hits.map((hit) => hit.id));
        expect(perTrack.flatMap((ids) => [...ids]).sort()).toEqual([...all].sort());
      }
    }),
  );
});

test('rows follow the tracks, and those of one track can be alone', () => {
  const [pattern] = demo.patterns;
  expect(rowsByTrack(demo, pattern, {})).toEqual({});
  const first = sound(moveTrack(demo, 'kick', 0, 'mine'));
  expect(rowsByTrack(first, pattern, {}).order?.[0]).toBe('kick');
  const byHand = ['snare', 'kick', 'hihat'];
  expect(rowsByTrack(first, pattern, { order: byHand }).order).toEqual(byHand);
  const joined = sound(joinTracks(demo, 'kick', 'snare', 'mine'));
  const pieces = pattern.strands.map(({ piece }) => piece);
  const { hidden } = rowsByTrack(joined, pattern, {}, 'snare');
  expect(pieces.filter((piece) => !hidden?.includes(piece)).sort()).toEqual(['kick', 'snare']);
  const { order = [] } = rowsByTrack(joined, pattern, {});
  const both = tracksOfRows(joined, order).find(({ track }) => track.id === 'snare');
  expect([...(both?.pieces ?? [])].sort()).toEqual(['kick', 'snare']);
});

test('what is soloed dry goes to no room and past the bus; nothing else changes', () => {
  expect(soloedDry(demo)).toBe(demo);
  const alone = sound(setStrip(demo, 'snare', { solo: true }));
  const dry = soloedDry(alone);
  expect(checkSong(dry)).toEqual([]);
  expect(stripOf(dry, 'snare')).toMatchObject({ sends: [], dry: 1, solo: true });
  expect(stripOf(dry, 'kick')).toEqual(stripOf(alone, 'kick'));
  expect(timeline(dry)).toBe(timeline(alone));
});

const anyStep = fc.record({
  piece: fc.constantFrom('hihat', 'snare', 'kick', 'crash'),
  way: fc.constantFrom(undefined, 'closed', 'rim', 'side-stick'),
  track: fc.constantFrom('hihat', 'snare', 'kick', 'own', 'other'),
  does: fc.constantFrom('put', 'join', 'move'),
});

test('whatever is put, joined and moved, each part is where it was put last, and no hit is lost', () => {
  fc.assert(
    fc.property(fc.array(anyStep, { maxLength: 8 }), (steps) => {
      let song = demo;
      steps.forEach(({ piece, way, track, does }, i) => {
        const id = `layout-${i}`;
        const part = { piece, ...(way && { articulation: way }) };
        const next =
          does === 'put'
            ? putOnTrack(song, part, track, id)
            : does === 'join'
              ? joinTracks(song, piece, track, id)
              : moveTrack(song, piece, i, id);
        if (typeof next === 'string') return;
        song = sound(next);
        if (does !== 'put') return;
        const ways = song.kit.pieces.find((one) => one.id === piece)!.articulations;
        for (const { id: articulation } of ways) {
          if (way && articulation !== way) continue;
          expect(trackOfHit(layoutOf(song), song.kit, { piece, articulation })).toBe(track);
        }
      });
      expect(total(song)).toBe(timeline(demo).length);
      const parts = [...partsOf(layoutOf(song), song.kit).values()].flat();
      expect(new Set(parts.map((part) => JSON.stringify(part))).size).toBe(parts.length);
    }),
  );
});

test('a level in one section is its own until it is as everywhere again', () => {
  const [section] = demo.sections;
  const softer = sound(setSectionStrip(demo, section.id, { track: 'ride', level: 0.5 }));
  expect(sectionStripOf(softer, section.id, 'ride')?.level).toBe(0.5);
  expect(sectionStripOf(softer, demo.sections[1].id, 'ride')).toBeUndefined();
  const again = sound(setSectionStrip(softer, section.id, { track: 'ride' }));
  expect(again.sections[0]).toEqual(section);
});

test('one key lets all be heard, and changes nothing else', () => {
  const muted = sound(setStrip(demo, 'kick', { mute: true, level: 0.7 }));
  const soloed = sound(setStrip(muted, 'snare', { solo: true }));
  const heard = sound(hearAll(soloed));
  expect(stripOf(heard, 'kick')).toEqual({ ...stripOf(demo, 'kick'), level: 0.7 });
  expect(stripOf(heard, 'snare').solo).toBeUndefined();
  expect(hearAll(heard)).toBe(heard);
});

test('decibels and factors are the same level', () => {
  fc.assert(
    fc.property(fc.double({ min: OFF + 0.1, max: LOUDEST, noNaN: true }), (decibels) => {
      expect(decibelsOf(levelOf(decibels))).toBeCloseTo(decibels, 6);
    }),
  );
  expect(levelOf(OFF)).toBe(0);
  expect(decibelsOf(0)).toBe(OFF);
});

test('a track that was soloed and is joined to another leaves no solo behind: something is heard', () => {
  for (const layout of READY_LAYOUTS.filter((id) => id !== 'one')) {
    const shown = sound(chooseLayout(demo, layout));
    const [from, to] = layoutOf(shown).tracks.filter(({ id }) => hitsPerTrack(shown).get(id));
    const alone = sound(setStrip(shown, from.id, { solo: true }));
    const joined = sound(joinTracks(alone, from.id, to.id, 'mine'));
    const there = new Set(layoutOf(joined).tracks.map(({ id }) => id));
    const [mix] = joined.mixes.filter((one) => one.layout === joined.layout);
    expect(mix.strips.filter(({ track }) => !there.has(track))).toEqual([]);
    expect([...heardTracks(joined)].sort()).toEqual([...there].sort());
  }
});

test('a track that is muted and that one section lets be heard is heard there, and only there', () => {
  const [verse] = demo.sections.filter(({ kind }) => kind === 'verse');
  const muted = sound(setStrip(demo, 'kick', { mute: true }));
  expect(heardTracks(muted).has('kick')).toBe(false);
  const there = sound(setSectionStrip(muted, verse.id, { track: 'kick', mute: false }));
  expect(heardTracks(there).has('kick')).toBe(true);
  const heard = heardBy(there)!;
  const sectionOf = new Map(there.places.map(({ id, section }) => [id, section]));
  for (const hit of timeline(there)) {
    const isThere = sectionOf.get(hit.place) === verse.id;
    expect(heard(hit)).toBe(hit.piece !== 'kick' || isThere);
  }
  expect(heardBy(demo)).toBeUndefined();
});

test('without rooms and echoes nothing is sent there: by no track, section, piece or hit', () => {
  const [verse] = demo.sections;
  const sent = sound(
    setSectionStrip(sound(sendTrack(demo, 'snare', 'room', 0.5)), verse.id, {
      track: 'kick',
      sends: [{ bus: 'echo', level: 1 }],
    }),
  );
  const struck: Song = {
    ...sent,
    patterns: sent.patterns.map((pattern) =>
      mapStrands(pattern, ({ hits }) => hits.map((hit) => ({ ...hit, room: 0.7, echo: 0.2 }))),
    ),
  };
  const dry = withoutEffects(struck);
  expect(checkSong(dry)).toEqual([]);
  const { strips, buses } = compileDesk(dry);
  expect(strips.flatMap(({ sends }) => sends)).toEqual([]);
  expect(dry.kit.pieces.filter((piece) => roomOf(piece) > 0)).toEqual([]);
  expect(buses.filter(({ level }) => level > 0)).toEqual([]);
  const { moves, touches } = compileScore(dry);
  expect([...moves].filter((_, i) => i % MOVE_SIZE === 2 && moves[i] >= MOVES.send)).toEqual([]);
  expect([...touches].filter((_, i) => i % TOUCH_SIZE >= 4 && touches[i] > 0)).toEqual([]);
  expect(timeline(dry).map(({ tick }) => tick)).toEqual(timeline(struck).map(({ tick }) => tick));
});
