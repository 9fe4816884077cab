import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { anyWholeSong } from '../testing/songs';
import { timeline } from '../weave';
import { checkSong } from './check';
import { DEFAULT_KIT } from './kit';
import { soundView } from './rowView';
import { salvage } from './salvage';
import type { Song } from './song';

const [demo] = demoSongs();

/** A way into a value: the parts of parts that lead to one of its values. */
const anyPath = fc.array(fc.nat(60), { minLength: 1, maxLength: 7 });

/** Puts something else in the place of one value deep in another. */
function spoilt(song: Song, path: readonly number[], by: unknown): unknown {
  const copy = structuredClone(song) as unknown;
  let at = copy as Record<string, unknown>;
  for (const [i, step] of path.entries()) {
    const keys = Object.keys(at);
    if (keys.length === 0) return copy;
    const key = keys[step % keys.length];
    const next = at[key];
    const last = i === path.length - 1 || typeof next !== 'object' || next === null;
    if (last) {
      at[key] = by;
      return copy;
    }
    at = next as Record<string, unknown>;
  }
  return copy;
}

const anyDamage = fc.oneof(
  fc.constantFrom<unknown>(null, undefined, NaN, -1, 1e9, 1e12, 1e-6, '', 'gone', [], {}, [null]),
  fc.anything({ maxDepth: 1 }),
);

describe('a song that is damaged', () => {
  test.each([null, 7, 'peak', []])('has the usual kit where a filter of it is %j', (filter) => {
    const pieces = demo.kit.pieces.map((piece) => ({ ...piece, filters: [filter] }));
    const { song, problems } = salvage({ ...demo, kit: { ...demo.kit, pieces } });
    expect(song?.kit).toEqual(DEFAULT_KIT);
    expect(problems.length).toBeGreaterThan(0);
  });

  test('is opened with what is sound of it, which is a sound song', () => {
    fc.assert(
      fc.property(
        fc.oneof(anyWholeSong, fc.constant(demo)),
        anyPath,
        anyDamage,
        (song, path, by) => {
          const { song: kept, problems } = salvage(spoilt(song, path, by));
          expect(kept).toBeDefined();
          expect(checkSong(kept!)).toEqual([]);
          expect(timeline(kept!).every(({ tick }) => Number.isFinite(tick))).toBe(true);
          for (const { what } of problems) expect(what).toMatch(/\.$/);
        },
      ),
    );
  });

  const [pattern] = demo.patterns;
  const [section] = demo.sections;
  const [place] = demo.places;
  test.each<[string, Partial<Song>]>([
    ['a song', { locked: 'yes', origin: 3, draft: [], drummer: 'her' } as never],
    [
      'a pattern',
      { patterns: [{ ...pattern, swing: 4, stars: 9, drafted: { as: 'poem' } }] as never },
    ],
    [
      'a section',
      { sections: [{ ...section, locked: 1, wishes: { loose: 7, seed: 3 } }] as never },
    ],
    ['a place', { places: [{ ...place, locked: 0, energy: [{ at: 4, level: 2 }] }] as never }],
  ])('loses what is said of %s and cannot be meant', (_, parts) => {
    const { song, problems } = salvage({
      ...demo,
      patterns: [...(parts.patterns ?? []), ...demo.patterns.slice(parts.patterns ? 1 : 0)],
      sections: [...(parts.sections ?? []), ...demo.sections.slice(parts.sections ? 1 : 0)],
      places: [...(parts.places ?? []), ...demo.places.slice(parts.places ? 1 : 0)],
      ...(!parts.patterns && !parts.sections && !parts.places && parts),
    });
    expect(problems.length).toBeGreaterThan(0);
    expect(checkSong(song!)).toEqual([]);
    expect(timeline(song!)).toHaveLength(timeline(demo).length);
    if (parts.sections) expect(song!.sections[0].wishes).toEqual({ seed: 3 });
  });

  test('anything at all is looked at without a throw', () => {
    fc.assert(
      fc.property(fc.anything({ maxDepth: 4 }), (value) => {
        const { song, problems } = salvage(value);
        expect(problems.length).toBeGreaterThan(0);
        if (song) expect(checkSong(song)).toEqual([]);
      }),
    );
  });

  test('loses one hit where one hit is damaged, and says which', () => {
    const copy = structuredClone(demo);
    const { id, strands } = copy.patterns[2];
    const strand = strands.find(({ hits }) => hits.length > 3)!;
    const [gone] = strand.hits;
    gone.velocity = 900;
    const { song, problems } = salvage(copy);
    expect(problems).toEqual([
      {
        where: `patterns/${id}/${strand.piece}/${gone.id}`,
        what: 'A velocity must be a whole number from 1 to 127.',
      },
    ]);
    const left = song!.patterns[2].strands.find(({ piece }) => piece === strand.piece)!;
    expect(left.hits).toEqual(strand.hits.slice(1));
    // Everything else is the very same value.
    expect(song!.patterns[0]).toBe(copy.patterns[0]);
    expect(song!.sections).toBe(copy.sections);
  });

  test('that is too long to be heard is cut at its end', () => {
    const copy = structuredClone(demo);
    copy.places = Array.from({ length: 9000 }, (_, i) => ({ ...copy.places[1], id: `p${i}` }));
    const { song, problems } = salvage(copy);
    expect(song!.places.length).toBeLessThan(9000);
    expect(problems.map(({ what }) => what).join()).toContain('longer than can be heard');
  });
});

test('a song in which all is well comes back as the very same value', () => {
  fc.assert(fc.property(anyWholeSong, (song) => expect(salvage(song).song).toBe(song)));
});

test('of how patterns are shown, what is no list of pieces is left out', () => {
  const view = { beat: { hidden: ['crash'], order: ['kick', 'snare'] } };
  expect(soundView(structuredClone(view))).toEqual(view);
  fc.assert(
    fc.property(fc.jsonValue(), (value) => {
      const shown = soundView({ beat: value, fill: { hidden: value, folded: [value] } });
      for (const rows of Object.values(shown)) {
        for (const list of Object.values(rows)) {
          expect((list as unknown[]).every((piece) => typeof piece === 'string')).toBe(true);
        }
      }
    }),
  );
});
