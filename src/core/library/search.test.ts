import { guideOf } from '../model';
import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { strokesOfPattern } from './strokes';
import { busynessOf, featuresOf, guessKind } from './features';
import { fileOf } from '../testing/arbitraries';
import { readGrooveFile, readShippedFamily } from './file';
import { fingerprintOf, nearest } from './fingerprint';
import { identityOf, isGroove, type Groove } from './groove';
import { bestFirst, like, nearestTo, passes, sorted, sortedIn, SORTS, type SortBy } from './search';
import { readTab } from '../tab';
import { fitOf, onsetsBetween, saidFit } from '../guide';
import { auditioned, laidPlaces, timeline } from '../weave';
import { demoSongs } from '../../demo';

const tab = (text: string, id = 'x') => readTab(text, { id }).pattern!;
const strokes = (text: string, bpm = 120) => strokesOfPattern(tab(text), bpm);
const none = { stars: () => 0, note: () => '' };

const library: Groove[] = readdirSync('public/library').flatMap((file) => {
  const text = readFileSync(`public/library/${file}`, 'utf8');
  return readShippedFamily(text, file.replace(/\.tab$/, '')).grooves;
});

describe('features', () => {
  test('more strokes and more syncopation are busier', () => {
    const quarters = busynessOf(strokes('HH |x---x---x---x---|'));
    const eighths = busynessOf(strokes('HH |x-x-x-x-x-x-x-x-|'));
    expect(eighths).toBeGreaterThan(quarters);
    const square = busynessOf(strokes('SD |----o-------o---|\nBD |o-------o-------|'));
    const pushed = busynessOf(strokes('SD |----o-------o---|\nBD |o-----o---------|'));
    expect(pushed).toBeGreaterThan(square);
  });

  test('a shuffle swings by two thirds, straight eighths by nothing', () => {
    expect(featuresOf(strokes('HH |x-xx-xx-xx-x|')).swing).toBeCloseTo(66.7, 0);
    expect(featuresOf(strokes('HH |x-x-x-x-x-x-x-x-|')).swing).toBe(50);
    expect(featuresOf(strokes('HH |xxxxxxxxxxxxxxxx|')).swing).toBe(50);
  });

  test('a piece that is played late is said to be late by so many milliseconds', () => {
    const late = tab('SD |----o-------o---|\nBD |o-------o-------|');
    const pushed = {
      ...late,
      strands: late.strands.map((strand) =>
        strand.piece === 'snare'
          ? { ...strand, hits: strand.hits.map((hit) => ({ ...hit, push: 19.2 })) }
          : strand,
      ),
    };
    // 19.2 ticks are 10 ms at 120 bpm.
    expect(featuresOf(strokesOfPattern(pushed, 120)).push).toEqual({ kick: 0, snare: 10 });
  });

  test('what a groove is for is guessed from its name, or else from its shape', () => {
    const meter = { beats: 4, unit: 4 };
    const of = (text: string) => featuresOf(strokes(text));
    const beat = of('HH |x-x-x-x-x-x-x-x-|\nSD |----o-------o---|');
    const run = of('SD |oooo------------|\nT1 |----oooo--------|\nT5 |--------oooo----|');
    expect(guessKind('07 Fill A', beat, meter)).toBe('fill');
    expect(guessKind('long outro', beat, meter)).toBe('ending');
    expect(guessKind('a17', beat, meter)).toBe('groove');
    expect(guessKind('a17', run, meter)).toBe('fill');
  });

  test('identity is of the hits, not of the name or the order they are listed in', () => {
    const one = strokes('name: A\nHH |x-x-|\nBD |o---|');
    expect(identityOf(strokes('name: B\nBD |o---|\nHH |x-x-|'))).toBe(identityOf(one));
    expect(identityOf(strokes('HH |x-x-|\nBD |o--o|'))).not.toBe(identityOf(one));
  });
});

describe('finding', () => {
  test('the nearest to a groove is itself, and then one of its own family', () => {
    const rock = library.find(({ name }) => name.startsWith('Straight rock 4'))!;
    const prints = library.map(({ print }) => print);
    expect(library[nearest(rock.print, prints, [], 1)[0].index]).toBe(rock);
    expect(like(rock, library, [], 1)[0].family).toBe('Straight rock');
  });

  test('with a similar kick only, other pieces do not count', () => {
    const a = fingerprintOf(strokes('BD |o--o----o-------|'));
    const same = fingerprintOf(strokes('BD |o--o----o-------|\nHH |xxxxxxxxxxxxxxxx|'));
    const other = fingerprintOf(strokes('BD |----o-------o---|'));
    expect(nearest(a, [other, same], ['kick'])[0]).toEqual({ index: 1, distance: 0 });
    expect(nearest(a, [other, same])[0].index).toBe(0);
  });

  test('a stroke a little off is nearer than one that is missing', () => {
    const on = fingerprintOf(strokes('SD |----o-----------|'));
    const beside = fingerprintOf(strokes('SD |-----o----------|'));
    const far = fingerprintOf(strokes('SD |------------o---|'));
    const order = nearest(on, [far, beside], ['snare']).map(({ index }) => index);
    expect(order).toEqual([1, 0]);
  });

  test('a file that changes its meter is listed so', () => {
    const note = (tick: number) => ({ tick, note: 38, velocity: 90, duration: 24, channel: 9 });
    const read = (meters: { tick: number; beats: number; unit: number }[], last: number) =>
      readGrooveFile(
        fileOf([note(0), note(last)], { ppq: 96, meter: { beats: 4, unit: 4 }, meters }),
        'a/b.mid',
        'id',
      );
    const groove = (file: ReturnType<typeof read>) => ('groove' in file ? file.groove : undefined);
    const seven = { tick: 4 * 96, beats: 7, unit: 8 };
    expect(groove(read([seven], 5 * 96))!.otherMeters).toBe(true);
    // Behind the last note nothing changes.
    expect(groove(read([seven], 3 * 96))!.otherMeters).toBeUndefined();
    expect(groove(read([], 5 * 96))!.otherMeters).toBeUndefined();
    expect(isGroove(groove(read([seven], 5 * 96)))).toBe(true);
  });

  test('a file that waits for millions of bars is measured as far as a song can be', () => {
    const note = (tick: number) => ({ tick, note: 36, velocity: 90, duration: 9, channel: 9 });
    const read = readGrooveFile(fileOf([note(0), note(2 ** 30)], { ppq: 24 }), 'a/b.mid', 'own/b');
    expect(read).toMatchObject({ groove: { hits: 1, bars: 1 } });
  });

  test('filters leave what fits all of them, and words may come in any order', () => {
    const fit = (filter: Parameters<typeof passes>[1]) =>
      library.filter((groove) => passes(groove, filter, none));
    expect(new Set(fit({ meter: '3/4' }).map(({ family }) => family))).toEqual(
      new Set(['Brushes waltz', 'Waltz with sticks']),
    );
    expect(fit({ text: 'ghosts funk' }).length).toBeGreaterThan(0);
    expect(fit({ text: 'zither' })).toEqual([]);
    const hats = library.filter(({ pieces }) => pieces.includes('hihat'));
    for (const text of ['hi-hat', 'hihat', 'hats', 'HiHats']) {
      const found = new Set(fit({ text }));
      expect(hats.filter((groove) => !found.has(groove))).toEqual([]);
    }
    const [fourth] = bestFirst(fit({ text: 'Straight rock 4' }), 'Straight rock 4');
    expect(fourth.name).toMatch(/^Straight rock 4/);
    // Counted in half or double time it can be played as well.
    const tempos = new Set(fit({ bpm: [138, 142] }).map(({ bpm }) => Math.round(bpm)));
    expect(
      [...tempos].every((bpm) => [69, 70, 71].includes(bpm) || (bpm >= 138 && bpm <= 142)),
    ).toBe(true);
    expect(fit({ bpm: [138, 142] }).length).toBeGreaterThan(0);
    const soft = fit({ busyness: [0, 20], kind: 'groove', lacks: ['snare'] });
    expect(soft.length).toBeGreaterThan(0);
    expect(soft.every(({ pieces }) => !pieces.includes('snare'))).toBe(true);
    expect(fit({ stars: 1 })).toEqual([]);
    const dense = fit({ perBeat: [6, Infinity] });
    expect(dense.length).toBeGreaterThan(0);
    expect(Math.min(...dense.map(({ perBeat }) => perBeat))).toBeGreaterThanOrEqual(6);
    // A strand that is asked for is the one that has to lie late.
    const late = fit({ push: [4, Infinity] });
    const lateSnare = fit({ push: [4, Infinity], uses: ['snare'] });
    expect(lateSnare.length).toBeGreaterThan(0);
    expect(lateSnare.length).toBeLessThan(late.length);
    expect(lateSnare.every(({ push }) => push.snare! >= 4)).toBe(true);
    expect(fit({ ppq: 0 })).toEqual(library);
    expect(fit({ ppq: 480 })).toEqual([]);
  });

  const search = (text: string) =>
    bestFirst(
      library.filter((groove) => passes(groove, { text }, none)),
      text,
    );

  test.each([
    ['bossa', 'Bossa'],
    ['disco', 'Disco'],
    ['samba', 'Samba'],
    ['baiao', 'Baião'],
    ['blast beat', 'Heavy, two kicks'],
    ['metal', 'Heavy, two kicks'],
    ['reggae', 'One-drop'],
    ['house', 'Four on the floor'],
    ['country', 'Train beat'],
    ['new orleans', 'Second line'],
    ['trap', 'Programmed, fast hats'],
    ['half time shuffle', 'Shuffle'],
    ['hip hop', 'Breakbeat'],
    ['punk', 'Double-time'],
    ['seven', 'Seven'],
    ['7/8', 'Seven'],
  ])('“%s” finds what drummers call so, the best first', (text, family) => {
    const found = search(text);
    expect(found.length).toBeGreaterThan(3);
    const first = found.slice(0, 40).map((groove) => groove.family);
    expect(first).toContain(family);
  });

  test('names come before families, those before other words, and four before odd meters', () => {
    const [first] = search('shuffle');
    expect(first.name).toMatch(/shuffle/i);
    const found = search('rock');
    const odd = found.findIndex(({ meter }) => meter.beats !== 4);
    expect(odd).toBeGreaterThan(10);
    expect(found.slice(0, 10).every(({ name }) => /rock/i.test(name))).toBe(true);
    // A number by itself is a tempo.
    const tempos = search('140').map(({ bpm }) => bpm);
    expect(tempos.length).toBeGreaterThan(10);
    for (const bpm of tempos) {
      expect([0.5, 1, 2].some((factor) => Math.abs(bpm * factor - 140) < 9)).toBe(true);
    }
  });

  test('where nothing is what is asked for, the nearest is offered', () => {
    expect(search('funky bossa')).toEqual([]);
    const near = nearestTo(library, 'funky bossa');
    expect(near.length).toBeGreaterThan(10);
    expect(near[0].family).toMatch(/Bossa|unk/);
    expect(nearestTo(library, 'xyzzy')).toEqual([]);
  });

  const order = (by: SortBy, down: boolean) => ({ by, down, stars: () => 0, fit: () => 0 });

  test('sorting by a column puts it in order, both ways', () => {
    const up = sorted(library, order('busyness', false)).map(({ busyness }) => busyness);
    expect(up).toEqual([...up].sort((a, b) => a - b));
    const down = sorted(library, order('bpm', true)).map(({ bpm }) => bpm);
    expect(down).toEqual([...down].sort((a, b) => b - a));
  });

  test('a list that nobody sorted begins with plain families, and has all others by the alphabet', () => {
    const families = [
      ...new Set(sorted(library, order('plain', false)).map(({ family }) => family)),
    ];
    expect(families.slice(0, 3)).toEqual(['Straight rock', 'Four on the floor', 'Half-time']);
    const plain = families.indexOf('Ballad in six') + 1;
    const alphabet = sorted(library, order('family', false)).map(({ family }) => family);
    expect(families.slice(plain)).toEqual(
      [...new Set(alphabet)].filter((family) => families.indexOf(family) >= plain),
    );
    expect(new Set(families)).toEqual(new Set(library.map(({ family }) => family)));
  });

  test('rows that come later are put where sorting all of them would put them', () => {
    const few = library.filter((_, i) => i % 5 === 0);
    fc.assert(
      fc.property(
        fc.constantFrom(...SORTS),
        fc.boolean(),
        fc.nat({ max: few.length }),
        (by, down, cut) => {
          const before = sorted(few.slice(0, cut), order(by, down));
          const all = sortedIn(before, few.slice(cut), order(by, down));
          expect(all.map(({ id }) => id)).toEqual(sorted(few, order(by, down)).map(({ id }) => id));
        },
      ),
    );
  });
});

describe('against a guide', () => {
  const note = (at: number) => ({ at, length: 400, note: 36, velocity: 90 });
  const guides = [{ guide: guideOf('b', 'bass', 0, [0, 1440, 1920].map(note)), start: 0 }];

  test('a kick on each of its notes fits wholly, and it is said in words', () => {
    const onsets = onsetsBetween(guides, 0, 3840);
    const good = fitOf(strokes('BD |o-----o-o-------|'), onsets, 3840);
    expect([good.score, saidFit(good)]).toEqual([100, 'meets 3 of 3 notes of the reference part']);
    const half = fitOf(strokes('BD |o-----o-o-oo-o--|'), onsets, 3840);
    expect([half.score, half.alone]).toEqual([50, 3]);
    const bad = fitOf(strokes('BD |----o-------o---|'), onsets, 3840);
    expect(bad.score).toBe(0);
    expect(saidFit(bad)).toMatch(/meets 0 of 3.*2 kicks fall where it is silent/);
  });

  test('accents of other pieces meet it too, unless only the kick is asked for', () => {
    const onsets = onsetsBetween(guides, 0, 3840);
    const groove = strokes('SD |------O-O-------|\nBD |o---------------|');
    expect(fitOf(groove, onsets, 3840).score).toBe(100);
    expect(fitOf(groove, onsets, 3840, 'kick').score).toBe(33);
  });

  test('a fill is measured over the whole stretch, not in the one bar it suits', () => {
    const eight = Array.from({ length: 8 }, (_, bar) => note(bar * 3840));
    const onsets = onsetsBetween(
      [{ guide: guideOf('b', 'bass', 0, eight), start: 0 }],
      0,
      8 * 3840,
    );
    const fill = { ...strokes('BD |oooo------------|'), length: 960 };
    expect(fitOf(fill, onsets, 8 * 3840).score).toBeLessThan(10);
  });

  test('an audition replaces the drums of its stretch, and nothing else', () => {
    const [song] = demoSongs();
    const [from, to] = [4 * 3840, 8 * 3840];
    const pattern = tab('CB |x-x-x-x-x-x-x-x-|');
    const heard = timeline(auditioned(song, { pattern }, from, to));
    const inside = heard.filter(({ home }) => home >= from && home < to);
    // Fills that lead on stay on top of it.
    const tried = inside.filter((hit) => hit.pattern === 'audition');
    expect(new Set(tried.map(({ piece }) => piece))).toEqual(new Set(['cowbell']));
    const fills = new Set(
      laidPlaces(song).flatMap(({ place: { overlay } }) => {
        const first = overlay.findIndex(({ role }) => role === 'fill');
        return first < 0 ? [] : overlay.slice(first).map((span) => span.pattern);
      }),
    );
    for (const hit of inside) {
      expect(hit.pattern === 'audition' || fills.has(hit.pattern)).toBe(true);
    }
    expect(tried.length).toBeGreaterThan(3 * 8);
    const outside = (hits: typeof heard) =>
      hits.filter(({ home }) => home < from || home >= to).map(({ home, hit }) => `${home} ${hit}`);
    expect(outside(heard)).toEqual(outside(timeline(song)));
  });

  test('only its ride over one’s own drums leaves the others where they are', () => {
    const [song] = demoSongs();
    const [from, to] = [12 * 3840, 14 * 3840];
    const pattern = tab('RD |x---x---x---x---|\nSD |oooooooooooooooo|');
    const heard = timeline(auditioned(song, { pattern, pieces: ['ride'] }, from, to));
    const of = (hits: typeof heard, piece: string) =>
      hits.filter((hit) => hit.piece === piece && hit.home >= from && hit.home < to).length;
    expect(of(heard, 'ride')).toBe(8);
    expect(of(heard, 'snare')).toBe(of(timeline(song), 'snare'));
  });
});

describe('a row that was stored', () => {
  test('is a row after it was stored, and none when any part of it is something else', () => {
    const fields = Object.keys(library[0]) as (keyof Groove)[];
    const odd = fc.constantFrom<unknown>(null, undefined, NaN, -1, {}, [], 'x', 1e400, [null]);
    fc.assert(
      fc.property(
        fc.nat(library.length - 1),
        fc.constantFrom(...fields),
        odd,
        (i, field, value) => {
          const row = structuredClone(library[i]);
          expect(isGroove(row)).toBe(true);
          const spoilt = { ...row, [field]: value };
          if (!isGroove(spoilt)) return;
          // What is let through can be listed, filtered, sorted and said.
          for (const by of Object.keys(SORTS) as SortBy[])
            sorted([spoilt, row], { by, down: true, stars: () => 0, fit: () => 0 });
          expect(passes(spoilt, { text: 'a' }, none)).toEqual(expect.any(Boolean));
        },
      ),
    );
    for (const value of [null, 7, 'x', [], {}]) expect(isGroove(value)).toBe(false);
  });
});
