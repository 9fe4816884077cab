import fc from 'fast-check';
import {
  checkSong,
  emptyPattern,
  sectionOf,
  songWith,
  USUAL_DRUMMER,
  type Drummer,
  type Hit,
  type Song,
} from '../model';
import { mapStrands, placeHits } from '../pattern';
import { timeline, type TimedHit } from '../weave';
import { impossibles, leftOutBy, mend, strokeReader } from '.';

/** A song of one bar that plays these strokes: a piece on a sixteenth. */
function songOf(
  strokes: readonly (readonly [piece: string, step: number])[],
  bpm = 120,
  drummer?: Drummer,
): Song {
  const pattern = placeHits(
    emptyPattern({ id: 'p', name: 'p' }),
    strokes.map(([piece, step], i) => ({
      piece,
      hit: { id: `h${i}`, at: step * 240, push: 0, velocity: 90, articulation: 'any' },
    })),
  );
  return {
    ...songWith({ id: 's', name: 's', bpm }, [pattern]),
    ...(drummer && { drummer }),
    sections: [sectionOf(pattern, { id: 'a', name: 'a', kind: 'verse' })],
    places: [{ id: 'one', section: 'a', overlay: [] }],
  };
}

const anyBar = fc.array(
  fc.tuple(
    fc.constantFrom('ride', 'snare', 'crash', 'hihat', 'tom-high', 'tom-high-floor', 'kick'),
    fc.nat(15),
  ),
  { maxLength: 12 },
);
const anyBpm = fc.constantFrom(90, 140, 200);

test('ride, snare and crash at once ask for three hands; two of them do not', () => {
  const three = impossibles(
    songOf([
      ['ride', 8],
      ['snare', 8],
      ['crash', 8],
      ['kick', 8],
    ]),
  );
  expect(three).toHaveLength(1);
  expect(three[0]).toMatchObject({ asks: 'hands' });
  expect(three[0].says).toBe('crash, ride and snare on 1.3: three hands');
  expect(
    impossibles(
      songOf([
        ['ride', 8],
        ['snare', 8],
        ['kick', 8],
      ]),
    ),
  ).toEqual([]);
});

test('a roll is shared between the hands; one hand alone is too slow for it', () => {
  const roll = Array.from({ length: 16 }, (_, i) => ['snare', i] as const);
  expect(impossibles(songOf(roll, 200))).toEqual([]);
  const one: Drummer = { ...USUAL_DRUMMER, limbs: { snare: 'left hand' } };
  const wrong = impossibles(songOf(roll, 200, one));
  expect(wrong.length).toBeGreaterThan(0);
  expect(wrong[0].asks).toBe('speed');
});

test('the grace strokes of a drag are one motion, those of a burst are not', () => {
  const flam = { strokes: 2, lead: 60, softness: 0.4 } as const;
  const burst = { strokes: 4, room: 240, slope: 0 };
  const strikes = (figure: Partial<Hit>) => {
    const song = songOf([['snare', 4]]);
    const [pattern] = song.patterns;
    const strands = mapStrands(pattern, ({ hits }) =>
      hits.map((hit) => ({ ...hit, ...figure })),
    ).strands;
    return impossibles({ ...song, patterns: [{ ...pattern, strands }] });
  };
  expect(strikes({ flam })).toEqual([]);
  expect(strikes({ burst })).not.toEqual([]);
});

test('one foot plays no faster than it can, two do', () => {
  const feet = Array.from({ length: 16 }, (_, i) => ['kick', i] as const);
  expect(impossibles(songOf(feet, 200)).length).toBeGreaterThan(0);
  expect(impossibles(songOf(feet, 200, { ...USUAL_DRUMMER, doublePedal: true }))).toEqual([]);
});

test('no arm comes from the hats to the floor tom in no time while the other is busy', () => {
  const both: [string, number][] = [
    ['hihat', 0],
    ['crash', 0],
    ['tom-high-floor', 1],
    ['tom-low-floor', 1],
  ];
  expect(impossibles(songOf(both, 90))).toEqual([]);
  const wrong = impossibles(songOf(both, 190));
  expect(wrong.length).toBeGreaterThan(0);
  for (const { asks } of wrong) expect(asks).toBe('reach');
});

test('a left-handed drummer can play exactly what a right-handed one can', () => {
  fc.assert(
    fc.property(anyBar, anyBpm, (bar, bpm) => {
      const count = (drummer: Drummer) =>
        impossibles(songOf(bar, bpm, drummer)).flatMap(({ leave }) => leave).length;
      expect(count({ ...USUAL_DRUMMER, lead: 'left' })).toBe(count(USUAL_DRUMMER));
    }),
  );
});

/** Whether some way to share the strokes plays all of them. */
function canPlay(song: Song, hits: readonly TimedHit[]): boolean {
  return leftOutBy(USUAL_DRUMMER, strokeReader(song)(hits)).length === 0;
}

test('the mended bar is playable, and no bar that is differs in fewer hits', () => {
  fc.assert(
    fc.property(anyBar, anyBpm, (bar, bpm) => {
      const song = songOf(bar, bpm);
      const wrong = impossibles(song);
      const mended = mend(song, wrong, 'place') as Song;
      expect(checkSong(mended)).toEqual([]);
      expect(impossibles(mended)).toEqual([]);
      const gone = timeline(song).length - timeline(mended).length;
      expect(gone).toBe(wrong.flatMap(({ leave }) => leave).length);
      if (gone === 0 || gone > 2) return;
      // Leaving out one hit less never does.
      const all = timeline(song);
      const fewer = gone === 1 ? [all] : all.map((left) => all.filter((stroke) => stroke !== left));
      for (const strokes of fewer) expect(canPlay(song, strokes)).toBe(false);
    }),
  );
});

test('hits that are mended at this place stay in the section', () => {
  const song = songOf([
    ['ride', 8],
    ['snare', 8],
    ['crash', 8],
  ]);
  const mended = mend(song, impossibles(song), 'place') as Song;
  expect(mended.patterns[0]).toBe(song.patterns[0]);
  expect(
    timeline(mended)
      .map(({ piece }) => piece)
      .sort(),
  ).toHaveLength(2);
});

test('what is mended keeps the beat: six thirty-seconds of one foot become what one foot plays', () => {
  const run = Array.from({ length: 6 }, (_, i) => ['kick', 4 + i / 2] as [string, number]);
  const song = songOf([['kick', 0], ...run], 120);
  const mended = mend(song, impossibles(song), 'place') as Song;
  const left = timeline(mended).map(({ home }) => home / 240);
  expect(left).toEqual([0, 4, 5, 6]);
});
