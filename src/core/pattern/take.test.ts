import fc from 'fast-check';
import { checkSong, emptySong, findStrand, type Hit, type Pattern } from '../model';
import { anyPiece, anySong, anyTakeWay } from '../testing/arbitraries';
import { joinPatterns, splitPattern, whyNotJoined } from './join';
import { asItCame, misfit, takeStrands } from './take';

const hitsOf = (pattern: Pattern, piece: string) => findStrand(pattern, piece)?.hits ?? [];
const played = ({ id: _, ...rest }: Hit) => rest;
const sound = (pattern: Pattern) =>
  checkSong({ ...emptySong('x', 'x', 'x'), patterns: [pattern] }).map(({ what }) => what);

describe('taking a strand', () => {
  test('changes no hit of any other strand, whatever is taken from wherever', () => {
    fc.assert(
      fc.property(anySong, anySong, anyPiece, anyTakeWay, (a, b, piece, way) => {
        const [target, source] = [a.patterns[0], b.patterns[0]];
        const after = takeStrands(target, { source, pieces: [piece], ...way });
        for (const strand of target.strands) {
          if (strand.piece !== piece) expect(hitsOf(after, strand.piece)).toBe(strand.hits);
        }
        expect(sound(after)).toEqual(sound(target));
      }),
    );
  });

  test('into a pattern of the same length brings the very hits, with their pushes', () => {
    fc.assert(
      fc.property(anySong, anyTakeWay, ({ patterns: [source] }, { fit }) => {
        const bare = { ...source, strands: source.strands.map((s) => ({ ...s, hits: [] })) };
        const plain = source.strands.filter(({ loopTicks }) => !loopTicks);
        const pieces = plain.map(({ piece }) => piece);
        const after = takeStrands(bare, { source, pieces, mode: 'replace', fit });
        for (const { piece, hits } of plain) {
          expect(hitsOf(after, piece).map(played)).toEqual(hits.map(played));
        }
      }),
    );
  });

  test('is remembered, and undone by "as it came" after the strand was changed', () => {
    const source = pattern([0, 960, 1920], 3840);
    const taken = takeStrands(pattern([], 3840), {
      source,
      pieces: ['kick'],
      mode: 'replace',
      fit: 'cut',
    });
    expect(findStrand(taken, 'kick')?.from?.name).toBe('P');
    const changed = {
      ...taken,
      strands: taken.strands.map((s) => ({ ...s, hits: s.hits.slice(1) })),
    };
    expect(hitsOf(asItCame(changed, 'kick'), 'kick')).toEqual(hitsOf(taken, 'kick'));
    expect(asItCame(taken, 'kick')).toBe(taken);
  });

  test('of another length is repeated, cut or stretched', () => {
    const source = pattern([0, 1920], 3840);
    const fitted = (fit: 'repeat' | 'cut' | 'stretch') =>
      hitsOf(
        takeStrands(pattern([], 7680), { source, pieces: ['kick'], mode: 'replace', fit }),
        'kick',
      ).map(({ at }) => at);
    expect(fitted('repeat')).toEqual([0, 1920, 3840, 5760]);
    expect(fitted('cut')).toEqual([0, 1920]);
    expect(fitted('stretch')).toEqual([0, 3840]);
    expect(misfit(pattern([], 7680), source)).toBe('what is taken lasts 1 bar, the pattern 2 bars');
    expect(misfit(source, source)).toBeUndefined();
  });
});

describe('cutting and joining', () => {
  test('what was cut and is joined again sounds the same', () => {
    fc.assert(
      fc.property(anySong, fc.nat(20), ({ patterns: [whole] }, n) => {
        const at = Math.round((whole.length * (n + 1)) / 22);
        const parts = splitPattern(whole, at, ['one', 'two'])!;
        const again = joinPatterns(parts, whole)!;
        expect(again.length).toBe(whole.length);
        for (const { piece, hits, loopTicks } of whole.strands) {
          if (!loopTicks) expect(hitsOf(again, piece).map(played)).toEqual(hits.map(played));
        }
        expect(again.joined).toBe(parts);
      }),
    );
  });

  test('three bars of a groove and one of a fill are four bars', () => {
    const groove = pattern([0], 3 * 3840);
    const fill = pattern([0, 240], 3840);
    const joined = joinPatterns([groove, fill], { id: 'j', name: 'J', dye: 1 })!;
    expect(joined.length).toBe(4 * 3840);
    expect(hitsOf(joined, 'kick').map(({ at }) => at)).toEqual([0, 11_520, 11_760]);
    expect(sound(joined)).toEqual([]);
  });

  test('patterns of two meters are not joined, and that is said', () => {
    const waltz = { ...pattern([0], 2880), meter: { beats: 3, unit: 4 } };
    expect(whyNotJoined([waltz, pattern([0], 3840)])).toMatch(/different meters/);
    expect(
      joinPatterns([waltz, pattern([0], 3840)], { id: 'j', name: 'J', dye: 0 }),
    ).toBeUndefined();
  });
});

function pattern(ats: number[], length: number): Pattern {
  return {
    id: 'p',
    name: 'P',
    kind: 'groove',
    meter: { beats: 4, unit: 4 },
    length,
    step: 240,
    dye: 2,
    strands: [
      {
        piece: 'kick',
        hits: ats.map((at, i) => ({
          id: `k${i}`,
          at,
          push: 3,
          velocity: 90,
          articulation: 'beater',
        })),
      },
    ],
  };
}
