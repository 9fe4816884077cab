import fc from 'fast-check';
import {
  BACKBEAT_STROKES,
  BACKBEATS,
  checkSong,
  DEFAULT_KIT,
  FILL_RATES,
  findPattern,
  guideOf,
  newSectionFor,
  SECTION_KINDS,
  songWith,
  type DraftWishes,
  type Pattern,
  type Song,
} from '../model';
import { fingerprintOf, nearest, strokesOfPattern } from '../library';
import { allIds, placeHits, removeHits } from '../pattern';
import { impossibles } from '../playing';
import {
  formed,
  heardBars,
  levelled,
  proposed,
  shippedLibrary,
  SONG_FORM,
} from '../testing/drafts';
import { meters } from '../testing/arbitraries';
import { barTicks, meterName } from '../time';
import {
  addSection,
  barLinesOf,
  editAt,
  laidPlaces,
  ownOfSection,
  setLock,
  takeOut,
  timeline,
  wovenOf,
} from '../weave';
import { draftSong } from './draft';
import { setEnergy } from './energy';
import { marksOf, touchedBars, whyHit } from './marks';
import { neighboursOf } from './neighbours';
import { timekeeperOf } from './pool';
import { reportOf, saidLeft, saidReport } from './report';
import { whyAt } from './why';
import { askOfDraft, rollDraft } from './wished';

const library = shippedLibrary;
const { families } = library;
const names = families.map(({ name }) => name);

const withBass = (song: Song, notes: readonly number[]): Song => ({
  ...song,
  guides: [
    guideOf(
      'bass',
      'Bass',
      0,
      [...new Set(notes)]
        .sort((a, b) => a - b)
        .map((step) => ({ at: step * 240, length: 200, note: 40, velocity: 96 })),
    ),
  ],
});

const anyForm = fc
  .array(
    fc.record({
      kind: fc.constantFrom(...SECTION_KINDS),
      bars: fc.integer({ min: 1, max: 17 }),
      meter: fc.oneof({ weight: 4, arbitrary: fc.constant(meters[0]) }, fc.constantFrom(...meters)),
    }),
    { minLength: 1, maxLength: 5 },
  )
  .map((parts) =>
    parts.map(({ kind, bars, meter }) => `${kind} ${bars} ${meterName(meter)}`).join(', '),
  );

const anyWishes: fc.Arbitrary<Partial<DraftWishes>> = fc.record({
  feel: fc.constantFrom(...names).map((family) => ({ of: 'family' as const, family })),
  time: fc.constantFrom('feel', 'hihat', 'ride', 'tom-low-floor', 'cowbell'),
  opens: fc.boolean(),
  backbeat: fc.constantFrom(...BACKBEATS),
  stroke: fc.constantFrom(...BACKBEAT_STROKES),
  follow: fc.double({ min: 0, max: 1, noNaN: true }),
  fills: fc.constantFrom(...FILL_RATES),
  longest: fc.constantFrom(0.5, 1, 2, 4, 8),
  loose: fc.double({ min: 0, max: 1, noNaN: true }),
  late: fc.integer({ min: -30, max: 30 }),
  without: fc.subarray(['tom-high', 'crash', 'ride', 'cowbell', 'hihat'], { maxLength: 3 }),
  seed: fc.nat(999_999),
});

const anySketch = fc
  .record({
    form: anyForm,
    wishes: anyWishes,
    bass: fc.array(fc.nat(400), { maxLength: 60 }),
    energies: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 5, maxLength: 5 }),
    bpm: fc.integer({ min: 60, max: 190 }),
  })
  .map(({ form, wishes, bass, energies, bpm }) => {
    const song = withBass(formed(form, wishes, bpm), bass);
    return setEnergy(
      song,
      song.places.map(({ id }, i) => ({ place: id, points: [{ at: 0, level: energies[i % 5] }] })),
    );
  });

const grooves = (song: Song) => song.patterns.filter(({ drafted }) => drafted?.as === 'groove');
const hitsIn = (patterns: readonly Pattern[]) =>
  patterns.flatMap(({ strands }) => strands.flatMap(({ hits }) => hits));

describe('any draft', () => {
  test('is a sound song that a drummer can play, comes again from its seed, and stays when drafted again', () => {
    fc.assert(
      fc.property(anySketch, (song) => {
        const { song: drafted, says } = draftSong(song, library);
        expect(checkSong(drafted)).toEqual([]);
        expect(impossibles(drafted).map((one) => one.says)).toEqual([]);
        expect(timeline(drafted).length).toBeGreaterThan(0);
        for (const sentence of says) expect(sentence).toMatch(/\.$/);
        expect(draftSong(structuredClone(song), library).song).toEqual(drafted);
        expect(draftSong(drafted, library).song).toBe(drafted);
      }),
    );
  });

  test('is never thinner for more energy, and what is played anyway is never softer', () => {
    fc.assert(
      fc.property(
        anySketch,
        fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 20 })),
        (song, [a, b]) => {
          const [low, high] = [Math.min(a, b) / 20, Math.max(a, b) / 20];
          const [soft, loud] = [low, high].map((energy) =>
            grooves(draftSong(levelled(song, energy), library).song),
          );
          for (const quiet of soft) {
            const other = loud.find(({ id }) => id === quiet.id);
            if (!other || quiet.length !== other.length) continue;
            // Turns are what they are, and so is a crash on the one; the beats between them follow the line.
            const turns = new Set([...quiet.drafted!.turns, ...other.drafted!.turns]);
            const bar = barTicks(quiet.meter);
            const plain = (pattern: Pattern) =>
              pattern.strands.flatMap(({ piece, hits }) =>
                hits
                  .filter(({ at }) => !turns.has(Math.floor(at / bar)) && at % bar > 0)
                  .map(({ at, velocity }) => [`${piece} ${at}`, velocity] as const),
              );
            const struck = new Map(plain(other));
            expect(struck.size).toBeGreaterThanOrEqual(plain(quiet).length);
            for (const [stroke, velocity] of plain(quiet)) {
              expect(struck.get(stroke) ?? 127).toBeGreaterThanOrEqual(velocity);
            }
          }
        },
      ),
    );
  });

  test('has no two turns alike one after another, and no bar of the library as it is', () => {
    const shipped = new Set(
      families.flatMap(({ patterns }) => patterns.flatMap((pattern) => marksOf(pattern))),
    );
    const silent = new Set(marksOf({ ...families[0].patterns[0], strands: [] }));
    fc.assert(
      fc.property(anySketch, (song) => {
        const { song: drafted } = draftSong(song, library);
        for (const pattern of grooves(drafted)) {
          for (const mark of marksOf(pattern)) {
            expect(shipped.has(mark) && !silent.has(mark)).toBe(false);
          }
        }
        let before = '';
        for (const laid of laidPlaces(drafted)) {
          const lines = barLinesOf(laid.section);
          const sign = (bar: number) => {
            const { pattern } = wovenOf(
              drafted,
              laid,
              { from: lines[bar], to: lines[bar + 1] },
              'place',
            );
            return pattern.strands
              .flatMap(({ piece, hits }) =>
                hits.map(({ at, articulation }) => `${piece} ${Math.round(at)} ${articulation}`),
              )
              .join();
          };
          const turns = lines
            .slice(0, -1)
            .flatMap((_, bar) =>
              (bar + 1) % 4 === 0 || bar === laid.section.bars - 1 ? [bar] : [],
            );
          for (const bar of turns) {
            const now = sign(bar);
            if (now !== '') expect(now).not.toBe(before);
            before = now;
          }
        }
      }),
    );
  });
});

describe('drafting again', () => {
  const { song } = draftSong(proposed(formed(SONG_FORM)), library);

  test('changes nothing where everything is locked', () => {
    const all = song.sections.reduce((now, { id }) => setLock(now, 'section', id, true), song);
    const rolled = rollDraft(all, undefined);
    expect(rolled.draft).not.toEqual(all.draft);
    expect(draftSong(rolled, library).song).toBe(rolled);
  });

  test('keeps bars that were changed by hand, however they were changed', () => {
    fc.assert(
      fc.property(
        fc.nat(30),
        fc.nat(7),
        fc.integer({ min: 1, max: 127 }),
        (which, bar, velocity) => {
          const drafted = grooves(song).filter(({ local }) => !local);
          const pattern = drafted[which % drafted.length];
          const at =
            (bar % (pattern.length / barTicks(pattern.meter))) * barTicks(pattern.meter) + 90;
          const hit = { id: 'by-hand', at, push: 7, velocity, articulation: 'any' };
          const changed = placeHits(pattern, [{ piece: 'cowbell', hit }]);
          const touched: Song = {
            ...song,
            patterns: song.patterns.map((one) => (one === pattern ? changed : one)),
          };
          const again = draftSong(rollDraft(touched, undefined), library).song;
          const now = findPattern(again, pattern.id)!;
          const [n] = touchedBars(changed)!;
          const inBar = (one: Pattern) =>
            one.strands.flatMap(({ piece, hits }) =>
              hits
                .filter(({ at: tick }) => Math.floor(tick / barTicks(one.meter)) === n)
                .map((other) => [piece, other]),
            );
          expect(inBar(now)).toEqual(inBar(changed));
          expect(touchedBars(now)).toEqual(new Set([n]));
          expect(checkSong(again)).toEqual([]);
        },
      ),
    );
  });

  test('leaves alone what was laid over a place, and what was taken out of it', () => {
    const laid = laidPlaces(song)[2];
    const [fill] = laid.place.overlay.filter(({ id }) => id === 'draft-join');
    expect(fill).toBeDefined();
    const without = takeOut(song, { of: 'place', id: laid.place.id, span: fill.id });
    const edited = editAt(
      without,
      { place: laid.place.id, from: 0, to: 3840 },
      'place',
      (pattern) => removeHits(pattern, allIds(pattern)),
    );
    const again = draftSong(rollDraft(edited as Song, undefined), library).song;
    const place = laidPlaces(again)[2];
    expect(place.place.overlay.some(({ id }) => id === 'draft-join')).toBe(false);
    const { pattern } = wovenOf(again, place, { from: 0, to: 3840 }, 'place');
    expect(hitsIn([pattern])).toEqual([]);
  });

  test('changes only the section that is rolled, or the fills, or one piece', () => {
    const chorus = song.sections.find(({ kind }) => kind === 'chorus')!;
    const one = draftSong(rollDraft(song, chorus.id), library).song;
    expect(findPattern(one, `draft-${chorus.id}:1`)).not.toEqual(
      findPattern(song, `draft-${chorus.id}:1`),
    );
    const others = song.sections.filter(({ id }) => id !== chorus.id);
    for (const { id, spans } of others) {
      expect(one.sections.find((section) => section.id === id)!.spans).toEqual(spans);
      expect(findPattern(one, `draft-${id}:1`)).toBe(findPattern(song, `draft-${id}:1`));
    }
    const fills = draftSong(rollDraft(song, undefined, 'fills'), library).song;
    // Every fourth bar is a turn, which may be a fill.
    const between = (of: Song) =>
      heardBars(of).map((bars) => bars.filter((_, bar) => bar % 4 < 3 && bar < bars.length - 2));
    expect(between(fills)).toEqual(between(song));
    expect(fills.patterns).not.toEqual(song.patterns);
    const kicks = draftSong(rollDraft(song, undefined, 'kick'), library).song;
    const hats = (of: Song) =>
      grooves(of).map(({ strands }) => strands.filter(({ piece }) => piece === 'hihat'));
    expect(hats(kicks)).toEqual(hats(song));
  });

  test('keeps what a section has of its own, and a groove that another section lends it', () => {
    const [verse, chorus] = ['verse', 'chorus'].map((kind) =>
      song.sections.find((section) => section.kind === kind)!,
    );
    const lent = chorus.spans[0].pattern;
    const borrowed: Song = {
      ...song,
      sections: song.sections.map((section) =>
        section === verse
          ? { ...section, spans: [{ ...section.spans[0], pattern: lent }] }
          : section,
      ),
    };
    const again = draftSong(rollDraft(borrowed, undefined), library).song;
    expect(again.sections.find(({ id }) => id === verse.id)!.spans[0].pattern).toBe(lent);
    // Another section plays it too: an edit in the chorus makes it a copy of its own, which stays.
    const owned = ownOfSection(borrowed, chorus.id, lent);
    expect(owned.pattern).not.toBe(lent);
    const touched: Song = {
      ...owned.song,
      patterns: owned.song.patterns.map((pattern) =>
        pattern.id === owned.pattern
          ? removeHits(pattern, new Set([...allIds(pattern)].slice(0, 3)))
          : pattern,
      ),
    };
    const bars = touchedBars(findPattern(touched, owned.pattern)!)!;
    const next = draftSong(rollDraft(touched, undefined), library).song;
    expect(next.sections.find(({ id }) => id === chorus.id)!.spans[0].pattern).toBe(owned.pattern);
    expect(touchedBars(findPattern(next, owned.pattern)!)).toEqual(bars);
    expect(bars.size).toBeGreaterThan(0);
  });

  test('does not take the place of a groove of one’s own', () => {
    const [verse] = song.sections.filter(({ kind }) => kind === 'verse');
    const own = { ...families[0].patterns[0], id: 'own' };
    const filled: Song = {
      ...song,
      patterns: [...song.patterns, own],
      sections: song.sections.map((section) =>
        section === verse
          ? { ...section, spans: [{ ...section.spans[0], id: 'own', pattern: 'own' }] }
          : section,
      ),
    };
    const again = draftSong(rollDraft(filled, undefined), library).song;
    expect(
      again.sections.find(({ id }) => id === verse.id)!.spans.map(({ pattern }) => pattern),
    ).toEqual(['own']);
  });
});

describe('wishes', () => {
  const strokes = (song: Song, piece: string) =>
    timeline(song).filter((hit) => hit.piece === piece);

  test('the kick goes with the bass the more it is to follow', () => {
    const steps = Array.from({ length: 8 * 16 }, (_, i) => i).filter((i) =>
      [0, 5, 7, 11, 14].includes(i % 16),
    );
    const met = [0, 0.5, 1].map((follow) => {
      const { song } = draftSong(
        levelled(withBass(formed('verse 8', { follow }), steps), 0.8),
        library,
      );
      const kicks = strokes(song, 'kick').map(({ home }) => home);
      return steps.filter((step) => kicks.some((home) => Math.abs(home - step * 240) < 60)).length;
    });
    expect(met[1]).toBeGreaterThanOrEqual(met[0]);
    expect(met[2]).toBeGreaterThan(met[0]);
    expect(met[2]).toBeGreaterThan(0.8 * steps.length);
  });

  test('the ride keeps time when it is asked to, and pieces that stay at home are not struck', () => {
    const wishes = {
      time: 'ride',
      without: ['tom-high', 'tom-low-mid', 'tom-high-floor', 'crash'],
    };
    const { song } = draftSong(proposed(formed(SONG_FORM, wishes)), library);
    for (const pattern of grooves(song).filter(({ local }) => !local)) {
      expect(timekeeperOf(pattern, song.kit)).toBe('ride');
    }
    for (const piece of wishes.without) expect(strokes(song, piece)).toEqual([]);
  });

  test.each([
    ['3', [1920]],
    ['none', []],
    ['2 and 4', [960, 2880]],
  ] as const)('the backbeat falls on %s', (backbeat, beats) => {
    const { song } = draftSong(
      levelled(formed('verse 8', { backbeat, fills: 'never' }), 0.5),
      library,
    );
    const [first] = grooves(song);
    const struck = hitsIn([first])
      .map(({ id, at, velocity }) => ({ piece: id.split('@')[0], at, velocity }))
      .filter(({ piece, at, velocity }) => piece === 'snare' && at < 3840 && velocity >= 70)
      .map(({ at }) => at);
    expect(struck).toEqual(beats);
  });

  test('of a section are those of the song but for what it says', () => {
    const song = proposed(formed(SONG_FORM));
    const chorus = song.sections.find(({ kind }) => kind === 'chorus')!;
    const asked = askOfDraft(song, chorus.id, { time: 'ride' });
    const drafted = draftSong(asked, library).song;
    const keeps = (kind: string) => {
      const section = drafted.sections.find((one) => one.kind === kind)!;
      return timekeeperOf(findPattern(drafted, section.spans[0].pattern)!, drafted.kit);
    };
    expect([keeps('verse'), keeps('chorus')]).toEqual(['hihat', 'ride']);
    expect(askOfDraft(asked, chorus.id, { time: undefined })).toEqual(song);
  });

  test('that cannot be met are said, and the nearest is done', () => {
    const bossa = { of: 'family' as const, family: 'Bossa' };
    const odd = draftSong(levelled(formed('verse 8 7/8', { feel: bossa }), 0.6), library);
    expect(odd.says.join()).toMatch(/7\/8/);
    expect(timeline(odd.song).length).toBeGreaterThan(20);
    const toms = DEFAULT_KIT.pieces.flatMap(({ id, family }) => (family === 'toms' ? [id] : []));
    const bare = { time: 'ride', without: [...toms, 'ride', 'ride-2'], longest: 8 };
    const said = draftSong(proposed(formed(SONG_FORM, bare)), library).says.join();
    expect(said).toMatch(/There is no ride to keep time with/);
    expect(said).toMatch(/no toms for a tom fill/);
    const gone = draftSong(formed('verse 4', { feel: { of: 'shelf', pattern: 'gone' } }), library);
    expect(gone.says.join()).toMatch(/not there any more/);
    expect(timeline(gone.song).length).toBeGreaterThan(5);
  });

  test('like a groove of the shelf is that groove, varied: at middling energy it is nearly all there', () => {
    const own = { ...families.find(({ name }) => name === 'Disco')!.patterns[6], id: 'own' };
    const song = formed('verse 8', {
      feel: { of: 'shelf', pattern: 'own' },
      follow: 0,
      fills: 'never',
    });
    const { song: drafted } = draftSong(levelled({ ...song, patterns: [own] }, 0.5), library);
    const [groove] = grooves(drafted);
    const keys = (pattern: Pattern) =>
      pattern.strands.flatMap(({ piece, hits }) =>
        hits.filter(({ at }) => at < barTicks(pattern.meter)).map(({ at }) => `${piece} ${at}`),
      );
    const there = new Set(keys(groove));
    const met = keys(own).filter((key) => there.has(key));
    expect(met.length).toBeGreaterThanOrEqual(0.85 * keys(own).length);
  });
});

test('every stroke of a draft says why it is there', () => {
  const steps = Array.from({ length: 60 * 4 }, (_, i) => i * 4);
  const { song } = draftSong(proposed(withBass(formed(SONG_FORM), steps)), library);
  const said = new Set<string>();
  for (const { drafted, strands } of song.patterns) {
    expect(drafted!.says).not.toBe('');
    for (const { id } of strands.flatMap(({ hits }) => hits)) {
      const why = whyHit(drafted!, id);
      expect(why).toBeTruthy();
      said.add(why!.replace(/\d.*/, ''));
    }
  }
  const all = song.patterns.map(({ drafted }) => drafted!.says).join('\n');
  expect(all).toMatch(/fill of .*: energy rises by .* into chorus/);
  expect([...said].join('\n')).toMatch(/kick with the bass on/);
  expect([...said].join('\n')).toMatch(/turn of bar/);
});

test('drafts of a family are as like its grooves as those are like each other', () => {
  const quantile = (list: number[], share: number) =>
    [...list].sort((a, b) => a - b)[Math.round(share * (list.length - 1))];
  const all = families.map(({ name, bpm, patterns }) => {
    const prints = (list: readonly Pattern[]) =>
      list.map((pattern) => fingerprintOf(strokesOfPattern(pattern, bpm)));
    const own = patterns.filter(({ kind }) => kind === 'groove');
    const played = prints(own);
    const far = (print: Uint8Array, others: readonly Uint8Array[]) =>
      nearest(print, others, [], 1)[0].distance;
    const among = played.map((print, i) => far(print, played.toSpliced(i, 1)));
    const meter = meterName(own[0].meter);
    const kinds = ['intro 4', 'verse 8', 'chorus 8', 'bridge 8', 'solo 8', 'outro 4'];
    const form = kinds.map((part) => `${part} ${meter}`).join(', ');
    const drafted = [1, 2, 3].flatMap((seed) => {
      const song = formed(form, { feel: { of: 'family', family: name }, seed }, bpm);
      return prints(grooves(draftSong(proposed(song), library).song));
    });
    const apart = drafted.map((print) => far(print, played));
    expect(quantile(apart, 0.5)).toBeLessThan(1.6 * quantile(among, 0.5));
    expect(quantile(apart, 0.9)).toBeLessThan(1.3 * quantile(among, 1));
    return { apart: quantile(apart, 0.5), among: quantile(among, 0.5) };
  });
  const sum = (of: 'apart' | 'among') => all.reduce((total, one) => total + one[of], 0);
  expect(sum('apart')).toBeLessThan(sum('among'));
});

describe('more like this', () => {
  test.each(['Straight rock', 'Funk with ghosts', 'Bossa', 'Seven', 'Brushes waltz'])(
    'gives eight neighbours of a groove of “%s”, from the nearest to the boldest',
    (name) => {
      const [groove] = families.find((family) => family.name === name)!.patterns.slice(8);
      const song = { ...songWith({ id: 's', name: 's' }), patterns: [groove] };
      const near = neighboursOf(song, groove, library, 5);
      expect(near).toHaveLength(8);
      const print = (pattern: Pattern) => fingerprintOf(strokesOfPattern(pattern, 110));
      const far = near.map(({ pattern }) => {
        const [{ distance }] = nearest(print(groove), [print(pattern)]);
        return distance;
      });
      expect(far).toEqual([...far].sort((a, b) => a - b));
      expect(far[7]).toBeGreaterThan(1.5 * far[0]);
      expect(new Set(near.map(({ pattern }) => JSON.stringify(pattern.strands))).size).toBe(8);
      for (const { pattern, says } of near) {
        const heard: Song = { ...song, patterns: [pattern] };
        expect(checkSong(heard)).toEqual([]);
        expect(says).not.toBe('');
        expect(pattern.length).toBe(groove.length);
        const played = addSection(heard, newSectionFor(pattern, 'all'), 'place', 0);
        expect(impossibles(played)).toEqual([]);
      }
      expect(neighboursOf(song, groove, library, 5)).toEqual(near);
      expect(neighboursOf(song, groove, library, 6)).not.toEqual(near);
    },
  );
});

describe('of a draft', () => {
  const { song } = draftSong(proposed(formed(SONG_FORM)), library);

  test('it is said which bars the next one changes, and which it leaves', () => {
    const [verse] = song.sections.filter(({ kind }) => kind === 'verse');
    const locked = setLock(song, 'section', verse.id, true);
    const chorus = laidPlaces(song)[2];
    const edited = editAt(
      locked,
      { place: chorus.place.id, from: 0, to: 3840 },
      'place',
      (pattern) => removeHits(pattern, allIds(pattern)),
    ) as Song;
    const { bars, counts } = reportOf(edited);
    expect(bars).toHaveLength(64);
    expect(counts).toEqual({ empty: 0, drafted: 39, 'by hand': 1, elsewhere: 0, locked: 24 });
    expect(bars[chorus.firstBar]).toBe('by hand');
    expect(saidReport(reportOf(edited))).toBe(
      'drafted 39 of 64 bars · 24 locked · 1 changed by hand',
    );
    expect(saidLeft(reportOf(edited))).toBe(
      'The next draft leaves bars 5 to 13, 21 to 28 and 45 to 52 as they are.',
    );
    const again = draftSong(rollDraft(edited, undefined), library).song;
    laidPlaces(again).forEach((laid, i) => {
      const lines = barLinesOf(laid.section);
      for (let bar = 0; bar < laid.section.bars; bar++) {
        if (bars[laid.firstBar + bar] === 'drafted') continue;
        const woven = (of: Song) =>
          wovenOf(
            of,
            laidPlaces(of)[i],
            { from: lines[bar], to: lines[bar + 1] },
            'place',
          ).pattern.strands.filter(({ hits }) => hits.length > 0);
        expect(woven(again)).toEqual(woven(edited));
      }
    });
  });

  test('a fill, a stroke and a bar say why they are there', () => {
    const laid = laidPlaces(song)[1];
    const end = laid.end - laid.start;
    const fill = whyAt(song, { place: laid.place.id, at: end - 100 })!;
    expect(fill.asks).toBe('Why this fill?');
    expect(fill.says.join(' ')).toMatch(/energy rises by .* into chorus/);
    const backbeat = whyAt(song, { place: laid.place.id, at: 960, piece: 'snare' })!;
    expect(backbeat).toEqual({ asks: 'Why this snare?', says: ['backbeat on 2'] });
    const turn = whyAt(song, { place: laid.place.id, at: 3 * 3840 + 10 })!;
    expect(turn.says.join(' ')).toMatch(/turn of bar 4/);
    expect(whyAt(song, { place: 'gone', at: 0 })).toBeUndefined();
  });
});
