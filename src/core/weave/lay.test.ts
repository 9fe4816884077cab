import fc from 'fast-check';
import { checkSong, type Song } from '../model';
import { anyPattern } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { layBelowFills } from './arrange';
import { auditioned } from './audition';
import { liesOver, patternToLay, type Laying } from './lay';
import { laidPlaces, songTicks } from './sections';
import { recoverOffcut, setAside } from './shelf';
import { timeline, type TimedHit } from './timeline';

let count = 0;
const newId = () => `lay-${++count}`;

/** The song with a pattern on its shelf, laid over a stretch. */
function laid(song: Song, laying: Laying): Song {
  const pattern = { ...patternToLay(song, laying), id: 'laid' };
  const shelved = { ...song, patterns: [...song.patterns, pattern] };
  return liesOver(shelved, laying, 'laid', newId).reduce(
    (next, { reach, laid: { place, section }, span }) =>
      layBelowFills(next, { of: reach, id: reach === 'section' ? section.id : place.id }, span),
    shelved,
  );
}

const sound = (hits: readonly TimedHit[]) =>
  hits.map(({ tick, piece, velocity }) => `${tick} ${piece} ${velocity}`).sort();

const anyStretch = fc
  .tuple(anyWholeSong, anyPattern('new'), fc.nat(1000), fc.nat(1000))
  .map(([song, pattern, a, b]): { song: Song; laying: Laying } => {
    const end = songTicks(song);
    const [from, to] = [a, b].sort((x, y) => x - y).map((part) => Math.round((end * part) / 1000));
    const pieces = pattern.strands.map(({ piece }) => piece);
    return {
      song,
      laying: { pattern, pieces, from, to, reach: 'place', mode: 'replace', fit: 'repeat' },
    };
  });

test('what is laid over a stretch sounds just as it did when it was tried there', () => {
  fc.assert(
    fc.property(anyStretch, ({ song, laying }) => {
      const { pattern, pieces, from, to } = laying;
      const after = laid(song, laying);
      expect(checkSong(after)).toEqual([]);
      expect(sound(timeline(after))).toEqual(
        sound(timeline(auditioned(song, { pattern, pieces }, from, to))),
      );
    }),
  );
});

test('laid over a section it is laid once, and all its places play it', () => {
  fc.assert(
    fc.property(anyStretch, ({ song, laying }) => {
      const whole: Laying = { ...laying, from: 0, to: songTicks(song), reach: 'section' };
      const lies = liesOver(song, whole, 'laid', newId);
      const sections = new Set(song.places.map(({ section }) => section));
      expect(lies.map(({ laid: { section } }) => section.id)).toEqual([...sections]);
    }),
  );
});

test('pieces that fall silent for it are silent in the stretch, whatever the groove plays itself', () => {
  fc.assert(
    fc.property(anyStretch, ({ song, laying }) => {
      const [first, ...others] = laying.pieces;
      if (!first || laidPlaces(song).length === 0) return;
      const instead = [...others, 'ride'].filter((piece) => piece !== first);
      const after = laid(song, { ...laying, pieces: [first], instead });
      const heard = timeline(after).filter(({ pattern }) => pattern === 'laid');
      expect(heard.every(({ piece }) => piece === first)).toBe(true);
      const { from, to } = laying;
      // Fills stay on top of what is laid.
      const fills = new Set(
        song.places.flatMap(({ overlay }) =>
          overlay.slice(overlay.findIndex(({ role }) => role === 'fill')).map((one) => one.pattern),
        ),
      );
      const silent = timeline(after).filter(
        ({ piece, home, pattern }) =>
          instead.includes(piece) && home >= from && home < to && !fills.has(pattern),
      );
      expect(silent).toEqual([]);
    }),
  );
});

test('a pattern that is removed and recovered is played again wherever it was', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.nat(20), (song, n) => {
      if (song.patterns.length < 2) return;
      const { id } = song.patterns[n % song.patterns.length];
      const removed = setAside(song, id);
      expect(checkSong(removed)).toEqual([]);
      const back = recoverOffcut(removed, `removed-${id}`);
      expect(checkSong(back)).toEqual([]);
      expect([back.sections, back.places]).toEqual([song.sections, song.places]);
      expect(sound(timeline(back))).toEqual(sound(timeline(song)));
    }),
  );
});
