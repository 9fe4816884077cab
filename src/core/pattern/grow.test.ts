import fc from 'fast-check';
import { checkSong, emptySong } from '../model';
import { readTab } from '../tab';
import { anyWorkedPattern } from '../testing/commands';
import { barsOf } from './length';
import { canGrow, grow, suggestions, takeTurn, turnBar } from './grow';

const BEAT = readTab('HH |x-x-x-x-x-x-x-x-|\nSD |----o-------o---|\nBD |o-------o-------|', {
  id: 'p',
}).pattern!;

const ids = (pattern: typeof BEAT, from: number, to: number) =>
  pattern.strands.flatMap(({ piece, hits }) =>
    hits.filter((hit) => hit.at >= from && hit.at < to).map((hit) => `${piece} ${hit.at - from}`),
  );

test('one bar grows to two that are alike, and is offered a change in the last', () => {
  const two = grow(BEAT);
  expect(barsOf(two)).toBe(2);
  expect(ids(two, 3840, 7680)).toEqual(ids(two, 0, 3840));
  expect(suggestions(two, 1).length).toBeGreaterThanOrEqual(4);
});

test('a change stays in the last bar, or is the crash on the one that follows', () => {
  fc.assert(
    fc.property(fc.nat(500), (seed) => {
      const two = grow(BEAT);
      for (const { kind, pattern } of suggestions(two, seed)) {
        const before = kind === 'crash' ? ids(two, 240, 7680) : ids(two, 0, 3840);
        expect(kind === 'crash' ? ids(pattern, 240, 7680) : ids(pattern, 0, 3840)).toEqual(before);
        expect(checkSong({ ...emptySong('s', 's', 'x'), patterns: [pattern] })).toEqual([]);
      }
    }),
  );
});

test('no kick is lost to a change, and hands that play drums leave the hats', () => {
  fc.assert(
    fc.property(fc.nat(500), (seed) => {
      const two = grow(BEAT);
      const kicks = (p: typeof two) => ids(p, 0, 7680).filter((id) => id.startsWith('kick'));
      for (const { kind, pattern } of suggestions(two, seed)) {
        expect(kicks(pattern)).toEqual(expect.arrayContaining(kicks(two)));
        if (kind !== 'tom run' && kind !== 'ramped roll') continue;
        const struck = pattern.strands.flatMap(({ piece, hits }) =>
          hits.filter((hit) => hit.id.startsWith('turn')).map((hit) => [piece, hit.at] as const),
        );
        const hats = pattern.strands.find((s) => s.piece === 'hihat')!.hits.map((hit) => hit.at);
        for (const [, at] of struck) expect(hats).not.toContain(at);
      }
    }),
  );
});

test('what the turn before had is not offered again, and the bar between is plain', () => {
  fc.assert(
    fc.property(fc.nat(200), fc.nat(4), (seed, pick) => {
      const two = grow(BEAT);
      const offered = suggestions(two, seed);
      const taken = offered[pick % offered.length];
      const four = grow(takeTurn(two, taken.kind, seed));
      expect(turnBar(four)).toBe(3);
      expect(suggestions(four, seed + 1).map((other) => other.kind)).not.toContain(taken.kind);
      if (taken.kind !== 'crash') expect(ids(four, 3 * 3840, 4 * 3840)).toEqual(ids(two, 0, 3840));
    }),
  );
});

test('growing any pattern doubles it or, where there is no room, leaves it', () => {
  fc.assert(
    fc.property(anyWorkedPattern, fc.nat(50), (pattern, seed) => {
      const grown = grow(pattern);
      expect(grown.length).toBe(canGrow(pattern) ? pattern.length * 2 : pattern.length);
      for (const { pattern: turned } of suggestions(grown, seed)) {
        expect(checkSong({ ...emptySong('s', 's', 'x'), patterns: [turned] })).toEqual([]);
      }
    }),
  );
});
