import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { DEFAULT_KIT, emptyPattern, emptySong, sectionOf, type Hit, type Song } from '../model';
import { placeHits } from '../pattern';
import { drafted, formed, formIn, proposed, SONG_FORM } from '../testing/drafts';
import { anyWholeSong } from '../testing/songs';
import { barTicks, groupsOf, isMeter, METER_UNITS, valueOf, type Meter } from '../time';
import { notationOf, type Chord } from './notation';
import { DENSITIES, pagesOf } from './pages';
import { repeatsIn } from './repeats';
import { writtenBar } from './rhythm';
import { isNamedOnStaff, VOICES, writtenAs } from './staff';

const hit = (at: number, rest: Partial<Hit> = {}): Hit => ({
  id: `h${at}`,
  at,
  push: 0,
  velocity: 90,
  articulation: 'usual',
  ...rest,
});

function songOf(bars: Record<string, Hit[]>[], meter: Meter = { beats: 4, unit: 4 }): Song {
  const patterns = bars.map((pieces, i) =>
    placeHits(
      emptyPattern({ id: `p${i}`, name: `Bar ${i}`, bars: 1, meter }),
      Object.entries(pieces).flatMap(([piece, hits]) => hits.map((one) => ({ piece, hit: one }))),
    ),
  );
  const length = barTicks(meter);
  const section = {
    ...sectionOf(patterns[0], { id: 'a', name: 'Part', kind: 'part' as const, bars: bars.length }),
    spans: patterns.map(({ id }, i) => ({
      id: `s${i}`,
      role: 'groove' as const,
      anchor: 'start' as const,
      pieces: 'all' as const,
      from: i * length,
      to: (i + 1) * length,
      pattern: id,
      offset: 0,
      mode: 'replace' as const,
    })),
  };
  return {
    ...emptySong('s', 'Quay', 'p0'),
    patterns,
    sections: [section],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
}

/** "8 16 16r 4. (3: 8 8 8)": the values of a voice, rests with r, tuplets by how many they are. */
const values = (chords: readonly Chord[]) =>
  chords
    .map(
      ({ base, dots, struck, tuplet }) =>
        `${tuplet ? `${tuplet.actual}:` : ''}${base}${dots ? '.' : ''}${struck.length ? '' : 'r'}`,
    )
    .join(' ');

const anyMeter = fc
  .record({ beats: fc.integer({ min: 1, max: 32 }), unit: fc.constantFrom(...METER_UNITS) })
  .filter(isMeter);

describe('a bar as notes and rests', () => {
  test('lasts exactly as long as its meter, and every note is one that there is', () => {
    fc.assert(
      fc.property(anyMeter, fc.array(fc.nat(1000), { maxLength: 24 }), (meter, shares) => {
        const length = barTicks(meter);
        const onsets = shares
          .map((share, i) => ({ home: Math.round((share * length) / 1001), struck: i }))
          .sort((a, b) => a.home - b.home);
        const written = writtenBar(onsets, meter);
        let at = 0;
        for (const one of written) {
          expect(one.at).toBeCloseTo(at, 6);
          const nominal = one.tuplet ? one.tuplet.actual / one.tuplet.normal : 1;
          expect(valueOf(one.ticks * nominal)).toEqual({ base: one.base, dots: one.dots });
          at += one.ticks;
        }
        expect(at).toBeCloseTo(length, 6);
        expect(written.flatMap(({ struck }) => struck).sort((a, b) => a - b)).toEqual(
          shares.map((_, i) => i),
        );
      }),
    );
  });

  test('has every stroke on its step, where the step is one that notes can say', () => {
    const rates = [960, 480, 240, 120, 60, 320, 160, 80, 192];
    fc.assert(
      fc.property(
        fc.constantFrom(...rates),
        fc.uniqueArray(fc.nat(63), { minLength: 1 }),
        (step, steps) => {
          const onsets = steps
            .map((n) => n * step)
            .filter((home) => home < 3840)
            .sort((a, b) => a - b)
            .map((home) => ({ home, struck: home }));
          for (const { at, struck } of writtenBar(onsets, { beats: 4, unit: 4 })) {
            for (const home of struck) expect(at).toBeCloseTo(home, 6);
          }
        },
      ),
    );
  });

  test('groups its beats as they are counted', () => {
    const counted = (beats: number, unit: number) =>
      groupsOf({ beats, unit }).map((ticks) => ticks / (3840 / unit));
    expect(counted(4, 4)).toEqual([1, 1, 1, 1]);
    expect(counted(6, 8)).toEqual([3, 3]);
    expect(counted(7, 8)).toEqual([2, 2, 3]);
    expect(counted(5, 8)).toEqual([2, 3]);
    expect(counted(5, 16)).toEqual([3, 2]);
    expect(groupsOf({ beats: 2, unit: 2 })).toEqual([960, 960, 960, 960]);
  });
});

describe('a song as drum notation', () => {
  test('fills every bar in both voices, whatever the song', () => {
    fc.assert(
      fc.property(anyWholeSong, (song) => {
        const { bars } = notationOf(song);
        for (const { voices, meter } of bars) {
          for (const chords of Object.values(voices)) {
            const total = chords.reduce((sum, { ticks }) => sum + ticks, 0);
            expect(total).toBeCloseTo(barTicks(meter), 6);
          }
        }
      }),
    );
  });

  test('writes what feet play with stems of their own', () => {
    const song = songOf([
      {
        kick: [hit(0), hit(2400)],
        snare: [hit(960)],
        hihat: [hit(0), hit(1920, { articulation: 'pedal' })],
      },
    ]);
    const [{ voices }] = notationOf(song).bars;
    expect(values(voices.hands)).toBe('4 4 2r');
    expect(values(voices.feet)).toBe('4 4r 8 8 4r');
  });

  test('writes triplets as triplets, and swing straight', () => {
    const triplets = { hihat: [0, 320, 640, 960, 1600].map((at) => hit(at)) };
    expect(values(notationOf(songOf([triplets])).bars[0].voices.hands)).toBe(
      '3:8 3:8 3:8 3:4 3:8 2r',
    );
    // Three in the time of two quarters are one triplet, where a half of the bar begins.
    const wide = { hihat: [0, 640, 1280, 1920, 2880].map((at) => hit(at)) };
    expect(values(notationOf(songOf([wide])).bars[0].voices.hands)).toBe('3:4 3:4 3:4 4 4');
    const song = songOf([triplets, triplets, triplets]);
    const [first, second] = song.patterns;
    const swings = { ...second, swing: { unit: 480, percent: 64 } };
    expect(
      notationOf({ ...song, patterns: [first, swings, song.patterns[2]] }).bars.map(
        (one) => one.swing,
      ),
    ).toEqual([undefined, 'swing eighths, 64 %', 'straight']);
    const swung = { hihat: [0, 480, 960, 1440].map((at) => hit(at, { push: at % 960 ? 160 : 0 })) };
    const [bar] = notationOf(songOf([swung])).bars;
    expect(values(bar.voices.hands)).toBe('8 8 8 8 2r');
    expect(bar.voices.hands[1].struck[0].tick).toBe(640);
  });

  test('a flam is a note with a grace note, ghosts and accents are marked', () => {
    const song = songOf([
      {
        snare: [
          hit(0, { flam: { strokes: 2, lead: 40, softness: 0.5 } }),
          hit(960, { velocity: 30 }),
          hit(1920, { velocity: 120 }),
        ],
      },
    ]);
    const struck = notationOf(song).bars[0].voices.hands.flatMap((chord) => chord.struck);
    expect(struck.map(({ graces, ghost, accent }) => [graces.length, ghost, accent])).toEqual([
      [2, false, false],
      [0, true, false],
      [0, false, true],
    ]);
  });

  test('explains ghosts and accents where there are some', () => {
    const marks = (hits: Hit[]) =>
      notationOf(songOf([{ snare: hits }])).marks.map(({ mark }) => mark);
    expect(marks([hit(0)])).toEqual([]);
    expect(marks([hit(0, { velocity: 30 }), hit(960)])).toEqual(['ghost']);
    expect(marks([hit(0, { velocity: 30 }), hit(960, { velocity: 125 })])).toEqual([
      'ghost',
      'accent',
    ]);
  });

  test('an even roll is one note with bars through its stem, but not where others play into it', () => {
    const roll = hit(0, { burst: { strokes: 4, room: 960, slope: 0 } });
    const alone = notationOf(songOf([{ snare: [roll] }])).bars[0].voices.hands;
    expect(values(alone)).toBe('4 4r 2r');
    expect(alone[0].struck[0].tremolo).toBe(2);
    const within = notationOf(songOf([{ snare: [roll], ride: [hit(480)] }])).bars[0].voices.hands;
    expect(values(within)).toBe('16 16 16 16 4r 2r');
    expect(within.flatMap(({ struck }) => struck).filter(({ tremolo }) => tremolo)).toEqual([]);
  });
});

describe('bars that are like those before them', () => {
  const A = { kick: [hit(0)] };
  const B = { snare: [hit(0)] };
  const signs = (song: Song) =>
    [...repeatsIn(notationOf(song))].map(([bar, sign]) => `${bar}:${sign.like}`).join(' ');

  test('are signs of one bar or of two, and the first of a section is written out', () => {
    expect(signs(songOf([A, A, A]))).toBe('1:1 2:1');
    expect(signs(songOf([A, B, A, B]))).toBe('2:2 3:2');
    expect(signs(songOf([A, B, A]))).toBe('');
    const twice = songOf([A, A]);
    const places = [...twice.places, { id: 'y', section: 'a', overlay: [] }];
    expect(signs({ ...twice, places })).toBe('1:1 3:1');
  });

  test('are not signs where something that is written differs', () => {
    expect(signs(songOf([A, { kick: [hit(0, { velocity: 120 })] }]))).toBe('');
    expect(signs(songOf([A, { kick: [hit(0, { velocity: 91, push: 9 })] }]))).toBe('1:1');
  });

  test('leave no bar of the demo out: each sign points at a bar that looks like it', () => {
    const notation = notationOf(demoSongs()[0]);
    const repeats = repeatsIn(notation);
    expect(repeats.size).toBeGreaterThan(8);
    for (const [bar, { like }] of repeats) {
      expect(notation.bars[bar].hits).toBe(notation.bars[bar - like].hits);
    }
  });
});

describe('what is printed', () => {
  /** The step that all values of a beat are counted in, as a reader sees it. */
  const finest = (chords: readonly Chord[], beat: number) =>
    chords
      .filter(({ group }) => group === beat)
      .map(({ ticks }) => ticks)
      .reduce((a, b) => common(a, b));
  const common = (a: number, b: number): number => (b < 1 ? a : common(b, a % b));

  /** How far each stroke is written from where it sounds, by the finest step of its beat or of the one it sounds in. */
  function offsets(song: Song): number[] {
    const { bars } = notationOf(song);
    return bars.flatMap((bar, i) =>
      VOICES.flatMap((voice) => {
        const chords = bar.voices[voice];
        return chords.flatMap(({ at, group, struck }) =>
          struck.map(({ tick }) => {
            const off = Math.abs(tick - bar.start - at);
            const sounds = bars.findLast(({ start }) => start <= tick) ?? bars[0];
            const there = sounds.voices[voice];
            const beat = there.findLast((chord) => sounds.start + chord.at <= tick) ?? there[0];
            const step = Math.max(finest(chords, group), finest(there, beat.group));
            // Nothing comes behind the last bar: what is struck at its end stays in it.
            const isLast = i === bars.length - 1 && tick > bar.start + barTicks(bar.meter) - step;
            return isLast ? 0 : off / Math.max(step, 60);
          }),
        );
      }),
    );
  }

  test('is nowhere further from what is played than half the finest step of that beat', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            at: fc.nat(63).map((n) => n * 120),
            push: fc.integer({ min: -480, max: 480 }),
            piece: fc.constantFrom('snare', 'kick', 'hihat', 'tambourine'),
          }),
          { minLength: 1, maxLength: 24 },
        ),
        (strokes) => {
          const bars = [0, 1].map((bar) => {
            const pieces: Record<string, Hit[]> = {};
            strokes.forEach(({ at, push, piece }, i) => {
              if (Math.floor(at / 3840) !== bar) return;
              (pieces[piece] ??= []).push(hit(at % 3840, { id: `h${i}`, push }));
            });
            return pieces;
          });
          expect(Math.max(...offsets(songOf(bars)))).toBeLessThanOrEqual(0.5 + 1e-6);
        },
      ),
    );
  });

  test('is nearest to what is played in whole songs, and nothing is lost or written twice', () => {
    fc.assert(
      fc.property(anyWholeSong, (song) => {
        const strokes = notationOf(song).bars.flatMap(({ voices }) =>
          VOICES.flatMap((voice) => voices[voice].flatMap(({ struck }) => struck)),
        );
        expect(new Set(strokes).size).toBe(strokes.length);
        const straight = { ...song, patterns: song.patterns.map(({ swing: _, ...rest }) => rest) };
        expect(Math.max(0, ...offsets(straight))).toBeLessThanOrEqual(0.5 + 1e-6);
      }),
    );
  });

  test('is read straight under its swing, and moves where a stroke is far off that', () => {
    const song = songOf([
      { kick: [hit(0), hit(480), hit(1920, { push: 740 })], snare: [hit(240)] },
    ]);
    const swung = {
      ...song,
      patterns: song.patterns.map((one) => ({ ...one, swing: { percent: 75, unit: 480 } })),
    };
    const onsets = notationOf(swung).bars[0].voices.feet.filter(({ struck }) => struck.length > 0);
    // The second eighth sounds at 720 and stands on its step; what sounds at 2660 is nearer to the fourth beat.
    expect(onsets.map(({ at }) => at)).toEqual([0, 480, 2880]);
  });

  test('is a swing over straight eighths where a whole section shuffles, and triplets stay', () => {
    const shuffle = [0, 640, 960, 1600, 1920, 2560, 2880, 3520];
    const bar = { ride: shuffle.map((at) => hit(at)), kick: [hit(0), hit(640)] };
    const fill = { snare: [hit(0), hit(320), hit(640), hit(960)] };
    const [first, , last] = notationOf(songOf([bar, bar, fill])).bars;
    expect(first.swing).toBe('swing eighths, 67 %');
    expect(values(first.voices.hands)).toBe('8 8 8 8 8 8 8 8');
    expect(values(first.voices.feet)).toBe('8 8 4r 2r');
    expect(values(last.voices.hands)).toBe('3:8 3:8 3:8 4 2r');
    // One beat in two halves would be read as a shuffle too.
    const [halved] = notationOf(songOf([bar, bar, { snare: [hit(0), hit(480)] }])).bars;
    expect(halved.swing).toBeUndefined();
    expect(values(halved.voices.hands)).toContain('3:4 3:8');
  });

  test('has no two signs alike for two strokes of the drum set, and letters where percussion is', () => {
    const seen = new Map<string, string>();
    for (const { id, articulations } of DEFAULT_KIT.pieces) {
      for (const way of articulations) {
        const { step, octave, head, halfOpen, voice } = writtenAs(id, way.id, DEFAULT_KIT);
        const letters = isNamedOnStaff(id) ? id : '';
        const sign = [voice, step, octave, head, halfOpen, letters].join(' ');
        expect([sign, seen.get(sign)]).toEqual([sign, undefined]);
        seen.set(sign, `${id} ${way.id}`);
        if (voice === 'percussion') expect(letters).not.toBe('');
      }
    }
  });

  test('has hand percussion on a line of its own, or leaves it out', () => {
    const song = songOf([
      { snare: [hit(960)], tambourine: [hit(0), hit(960)], cowbell: [hit(960)] },
    ]);
    const [{ voices, hits }] = notationOf(song).bars;
    expect(voices.hands.flatMap(({ struck }) => struck).map(({ piece }) => piece)).toEqual([
      'snare',
    ]);
    expect(values(voices.percussion)).toBe('4 4 2r');
    expect(hits).toBe(4);
    const without = notationOf(song, { percussion: false });
    expect(without.bars[0].hits).toBe(1);
    expect(without.legend.map(({ piece }) => piece)).toEqual(['snare']);
  });
});

describe('pages', () => {
  const songs = [
    ...demoSongs(),
    ...[SONG_FORM, formIn('12/8'), formIn('7/8')].map((form) => drafted(proposed(formed(form)))),
  ];
  const densities = DENSITIES.flatMap((density) =>
    (['A4', 'Letter'] as const).map((paper) => ({ density, paper })),
  );

  test('have every bar of the song once and in order, and no empty line', () => {
    for (const song of songs) {
      const notation = notationOf(song);
      for (const wish of densities) {
        const cells = pagesOf(notation, wish).flatMap(({ systems }) =>
          systems.flatMap((system) => system.cells.map(({ cell }) => cell)),
        );
        expect(cells.map(({ bar }) => bar.index)).toEqual(
          cells.map((_, i) => cells.slice(0, i).reduce((sum, { bars }) => sum + bars, 0)),
        );
        expect(cells.reduce((sum, { bars }) => sum + bars, 0)).toBe(notation.bars.length);
        expect(cells.reduce((sum, { hits }) => sum + hits, 0)).toBe(
          notation.bars.reduce((sum, { hits }) => sum + hits, 0),
        );
      }
    }
  });

  test('begin no line with a sign for bars of the line before, and no phrase of four in its middle', () => {
    for (const song of songs) {
      const notation = notationOf(song);
      for (const { systems } of pagesOf(notation, { density: 'full', paper: 'A4' })) {
        for (const { cells } of systems) {
          const [{ cell }] = cells;
          expect(cell.kind).not.toBe('repeat');
          cells.forEach((one, i) => {
            if (one.cell.kind === 'repeat') expect(i).toBeGreaterThanOrEqual(one.cell.like);
          });
          let begun = cell.bar.index;
          while (begun > 0 && notation.bars[begun].section === undefined) begun--;
          const into = (cell.bar.index - begun) % 4;
          const bars = cells.reduce((sum, one) => sum + one.cell.bars, 0);
          // A line ends a phrase, or a half or a quarter of one, or holds a rest that is longer.
          if (cells.every((one) => one.cell.bars === 1)) expect(into + bars).toBeLessThanOrEqual(4);
        }
      }
    }
  });

  test('say a new meter at the end of the line before it as well', () => {
    let said = 0;
    for (const song of songs) {
      const notation = notationOf(song);
      const systems = pagesOf(notation, { density: 'full', paper: 'A4' }).flatMap(
        (page) => page.systems,
      );
      systems.forEach(({ courtesy }, i) => {
        const next = systems[i + 1]?.cells[0].cell.bar;
        expect(courtesy).toEqual(next?.newMeter ? next.meter : undefined);
        if (courtesy) said++;
      });
    }
    // The demo goes to seven eighths and back.
    expect(said).toBeGreaterThanOrEqual(2);
  });

  test('leave no last page that is nearly empty', () => {
    for (const song of songs) {
      const notation = notationOf(song);
      for (const paper of ['A4', 'Letter'] as const) {
        const pages = pagesOf(notation, { density: 'full', paper });
        const last = pages.at(-1)!;
        if (pages.length > 1) {
          const most = Math.max(...pages.map(({ systems }) => systems.length));
          expect(last.systems.length).toBeGreaterThanOrEqual(Math.min(2, most / 4));
        }
      }
    }
  });

  test('of a form have rests as rests, and what is played as slashes with its word', () => {
    const bar = { kick: [hit(0)] };
    const notation = notationOf(songOf([bar, bar, {}, bar]));
    const cells = pagesOf(notation, { density: 'form', paper: 'A4' }).flatMap(({ systems }) =>
      systems.flatMap((system) => system.cells.map(({ cell }) => [cell.kind, cell.bars])),
    );
    expect(cells).toEqual([
      ['form', 2],
      ['rest', 1],
      ['form', 1],
    ]);
  });
});
