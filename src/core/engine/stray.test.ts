import fc from 'fast-check';
import { alternateOf, edgeStray, levelStray } from './stray';

test('each round of strokes has all alternates, and none comes twice in a row', () => {
  fc.assert(
    fc.property(fc.integer({ min: 2, max: 9 }), fc.nat(60), (count, round) => {
      const turns = Array.from({ length: 2 * count }, (_, i) =>
        alternateOf(round * count + i, count),
      );
      expect(new Set(turns.slice(0, count)).size).toBe(count);
      turns.slice(1).forEach((alternate, i) => expect(alternate).not.toBe(turns[i]));
    }),
  );
});

test('no two strokes of a roll are the same, and none strays far', () => {
  fc.assert(
    fc.property(fc.nat(255), fc.nat(5000), (note, from) => {
      const roll = Array.from({ length: 32 }, (_, i) => ({
        alternate: alternateOf(from + i, 4),
        level: levelStray(note, from + i),
        edge: edgeStray(note, from + i),
      }));
      expect(new Set(roll.map((stroke) => JSON.stringify(stroke))).size).toBe(32);
      for (const { level, edge } of roll) {
        expect(Math.abs(20 * Math.log10(level))).toBeLessThanOrEqual(0.5);
        expect(Math.abs(edge - 1)).toBeLessThanOrEqual(0.15);
      }
    }),
  );
});
