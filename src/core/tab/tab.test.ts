import fc from 'fast-check';
import { checkSong, emptyPattern, emptySong, DEFAULT_KIT, type Pattern } from '../model';
import { placeHits } from '../pattern';
import { anyMeter } from '../testing/arbitraries';
import { anyWorkedPattern } from '../testing/commands';
import { barTicks } from '../time';
import { readTab } from './read';
import { readLegend, readMusic } from './rows';
import { signsOf } from './signs';
import { writeTab } from './write';

const read = (text: string) => readTab(text, { id: 'p' });
/** What tab says of a pattern: rows without hits and ids are no part of it. */
const essence = (pattern: Pattern | undefined) =>
  pattern && {
    name: pattern.name,
    kind: pattern.kind,
    meter: pattern.meter,
    length: pattern.length,
    step: pattern.step,
    strands: pattern.strands
      .filter((strand) => strand.hits.length > 0)
      .map(({ piece, hits }) => ({ piece, hits: hits.map(({ id: _, ...hit }) => hit) })),
  };

/** A pattern of which tab can say everything. */
const sayable: fc.Arbitrary<Pattern> = fc
  .record({
    meter: anyMeter,
    bars: fc.integer({ min: 1, max: 4 }),
    step: fc.constantFrom(240, 120, 160, 480),
    hits: fc.array(
      fc.record({
        piece: fc.nat(DEFAULT_KIT.pieces.length - 1),
        step: fc.nat(70),
        sign: fc.nat(80),
        way: fc.nat(3),
      }),
      { maxLength: 40 },
    ),
  })
  .map(({ meter, bars, step, hits }) => {
    const fits = barTicks(meter) % step === 0;
    const pattern = { ...emptyPattern({ id: 'p', name: 'A beat', meter, bars }) };
    const rate = fits ? step : 240;
    return placeHits(
      { ...pattern, step: rate },
      // The last of several on one step is what stays.
      [...new Map(hits.map((h) => [`${h.piece} ${h.step}`, h])).values()].map((h, i) => {
        const piece = DEFAULT_KIT.pieces[h.piece].id;
        const ways = DEFAULT_KIT.pieces[h.piece].articulations;
        const way = ways[h.way % ways.length].id;
        const lines = [{ piece }, ...(way === ways[0].id ? [] : [{ piece, way }])];
        const meanings = lines.flatMap((line) => [...signsOf(line).values()]);
        const meaning = meanings[h.sign % meanings.length];
        return { piece, hit: { id: `h${i}`, at: h.step * rate, push: 0, ...meaning } };
      }),
    );
  });

test('written and read again is the same pattern, for all that tab can say', () => {
  fc.assert(
    fc.property(sayable, (pattern) => {
      const { text, lost } = writeTab(pattern);
      const again = read(text);
      expect(lost.said()).toBe('');
      expect(again.report).toEqual([]);
      expect(essence(again.pattern)).toEqual(essence(pattern));
    }),
  );
});

test('what is not the same after writing and reading was named', () => {
  fc.assert(
    fc.property(anyWorkedPattern, (pattern) => {
      const { text, lost } = writeTab(pattern);
      const again = read(text).pattern;
      expect(checkSong({ ...emptySong('s', 's', 'x'), patterns: [again!] })).toEqual([]);
      if (lost.said() === '') expect(essence(again)).toEqual(essence(pattern));
    }),
  );
});

test('what tablature cannot say is one sentence with how many strokes it is about', () => {
  const hits = [57, 58, 59, 100].map((velocity, i) => ({
    id: `h${i}`,
    at: i * 240,
    push: i === 3 ? 12 : 0,
    velocity,
    articulation: 'centre',
    ...(i === 0 && { pan: 0.4 }),
  }));
  const struck = emptyPattern({ id: 'p', name: 'p', kind: 'groove' });
  const { lost } = writeTab({ ...struck, strands: [{ piece: 'snare', hits }] });
  expect(lost.said()).toBe(
    'Tablature does not say the exact strength of 3 strokes, the pan of 1 stroke, or how early or late 1 stroke is.',
  );
});

test('any text is read without a throw, into a sound pattern or none, with a report', () => {
  const rows = fc.array(
    fc.oneof(
      fc.string(),
      fc.constantFrom('HH |x-x-|', 'BD |o---|o---| x3', 'ZZ |x|', 'meter: 99/7', 'x = flam', '|:|'),
    ),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(rows, (lines) => {
      const { pattern, report } = read(lines.join('\n'));
      if (!pattern) expect(report.length).toBeGreaterThan(0);
      else expect(checkSong({ ...emptySong('s', 's', 'x'), patterns: [pattern] })).toEqual([]);
    }),
  );
});

describe('tab as others type it', () => {
  const ats = (pattern: Pattern | undefined, piece: string) =>
    pattern?.strands.find((s) => s.piece === piece)?.hits.map((hit) => hit.at);

  test('with other labels, a counting line and no header', () => {
    const { pattern, report } = read(
      [
        '   1 e & a 2 e & a 3 e & a 4 e & a',
        'H |x-x-x-x-x-x-x-x-|',
        'S |----o-------o---|',
        'B |o-------o-------|',
      ].join('\n'),
    );
    expect(report).toEqual([]);
    expect(ats(pattern, 'hihat')).toHaveLength(8);
    expect(ats(pattern, 'snare')).toEqual([960, 2880]);
    expect(ats(pattern, 'kick')).toEqual([0, 1920]);
  });

  test('in triplets: twelve characters to a bar', () => {
    const { pattern } = read('RD |x-xx-xx-xx-x|');
    expect(ats(pattern, 'ride')).toEqual([0, 640, 960, 1600, 1920, 2560, 2880, 3520]);
    expect(pattern?.step).toBe(320);
  });

  test('with a repeat count, and systems after each other', () => {
    const { pattern } = read('BD |o---|--o-| x2\n\nBD |oooo|');
    expect(pattern?.length).toBe(5 * 3840);
    expect(ats(pattern, 'kick')).toHaveLength(8);
  });

  test('with blanks between the characters, or blanks for rests: whichever makes the rows agree', () => {
    const spread = read('HH |x - x - x - x -|\nBD |o - - - o - - -|');
    expect(ats(spread.pattern, 'hihat')).toEqual([0, 960, 1920, 2880]);
    expect(ats(spread.pattern, 'kick')).toEqual([0, 1920]);
    expect(spread.report).toEqual([expect.stringMatching(/^Lines 1, 2: blanks were read as room/)]);
    const rests = read('HH |x x x x x x x x |\nBD |o       o       |');
    expect(ats(rests.pattern, 'hihat')).toHaveLength(8);
    expect(ats(rests.pattern, 'kick')).toEqual([0, 1920]);
    expect(rests.report).toEqual([]);
  });

  test.each([
    ['BD |o---| x4', 4],
    ['BD |o---| 4x', 4],
    ['BD |o---| (play 4 times)', 4],
    ['BD |o---|\nplay 4 times', 4],
    ['BD |:o---:|', 2],
    ['BD |o---:||', 2],
    ['BD |o---::||', 2],
    ['BD |o---:|:|', 2],
    ['BD |:o---:| x3', 3],
  ])('with repeats: %s', (text, times) => {
    const { pattern, report } = read(text);
    expect(report).toEqual([]);
    expect(pattern?.length).toBe(times * 3840);
    expect(ats(pattern, 'kick')).toEqual(Array.from({ length: times }, (_, i) => i * 3840));
  });

  test('with a counting line between bar lines', () => {
    const { pattern, report } = read('Count |1e&a2e&a3e&a4e&a|\nSD |----o-------o---|');
    expect(report).toEqual([]);
    expect(ats(pattern, 'snare')).toEqual([960, 2880]);
  });

  test('with a dash too many or too few: strokes stay, and what was guessed is said', () => {
    const { pattern, report } = read(
      ['HH |x-x-x-x-x-x-x-x-|', 'SD |----o-------o--|', 'BD |o-------o--------|'].join('\n'),
    );
    expect(ats(pattern, 'snare')).toEqual([960, 2880]);
    expect(ats(pattern, 'kick')).toEqual([0, 1920]);
    expect(report).toEqual([
      expect.stringMatching(/^Line 2, bar 1, has 15 characters where others have 16: .*filled/),
      expect.stringMatching(/^Line 3, bar 1, has 17 characters where others have 16: .*left out/),
    ]);
    const full = read('HH |x-x-x-x-x-x-x-x-|\nBD |o-------o-------o|');
    expect(ats(full.pattern, 'kick')).toHaveLength(3);
    expect(full.report.join()).toMatch(/17 characters was taken as so many equal steps/);
  });

  test('with a legend of its own', () => {
    const { pattern, report } = read('Q = Snare\nQ z = rim, accent\nQ |z---|');
    expect(report).toEqual([]);
    expect(pattern?.strands[0]).toMatchObject({
      piece: 'snare',
      hits: [{ articulation: 'rim', velocity: 120 }],
    });
  });

  test('with lines for a further way to strike a piece: digits say how hard', () => {
    const { pattern, report } = read(
      'HH |5---5---|\nHHo|--7-----|\nHF |------4-|\nSS |----6---|\nRB |8---|',
    );
    expect(report).toEqual([]);
    expect(
      pattern?.strands.map(({ hits }) => hits.map((h) => [h.articulation, h.velocity])),
    ).toEqual([
      [['bell', 113]],
      [
        ['closed', 73],
        ['open', 100],
        ['closed', 73],
        ['pedal', 60],
      ],
      [['side-stick', 86]],
    ]);
    const clash = read('HH |5---|\nHHp|5---|');
    expect(clash.report.join()).toMatch(
      /^Line 2: a stroke was left out, because another line strikes hi-hat/,
    );
  });

  test('with open, half-open and choked strokes, flams, drags, ghosts and accents', () => {
    const { pattern } = read('HH |xohX|\nSD |gfdO|\nCC |c---|');
    expect(pattern?.strands.map(({ hits }) => hits)).toMatchObject([
      [{ choke: 240 }],
      [
        { articulation: 'closed' },
        { articulation: 'open' },
        { articulation: 'half-open' },
        { velocity: 120 },
      ],
      [{ velocity: 34 }, { flam: { strokes: 1 } }, { flam: { strokes: 2 } }, { velocity: 120 }],
    ]);
  });

  test.each([
    ['a piece nobody knows', 'ZZ |x-x-|', /no kit piece “ZZ”/],
    ['a sign that says nothing', 'SD |o-?-|', /“\?” means nothing on snare/],
    ['a time signature that is none', 'meter: 4/5\nSD |o---|', /time signature “4\/5”/],
    ['a bar of thirteen characters', 'SD |o------------|', /13 characters/],
    ['a line that is short of bars', 'HH |x---|x---|\nSD |o---|', /1 of 2 bars/],
    ['prose', 'this is a letter', /no drum tablature|not understood/],
  ])('%s is named in the report', (_, text, sentence) => {
    expect(read(text).report.join(' ')).toMatch(sentence);
  });
});

test('equal bars are written once, with how often they come', () => {
  const kick = (bar: number) => ({
    piece: 'kick',
    hit: { id: `k${bar}`, at: bar * 3840, push: 0, velocity: 96, articulation: 'beater' },
  });
  const pattern = placeHits(emptyPattern({ id: 'p', name: 'p', bars: 4 }), [0, 1, 2, 3].map(kick));
  const { text } = writeTab(pattern);
  expect(text).toContain('BD |o---------------| x4');
  expect(text).toContain('BD = Kick');
});

describe('one row of a text', () => {
  test.each([
    ['HH |x-x-|x-x-|', { label: 'HH', body: 'x-x-|x-x-', times: 1 }],
    ['  HH|x-x-  ', { label: 'HH', body: 'x-x-', times: 1 }],
    ['SD ||:o---:|| x4', { label: 'SD', body: ':o---', times: 4 }],
    ['B  |o-o-| (x 12)', { label: 'B', body: 'o-o-', times: 12 }],
    ['Low tom |--o-| twice', { label: 'Low tom', body: '--o-| twice', times: 1 }],
  ])('%s is music', (row, music) => expect(readMusic(row)).toEqual(music));

  test.each(['x-x-x-', '| x |', '4x |x|', 'HH |x=y|', ''])('%s is none', (row) => {
    expect(readMusic(row)).toBeUndefined();
  });

  test('a legend may explain a sign for all pieces, for one, and the sign “=” itself', () => {
    expect(readLegend(' o = open ')).toEqual({ label: undefined, sign: 'o', words: 'open' });
    expect(readLegend('HH o = open, accent')).toMatchObject({ label: 'HH', words: 'open, accent' });
    expect(readLegend('= = bell')).toMatchObject({ sign: '=', words: 'bell' });
    expect(readLegend('one two three = bell')).toBeUndefined();
    expect(readLegend('o =')).toBeUndefined();
  });

  test('text of any length, of signs that lead readers astray, is read to its end', () => {
    const sign = fc.constantFrom(' ', '|', ':', '=', 'x', 'e', '1', '\n', 'HH |', 'name');
    const hostile = fc
      .array(fc.tuple(sign, fc.integer({ min: 1, max: 30_000 })), { maxLength: 8 })
      .map((runs) => runs.map(([text, times]) => text.repeat(times)).join(''));
    fc.assert(
      fc.property(hostile, (text) => {
        const { pattern, report } = read(text);
        if (pattern)
          expect(checkSong({ ...emptySong('s', 's', 'p'), patterns: [pattern] })).toEqual([]);
        else expect(report.length).toBeGreaterThan(0);
      }),
    );
  });
});

test.each([
  ['hi-hat: x-x-', 'hihat', [0, 1920]],
  ['H: x   x', 'hihat', [0, 1920]],
  ['HH x-x- 2x', 'hihat', [0, 1920, 3840, 5760]],
  ['Kick: o-------o-o-----', 'kick', [0, 1920, 2400]],
  ['SD ----o-------o---', 'snare', [960, 2880]],
])('a line without bar lines is read: %s', (line, piece, ticks) => {
  const { pattern, report } = readTab(line, { id: 'read' });
  expect(report).toEqual([]);
  const strand = pattern!.strands.find((one) => one.piece === piece)!;
  expect(strand.hits.map(({ at }) => at)).toEqual(ticks);
});

test('lines without bar lines under each other are one system, and words are none', () => {
  const { pattern, report } = readTab('HH: x-x-x-x-x-x-x-x-\nSD:     o       o\nBD: o       o', {
    id: 'read',
  });
  expect(report).toEqual([]);
  expect(pattern!.length).toBe(3840);
  const on = (piece: string) => pattern!.strands.find((one) => one.piece === piece)!.hits;
  expect(on('snare').map(({ at }) => at)).toEqual([960, 2880]);
  expect(on('kick').map(({ at }) => at)).toEqual([0, 1920]);
  expect(readTab('Snare solo on the floor', { id: 'read' }).pattern).toBeUndefined();
});
