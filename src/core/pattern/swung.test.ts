import fc from 'fast-check';
import { emptyPattern, type Pattern } from '../model';
import { anyPattern } from '../testing/arbitraries';
import { songOfPattern, timeline } from '../weave';
import { emptySong } from '../model';
import { grow } from './grow';
import { applyFeel, takeFeel } from './feel';
import { placeHits } from './hits';
import { joinPatterns, splitPattern } from './join';
import { allIds } from './strands';
import { setSwing } from './swing';
import { takeStrands } from './take';

const anySwing = fc.record({
  percent: fc.constantFrom(50, 55, 58, 62, 66, 75),
  unit: fc.constantFrom(240, 480),
});

const swung = (pattern: fc.Arbitrary<Pattern>) =>
  fc.tuple(pattern, anySwing).map(([plain, swing]) => setSwing(plain, swing));

/** When a pattern sounds, over some passes, to a hundredth of a tick. */
const heard = (pattern: Pattern, passes = 1) =>
  timeline(songOfPattern(emptySong('s', 's', 'x'), pattern, passes))
    .map(({ tick, piece }) => `${Math.round(tick * 100)} ${piece}`)
    .sort();

/** Patterns whose early hits are not cut off at the start of the song. */
const onTheGrid = (pattern: Pattern): Pattern => ({
  ...pattern,
  strands: pattern.strands.map((strand) => ({
    ...strand,
    hits: strand.hits.map((hit) => ({ ...hit, push: Math.abs(hit.push) })),
  })),
});
const anySwung = swung(anyPattern()).map(onTheGrid);

describe('what sounded sounds the same', () => {
  test('when a strand is taken into a pattern of another swing', () => {
    fc.assert(
      fc.property(anySwung, anySwing, (source, swing) => {
        const empty = { ...emptyPattern({ id: 't', name: 't', meter: source.meter }) };
        const target = setSwing({ ...empty, length: source.length }, swing);
        const pieces = source.strands.map(({ piece }) => piece);
        const taken = takeStrands(target, { source, pieces, mode: 'replace', fit: 'repeat' });
        expect(heard(taken)).toEqual(heard(source));
      }),
    );
  });

  test('when patterns of different swings are joined, and when they are cut in two', () => {
    fc.assert(
      fc.property(anySwung, anySwing, (first, swing) => {
        const second = setSwing({ ...first, id: 'second' }, swing);
        const joined = joinPatterns([first, second], { id: 'j', name: 'j', dye: 0 });
        if (!joined) return;
        const later = heard(second).map((said) => {
          const [tick, piece] = said.split(' ');
          return `${Number(tick) + first.length * 100} ${piece}`;
        });
        expect(heard(joined)).toEqual([...heard(first), ...later].sort());
        const [a, b] = splitPattern(joined, first.length, ['a', 'b'])!;
        expect([heard(a), heard(b)]).toEqual([heard(first), heard(second)]);
      }),
    );
  });

  test('when a pattern in seven grows: it is heard as before, twice', () => {
    fc.assert(
      fc.property(anySwing, fc.nat(13), (swing, step) => {
        const seven = emptyPattern({ id: 'p', name: 'p', meter: { beats: 7, unit: 8 } });
        const hit = { id: 'h', at: step * 240, push: 0, velocity: 90, articulation: '' };
        const pattern = setSwing(placeHits(seven, [{ piece: 'ride', hit }]), swing);
        expect(heard(grow(pattern))).toEqual(heard(pattern, 2));
      }),
    );
  });

  test('when the feel of a swung pattern is given to its straight copy', () => {
    fc.assert(
      fc.property(anySwung, (pattern) => {
        const feel = takeFeel(pattern, allIds(pattern), { id: 'f', name: 'f' });
        const straight = setSwing(pattern, { percent: 50, unit: 240 });
        const plain: Pattern = {
          ...straight,
          strands: straight.strands.map((strand) => ({
            ...strand,
            hits: strand.hits.map((hit) => ({ ...hit, push: 0 })),
          })),
        };
        const felt = applyFeel(plain, allIds(plain), { feel, percent: 100 });
        // No hit is moved past another one of its strand, or out of the pattern.
        const kept = heard(felt).filter((said) => heard(pattern).includes(said));
        const crossing = pattern.strands.some(({ hits }) => hits.length > 1) || kept.length === 0;
        if (!crossing) expect(heard(felt)).toEqual(heard(pattern));
      }),
    );
  });
});
