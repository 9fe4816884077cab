import fc from 'fast-check';
import { checkSong, type Song } from '../model';
import { anyWholeSong } from '../testing/songs';
import { laidPlaces, timeline, type Reach } from '../weave';
import { alongside, fitStrand, type Fitting } from '.';

/** A song with a line of notes on eighths, some of them harder. */
const anyGuided = fc
  .tuple(
    anyWholeSong,
    fc.array(
      fc.tuple(fc.nat(60), fc.constantFrom(60, 90, 120), fc.integer({ min: -40, max: 40 })),
      { minLength: 1, maxLength: 20 },
    ),
  )
  .map(([song, notes]): Song => ({
    ...song,
    guides: [
      {
        id: 'bass',
        name: 'bass',
        at: 0,
        level: 1,
        notes: notes
          .map(([step, velocity, late]) => ({
            at: Math.max(0, step * 480 + late),
            length: 200,
            note: 40,
            velocity,
          }))
          .sort((a, b) => a.at - b.at),
      },
    ],
  }));

const whole = (song: Song, how: Fitting, reach: Reach = 'place') => {
  const laid = laidPlaces(song);
  return laid.reduce<Song>((now, { place, start, end }) => {
    const after = fitStrand(now, {
      guide: 'bass',
      piece: 'kick',
      how,
      place: place.id,
      stretch: { from: 0, to: end - start },
      reach,
    });
    return typeof after === 'string' ? now : after;
  }, song);
};

test('every stroke and every note of the song is counted once', () => {
  fc.assert(
    fc.property(anyGuided, (song) => {
      const found = alongside(song, 'bass', 'kick');
      const kicks = timeline(song).filter(({ piece }) => piece === 'kick').length;
      expect(found.together + found.near + found.strandAlone).toBeGreaterThanOrEqual(
        timeline(song).filter(
          ({ piece, tick }) => piece === 'kick' && tick < laidPlaces(song).at(-1)!.end,
        ).length -
          found.guideAlone -
          1,
      );
      expect(found.together + found.near + found.strandAlone).toBeLessThanOrEqual(kicks);
      const inBars = found.bars.flatMap(({ meetings }) => meetings).length;
      expect(inBars).toBe(found.together + found.near + found.strandAlone + found.guideAlone);
    }),
  );
});

test('once strokes that stand alone are out, none does', () => {
  fc.assert(
    fc.property(anyGuided, (song) => {
      const after = whole(song, 'take out alone');
      expect(checkSong(after)).toEqual([]);
      expect(alongside(after, 'bass', 'kick').strandAlone).toBeLessThanOrEqual(
        alongside(song, 'bass', 'kick').strandAlone,
      );
    }),
  );
});

test('what is pulled near is together, and a strand that follows meets every note', () => {
  fc.assert(
    fc.property(anyGuided, (song) => {
      const pulled = alongside(whole(song, 'pull near'), 'bass', 'kick');
      expect(pulled.near).toBeLessThanOrEqual(alongside(song, 'bass', 'kick').near);
      const followed = whole(song, 'follow');
      expect(checkSong(followed)).toEqual([]);
      expect(alongside(followed, 'bass', 'kick').percent).toBeGreaterThanOrEqual(
        Math.min(50, alongside(song, 'bass', 'kick').percent),
      );
    }),
  );
});

test('other strands are not touched', () => {
  fc.assert(
    fc.property(
      anyGuided,
      fc.constantFrom('take out alone', 'add at accents', 'pull near', 'follow'),
      (song, how) => {
        const others = (s: Song) =>
          timeline(s)
            .filter(({ piece }) => piece !== 'kick')
            .map(({ tick, piece }) => `${Math.round(tick)} ${piece}`)
            .sort();
        expect(others(whole(song, how as Fitting))).toEqual(others(song));
      },
    ),
  );
});
