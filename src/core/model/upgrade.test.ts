import { readFileSync } from 'node:fs';
import { compileScore } from '../engine';
import { TempoMap } from '../time';
import { checkSong } from './check';
import { isNewerForm, upgradeSong } from './upgrade';
import type { Song } from './song';

const stored = (name: string): unknown =>
  JSON.parse(readFileSync(`src/storage/fixtures/${name}.json`, 'utf8'));

describe.each([1, 2, 3])('a song of form %i', (form) => {
  test('becomes a sound song of the present form', () => {
    const { song } = upgradeSong(stored(`song-${form}`));
    expect(checkSong(song as Song)).toEqual([]);
    expect((song as Song).format).toBe(4);
  });
});

describe('a song of form 3', () => {
  const { song, view } = upgradeSong(stored('song-3')) as { song: Song; view: object };

  test('sounds as it did, stroke by stroke', () => {
    const { seconds, notes, velocities } = (() => {
      const score = compileScore(song);
      const tempo = new TempoMap(score.tempo);
      return { ...score, seconds: Array.from(score.ticks, (tick) => tempo.secondsAt(tick)) };
    })();
    const strokes = seconds.map((at, i) => [Math.round(at * 1e4) / 1e4, notes[i], velocities[i]]);
    const before = stored('heard-3') as number[][];
    const inOrder = (list: number[][]) =>
      [...list].sort((a, b) => a[0] - b[0] || a[1] - b[1] || a[2] - b[2]);
    expect(inOrder(strokes)).toEqual(inOrder(before));
  });

  test('keeps what was noted, turned, felt and put aside, and how its rows were shown', () => {
    const [first] = song.patterns;
    expect([first.notes, first.stars, first.tags]).toEqual(['a note', 4, ['wet']]);
    expect(first.turns).toEqual([{ bar: 0, kind: 'crash' }]);
    expect('view' in first).toBe(false);
    expect(view).toEqual({
      [first.id]: { order: ['kick', 'snare'], hidden: ['crash'], open: ['snare'] },
    });
    expect(song.feels.map(({ name }) => name)).toEqual(['a']);
    expect(song.offcuts.map(({ why }) => why)).toEqual(['passed', 'removed']);
    const sources = song.patterns.flatMap(({ strands }) =>
      strands.flatMap(({ hits }) => hits.flatMap(({ source }) => source ?? [])),
    );
    expect(sources).toEqual([3]);
  });

  test('has its tempos in the places they fell into', () => {
    expect(song.bpm).toBe(92);
    expect(song.sections.find(({ id }) => id === 'chorus')?.tempos).toEqual([
      { at: 0, bpm: 100 },
      { at: 11_520, bpm: 88 },
    ]);
    // Later places went on at the last tempo there was.
    expect(song.places.at(-1)?.tempos ?? song.sections[0].tempos).toEqual([{ at: 0, bpm: 88 }]);
  });
});

test('what is no older form comes back as it is, and a newer one is known', () => {
  for (const value of [undefined, null, 7, {}, { format: 3 }, { format: 2, patterns: 7 }]) {
    expect(() => upgradeSong(value)).not.toThrow();
  }
  const present = { format: 4 };
  expect(upgradeSong(present).song).toBe(present);
  expect([isNewerForm({ format: 5 }), isNewerForm(present)]).toEqual([true, false]);
});
