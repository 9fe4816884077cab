import fc from 'fast-check';
import { findPattern, guideOf, type DraftWishes, type PieceId, type Song } from '../model';
import { allIds, moveHits, placeHits, removeHits } from '../pattern';
import {
  drafted,
  formed,
  formIn,
  heardBars,
  levelled,
  proposed,
  shippedLibrary,
  SONG_FORM,
} from '../testing/drafts';
import { meterName } from '../time';
import { barLinesOf, editAt, laidPlaces, silence, takeOut, timeline, type Reach } from '../weave';
import { draftSong } from './draft';
import { setEnergy, shiftedEnergy } from './energy';
import { fillSign } from './fills';
import { isCrash } from './pool';
import { heldBars, reportOf, saidApart } from './report';
import { whyAt } from './why';
import { askOfDraft, rollDraft } from './wished';

const { families } = shippedLibrary;
const meterOf = (family: (typeof families)[number]) =>
  meterName(family.patterns.find(({ kind }) => kind === 'groove')!.meter);
const byName = (name: string) => families.find((family) => family.name === name)!;

/** A song of a family in its own meter and tempo. */
const ofFamily = (name: string, wishes: Partial<DraftWishes> = {}, form = SONG_FORM) =>
  proposed(
    formed(
      formIn(meterOf(byName(name)), form),
      { feel: { of: 'family', family: name }, ...wishes },
      byName(name).bpm,
    ),
  );

const anyFamily = fc.constantFrom(...families.map(({ name }) => name));
const SHORT = 'verse 8, chorus 8, verse 8, chorus 8, chorus 4';
const mean = (numbers: readonly number[]) =>
  numbers.reduce((sum, one) => sum + one, 0) / Math.max(1, numbers.length);

describe('a bar that was changed by hand', () => {
  const song = drafted(ofFamily('Straight rock', {}, SHORT));

  /** Changes of one bar of one place, as every stage makes them. */
  const anyChange = fc.record({
    place: fc.nat(song.places.length - 1),
    bar: fc.nat(7),
    reach: fc.constantFrom<Reach>('place', 'section', 'everywhere'),
    what: fc.constantFrom('rest', 'silence', 'a stroke more', 'a piece less', 'take the fill'),
    piece: fc.constantFrom('kick', 'snare', 'hihat', 'cowbell'),
  });

  type Change = typeof anyChange extends fc.Arbitrary<infer One> ? One : never;

  const changed = (of: Song, { place, bar, reach, what, piece }: Change) => {
    const laid = laidPlaces(of)[place];
    const lines = barLinesOf(laid.section);
    const n = Math.min(bar, laid.section.bars - 1);
    if (what === 'take the fill') {
      return takeOut(of, { of: 'place', id: laid.place.id, span: 'draft-join' });
    }
    const stretch = { place: laid.place.id, from: lines[n], to: lines[n + 1] };
    if (what === 'rest') {
      return silence(of, { ...stretch, pieces: [piece], whose: 'place' }, `rest-${place}-${n}`);
    }
    const after = editAt(of, stretch, reach, (pattern) =>
      what === 'silence'
        ? removeHits(pattern, allIds(pattern))
        : what === 'a piece less'
          ? removeHits(
              pattern,
              new Set(
                pattern.strands.flatMap((strand) =>
                  strand.piece === piece ? strand.hits.map(({ id }) => id) : [],
                ),
              ),
            )
          : placeHits(pattern, [
              {
                piece,
                hit: { id: 'by-hand', at: 490, push: 7, velocity: 77, articulation: 'any' },
              },
            ]),
    );
    return typeof after === 'string' ? of : after;
  };

  test('stays note for note, whatever is asked of the next draft, and the report says which it is', () => {
    fc.assert(
      fc.property(
        fc.array(anyChange, { minLength: 1, maxLength: 3 }),
        fc.constantFrom('roll', 'energy', 'feel', 'time', 'twice'),
        (changes, asks) => {
          const before = changes.reduce(changed, song);
          const held = heldBars(before);
          if (before !== song) expect(held.flat().length).toBeGreaterThan(0);
          const asked =
            asks === 'energy'
              ? setEnergy(
                  before,
                  shiftedEnergy(
                    before,
                    before.places.map(({ id }) => id),
                    0.3,
                  ),
                )
              : asks === 'feel'
                ? askOfDraft(before, undefined, { feel: { of: 'family', family: 'Disco' } })
                : asks === 'time'
                  ? askOfDraft(before, undefined, { time: 'ride' })
                  : rollDraft(before, undefined);
          const once = drafted(asked);
          const after = asks === 'twice' ? drafted(rollDraft(once, undefined)) : once;
          const [was, now] = [before, after].map((of) => heardBars(of));
          held.forEach((bars, place) => {
            for (const bar of bars) expect(now[place][bar]).toBe(was[place][bar]);
          });
          // What is said to be the draft's is the draft's: nearly all of it is another one.
          expect(heldBars(after)).toEqual(held);
          expect(drafted(after)).toBe(after);
        },
      ),
    );
  });

  test('a part laid over a whole song leaves every bar below it to the draft', () => {
    const shaker = { ...byName('Bossa').patterns[0], id: 'own', name: 'shaker' };
    const over: Song = {
      ...song,
      patterns: [...song.patterns, shaker],
      places: song.places.map((place) => ({
        ...place,
        overlay: [
          ...place.overlay,
          {
            ...song.sections[0].spans[0],
            id: 'own',
            pattern: 'own',
            anchor: 'whole' as const,
            from: 0,
            to: 0,
            pieces: ['maracas'],
          },
        ],
      })),
    };
    expect(reportOf(over).counts.elsewhere).toBe(0);
    const [was, now] = [over, drafted(rollDraft(over, undefined))].map((of) => heardBars(of));
    expect(now.flat().filter((bar, i) => bar !== was.flat()[i]).length).toBeGreaterThan(20);
  });
});

describe('energy', () => {
  test('of one place is heard in that place alone, and in what leads into it and out of it', () => {
    fc.assert(
      fc.property(
        anyFamily,
        fc.nat(8),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        fc.constantFrom('at joins', 'every 4' as const),
        (name, which, by, fills) => {
          const before = ofFamily(name, { fills: fills as DraftWishes['fills'] });
          const { id } = before.places[which];
          const [was, now] = [before, setEnergy(before, shiftedEnergy(before, [id], by))].map(
            (of) => heardBars(drafted(of)),
          );
          was.forEach((bars, place) => {
            if (place === which) return;
            // The bars that lead into it, and its own way out into the next.
            const last = place === which - 1 ? bars.length - 2 : bars.length;
            const first = place === which + 1 ? 1 : 0;
            for (let bar = first; bar < last; bar++) expect(now[place][bar]).toBe(bars[bar]);
          });
        },
      ),
    );
  });

  test('linked places whose lines are near share all but what leads on; one that stands apart does not', () => {
    const song = drafted(ofFamily('Straight rock', { fills: 'at joins' }));
    const choruses = laidPlaces(song).flatMap(({ section }, i) =>
      section.kind === 'chorus' ? [i] : [],
    );
    const heard = heardBars(song);
    const body = (place: number) => heard[place].slice(1, 7);
    expect(body(choruses[1])).toEqual(body(choruses[0]));
    expect(body(choruses[2])).not.toEqual(body(choruses[0]));
    const says = song.patterns.map(({ drafted: of }) => of?.says ?? '').join('\n');
    expect(says).toMatch(/busier and louder: energy is above that of other places of “chorus”/i);
    // The sentence names the place that sounds otherwise, and no other.
    expect(saidApart(song)).toMatch(/^Chorus 3 stands apart by energy/);
    expect(saidApart(drafted(levelled(song, 0.5)))).toBe('');
  });

  test.each(families.map(({ name }) => name))(
    'in “%s” more of it never has fewer strokes, nor softer ones, in whatever order it comes',
    (name) => {
      for (const seed of [1, 2]) {
        const heights = Array.from({ length: 11 }, (_, i) => (i * 7 * seed) % 11);
        const song = ofFamily(
          name,
          { seed, loose: 0, follow: 0, fills: 'never' },
          heights.map(() => 'verse 3').join(', '),
        );
        const after = drafted(
          setEnergy(
            song,
            song.places.map(({ id }, i) => ({
              place: id,
              points: [{ at: 0, level: heights[i] / 10 }],
            })),
          ),
        );
        // The middle bar of each place has neither a crash nor a turn in it.
        const bars = heights.map(() => [] as number[]);
        const heard = timeline(after);
        laidPlaces(after).forEach((laid, i) => {
          const lines = barLinesOf(laid.section);
          const [from, to] = [laid.start + lines[1], laid.start + lines[2]];
          for (const { home, velocity } of heard) {
            if (home >= from && home < to) bars[heights[i]].push(velocity);
          }
        });
        for (let height = 1; height < bars.length; height++) {
          const [low, high] = [bars[height - 1], bars[height]];
          expect(high.length).toBeGreaterThanOrEqual(low.length);
          expect(mean(high)).toBeGreaterThan(mean(low) - 0.6);
        }
        expect(mean(bars[10]) - mean(bars[1])).toBeGreaterThan(8);
        expect(bars[10].length).toBeGreaterThan(1.3 * bars[1].length);
      }
    },
  );
});

test('a stroke that a hand moved, or put there, is not given a reason that is no more true', () => {
  const song = drafted(ofFamily('Straight rock', {}, SHORT));
  const [verse] = laidPlaces(song);
  const snare = (of: Song, at: number) =>
    whyAt(of, { place: verse.place.id, at, piece: 'snare' })!.says.join(' ');
  expect(snare(song, 960)).toMatch(/backbeat on 2/);
  const later = editAt(
    song,
    { place: verse.place.id, from: 0, to: 3840 },
    'everywhere',
    (pattern) =>
      moveHits(
        pattern,
        new Set(
          pattern.strands.flatMap(({ piece, hits }) =>
            piece === 'snare' ? hits.filter(({ at }) => at === 960).map(({ id }) => id) : [],
          ),
        ),
        { by: 240 },
      ),
  ) as Song;
  expect(snare(later, 1200)).toMatch(/by hand/);
  expect(snare(later, 1200)).not.toMatch(/backbeat/);
  expect(snare(later, 2880)).toMatch(/backbeat on 4/);
});

describe('fills', () => {
  const joins = (song: Song) =>
    laidPlaces(song).map(({ place }) => {
      const span = place.overlay.find(({ id, role }) => id === 'draft-join' && role === 'fill');
      return span && findPattern(song, span.pattern);
    });

  test('are all different ones, until twelve are used, and a roll changes each of them', () => {
    fc.assert(
      fc.property(anyFamily, fc.nat(1000), (name, seed) => {
        const song = drafted(ofFamily(name, { seed, fills: 'every 8' }, FORM_OF_MANY));
        const signs = joins(song).flatMap((fill) => (fill ? [fillSign(fill)] : []));
        expect(signs.length).toBeGreaterThan(5);
        expect(new Set(signs.slice(0, 12)).size).toBe(Math.min(12, signs.length));
        const rolled = joins(drafted(rollDraft(song, undefined, 'fills')));
        joins(song).forEach((fill, i) => {
          if (fill && rolled[i]) expect(fillSign(rolled[i])).not.toBe(fillSign(fill));
        });
      }),
    );
  });

  test('are as long as energy changes, up to what is wished: two bars before the biggest step', () => {
    const steps = [0.3, 0.31, 0.36, 0.48, 0.72, 0.2, 0.9, 0.9];
    const song = ofFamily('Straight rock', { longest: 8 }, steps.map(() => 'part 4').join(', '));
    const lengths = (longest: number) =>
      joins(
        drafted(
          setEnergy(
            askOfDraft(song, undefined, { longest }),
            song.places.map(({ id }, i) => ({ place: id, points: [{ at: 0, level: steps[i] }] })),
          ),
        ),
      ).map((fill) => (fill ? fill.length / 960 : undefined));
    const long = lengths(8);
    expect(long[5]).toBeGreaterThan(4);
    expect(long[3]).toBeGreaterThan(long[1]!);
    expect(long[4]).toBeUndefined();
    for (const length of lengths(1)) expect(length ?? 0).toBeLessThanOrEqual(4);
    for (const length of lengths(1).slice(0, -1)) expect(length ?? 0).toBeLessThanOrEqual(1);
  });

  const FORM_OF_MANY =
    'intro 4, verse 8, chorus 8, verse 8, chorus 8, bridge 4, verse 8, chorus 8, solo 8, verse 8, ' +
    'chorus 8, bridge 4, chorus 8, outro 4';
});

describe('a wish changes what it is about', () => {
  const bass = guideOf(
    'bass',
    'Bass',
    0,
    Array.from({ length: 60 * 4 }, (_, i) => ({
      at: Math.floor(i / 2) * 3 * 480 + (i % 2) * 240,
      length: 200,
      note: 40,
      velocity: 96,
    })).filter(({ at }, i, all) => i === 0 || at > all[i - 1].at),
  );
  const time = (piece: PieceId) => !['kick', 'snare'].includes(piece) && !piece.startsWith('tom');
  /** A wish, and which pieces it is about: nothing else changes in bars without turns and joins. */
  const WISHES: readonly [Partial<DraftWishes>, (piece: PieceId) => boolean][] = [
    [{ follow: 0 }, (piece) => piece === 'kick'],
    // A crash with no kick below it is none.
    [{ follow: 1 }, (piece) => piece === 'kick' || piece === 'crash'],
    [{ time: 'ride' }, time],
    [{ highTime: 'ride' }, time],
    [{ opens: false }, (piece) => piece === 'hihat'],
    [{ stroke: 'side stick' }, (piece) => piece === 'snare'],
    [{ backbeat: '3' }, (piece) => piece === 'snare'],
    [{ backbeat: 'none' }, (piece) => piece === 'snare'],
    [{ without: ['cowbell', 'china'] }, (piece) => ['cowbell', 'china'].includes(piece)],
    [{ fills: 'every 4' }, () => false],
    [{ longest: 1 }, () => false],
    [{ rolls: { fills: 77 } }, () => false],
    [{ rolls: { kick: 77 } }, (piece) => piece === 'kick'],
  ];

  test.each(WISHES)('%j', (wish, about) => {
    for (const name of ['Straight rock', 'Funk with ghosts', 'Disco', 'Swing with sticks']) {
      const song = { ...ofFamily(name, { follow: 0.5 }), guides: [bass] };
      const [was, now] = [song, askOfDraft(song, undefined, wish)].map((of) =>
        heardBars(drafted(of), (piece) => !about(piece)),
      );
      // Every fourth bar is a turn, and a place begins with a crash.
      was.forEach((bars, place) =>
        bars.forEach((bar, n) => {
          if (n % 4 === 3 || n === 0 || n >= bars.length - 2) return;
          expect(now[place][n]).toBe(bar);
        }),
      );
    }
  });

  test('with all of the kick on the guide, no kick stands alone but on the first beat of the song', () => {
    fc.assert(
      fc.property(anyFamily, fc.nat(1000), (name, seed) => {
        const song = { ...ofFamily(name, { follow: 1, seed }), guides: [bass] };
        const after = drafted(song);
        const notes = new Set(bass.notes.map(({ at }) => at));
        const near = (home: number) => [...notes].some((at) => Math.abs(at - home) <= 125);
        const lines = laidPlaces(after).flatMap(({ start, section }) =>
          barLinesOf(section).map((line) => start + line),
        );
        for (const { home, piece } of timeline(after)) {
          if (piece !== 'kick' || home < 120) continue;
          // Where the guide is silent for a whole bar there is nothing to go with.
          const bar = lines.findLast((line) => line <= home)!;
          const end = lines.find((line) => line > home) ?? Infinity;
          const sounds = [...notes].some((at) => at >= bar - 60 && at < end - 60);
          if (sounds) expect([home, near(home)]).toEqual([home, true]);
        }
      }),
    );
  });
});

test.each(families.map(({ name }) => name))('a drummer would play a draft of “%s”', (name) => {
  for (const seed of [1, 2, 3]) {
    const song = drafted(ofFamily(name, { seed }));
    const hits = timeline(song);
    const laid = laidPlaces(song);
    const inPlace = (i: number) =>
      hits.filter(({ home }) => home >= laid[i].start && home < laid[i].end);
    const loudness = laid.map((_, i) => mean(inPlace(i).map(({ velocity }) => velocity)));
    // The last chorus is the highest, and well above the intro and the verses.
    const last = laid.findLastIndex(({ section }) => section.kind === 'chorus');
    const first = laid.findIndex(({ section }) => section.kind === 'chorus');
    expect(loudness[last]).toBe(Math.max(...loudness));
    expect(loudness[last] - loudness[0]).toBeGreaterThan(6);
    // Bars with no crash and no turn in them.
    const strokes = (place: number) =>
      [1, 2, 5].reduce((sum, bar) => {
        const lines = barLinesOf(laid[place].section).map((line) => laid[place].start + line);
        const here = inPlace(place).filter(
          ({ home }) => home >= lines[bar] && home < lines[bar + 1],
        );
        return sum + here.length;
      }, 0);
    expect(strokes(last)).toBeGreaterThanOrEqual(strokes(first));
    // There is room above: no kick of a chorus is as hard as can be.
    const kicks = inPlace(first).filter(({ piece }) => piece === 'kick');
    expect(kicks.filter(({ velocity }) => velocity > 124)).toEqual([]);
    for (const crash of hits.filter(({ piece }) => isCrash(piece))) {
      const together = hits.filter(({ home }) => Math.abs(home - crash.home) < 120);
      const around = hits.filter(
        ({ home, piece }) => Math.abs(home - crash.home) < 1920 && !isCrash(piece),
      );
      expect(crash.velocity).toBeLessThan(16 + Math.max(...around.map(({ velocity }) => velocity)));
      expect(together.some(({ piece }) => piece === 'kick' || piece === 'snare')).toBe(true);
    }
    // Fills are no softer than the bar before them.
    laid.forEach(({ place, section, start, end }) => {
      const span = place.overlay.find(({ id, role }) => id === 'draft-join' && role === 'fill');
      const fill = span && findPattern(song, span.pattern);
      if (!fill) return;
      const lines = barLinesOf(section);
      const until = end - fill.length;
      const from = start + lines.findLast((line) => start + line < until - 1)!;
      const groove = hits.filter(({ home }) => home >= from - 3840 && home < until);
      const struck = fill.strands.flatMap((strand) => strand.hits.map(({ velocity }) => velocity));
      expect(mean(struck)).toBeGreaterThanOrEqual(mean(groove.map(({ velocity }) => velocity)));
    });
  }
});

test('a missing meter is played by a feel that divides and strikes likewise, or its bars are cut', () => {
  const instead = (family: string, meter: string) =>
    draftSong(
      levelled(formed(`verse 8 ${meter}`, { feel: { of: 'family', family } }), 0.5),
      shippedLibrary,
    ).says.join(' ');
  expect(instead('Straight rock', '7/8')).toMatch(/(Seven|Odd-meter rock) is played there instead/);
  expect(instead('Straight rock', '3/4')).toMatch(/cut to it|instead/);
  expect(instead('Swing with brushes', '7/8')).toMatch(/its bars are cut to it/);
  expect(instead('Swing with sticks', '3/4')).toMatch(/Waltz with sticks is played there instead/);
});
