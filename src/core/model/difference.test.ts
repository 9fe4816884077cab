import fc from 'fast-check';
import { applyCommand } from '../commands';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { differenceOf, withDifference, type Difference } from './difference';
import { demoSongs } from '../../demo';

/** As JSON has it, which does not tell 0 from -0. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

/** As it comes back from a journal. */
const stored = (difference: Difference) => plain(difference) as Difference;

test('what a command changed, written down and done again, gives the very same song', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.array(anyCommand, { maxLength: 8 }), (song, commands) => {
      const after = commands.reduce(applyCommand, song);
      const difference = differenceOf(song, after);
      if (!difference) return expect(plain(after)).toEqual(plain(song));
      expect(plain(withDifference(song, stored(difference)))).toEqual(plain(after));
      const back = differenceOf(after, song)!;
      expect(plain(withDifference(after, stored(back)))).toEqual(plain(song));
    }),
  );
});

test('one hit in a long song is written down in a few words', () => {
  const [song] = demoSongs();
  const { id } = song.patterns[0];
  const hit = { id: 'new', at: 120, push: 0, velocity: 90, articulation: 'struck' };
  const placed = applyCommand(song, {
    type: 'place hits',
    pattern: id,
    hits: [{ piece: 'cowbell', hit }],
  });
  const louder = applyCommand(placed, {
    type: 'set velocity',
    pattern: id,
    velocities: [{ id: 'new', velocity: 20 }],
  });
  expect(JSON.stringify(differenceOf(placed, louder)).length).toBeLessThan(200);
  expect(differenceOf(placed, placed)).toBeUndefined();
});

test('a list in another order is only that, also where ids look like numbers', () => {
  const [a, b, c] = ['2', '10', 'x'].map((id) => ({ id, n: 1 }));
  const difference = differenceOf([a, b, c], [c, b, a])!;
  expect(difference).toMatchObject({ entries: {} });
  expect(withDifference([a, b, c], stored(difference))).toEqual([c, b, a]);
});

test('lists of things without names, or with one name twice, are replaced', () => {
  for (const [before, after] of [
    [[1, 2], [2]],
    [[{ id: 'a' }, { id: 'a' }], [{ id: 'a' }]],
    [[null], [{ id: 'a' }]],
  ]) {
    expect(differenceOf(before, after)).toEqual({ is: after });
  }
});

test('whatever is written down, doing it again never throws', () => {
  const entry = fc.letrec((tie) => ({
    any: fc.oneof(
      fc.record({ is: fc.jsonValue() }),
      fc.record({ fields: fc.dictionary(fc.string(), tie('any'), { maxKeys: 3 }) }),
      fc.record({
        entries: fc.dictionary(fc.string(), tie('any'), { maxKeys: 3 }),
        order: fc.array(fc.string(), { maxLength: 3 }),
      }),
    ),
  })).any as fc.Arbitrary<Difference>;
  const [song] = demoSongs();
  fc.assert(
    fc.property(entry, (difference) => {
      withDifference(song, { fields: { patterns: difference, name: difference } });
      expect(({} as { polluted?: 1 }).polluted).toBeUndefined();
    }),
  );
});
