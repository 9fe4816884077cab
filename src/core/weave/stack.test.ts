import fc from 'fast-check';
import { spanOver, type Song, type Span } from '../model';
import { anyPiece } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { laidPlaces, stackOf } from './sections';
import { timeline } from './timeline';

const anyLie = fc.constantFrom(
  { anchor: 'start' as const, from: 0, to: 1920 },
  { anchor: 'start' as const, from: 960, to: 7680 },
  { anchor: 'end' as const, from: -1920, to: 0 },
  { anchor: 'whole' as const, from: 0, to: 0 },
);

/** One span of each pattern, in any order: which span a hit comes from is told by its pattern. */
const anyStack: fc.Arbitrary<Span[]> = fc.shuffledSubarray(['a', 'b', 'c']).chain((patterns) =>
  fc.tuple(
    ...patterns.map((pattern) =>
      fc
        .record({
          lies: anyLie,
          pieces: fc.oneof(
            fc.constant('all' as const),
            fc.array(anyPiece, { minLength: 1, maxLength: 6 }),
          ),
          mode: fc.constantFrom('replace' as const, 'add' as const),
        })
        .map(({ lies, ...rest }) => spanOver(pattern, `of-${pattern}`, { ...rest, ...lies })),
    ),
  ),
) as fc.Arbitrary<Span[]>;

const anyStacked = fc.tuple(anyWholeSong, anyStack, fc.nat(3)).map(([song, stack, split]): Song => {
  const [section] = song.sections;
  return {
    ...song,
    sections: [{ ...section, bars: 3, spans: stack.slice(0, split) }],
    places: [{ id: 'one', section: section.id, overlay: stack.slice(split) }],
  };
});

test('each moment of each piece has one source that replaces, and what is added above it', () => {
  fc.assert(
    fc.property(anyStacked, (song) => {
      const [laid] = laidPlaces(song);
      const stack = stackOf(laid);
      const reaches = (span: (typeof stack)[number], piece: string, at: number) =>
        at >= span.from &&
        at < span.to &&
        (span.span.pieces === 'all' || span.span.pieces.includes(piece));
      const sources = new Map<string, Set<string>>();
      for (const { piece, home, pattern } of timeline(song)) {
        const key = `${piece} ${home}`;
        if (!sources.has(key)) sources.set(key, new Set());
        sources.get(key)!.add(pattern);
      }
      for (const [key, patterns] of sources) {
        const [piece, at] = key.split(' ');
        const here = stack.filter((span) => reaches(span, piece, Number(at)));
        const top = here.findLastIndex(({ span }) => span.mode === 'replace');
        const may = here.slice(Math.max(0, top)).map(({ span }) => span.pattern);
        for (const pattern of patterns) expect(may).toContain(pattern);
        const replacing = here.filter(
          ({ span }) => span.mode === 'replace' && patterns.has(span.pattern),
        );
        expect(replacing.length).toBeLessThanOrEqual(1);
      }
    }),
  );
});
