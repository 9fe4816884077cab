import fc from 'fast-check';
import { applyCommand } from '../commands';
import {
  checkSong,
  emptyPattern,
  emptySong,
  levelAt,
  sectionOf,
  spanAtEnd,
  spanOver,
  type Song,
  type Span,
} from '../model';
import { placeHits } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { usesOf } from './arrange';
import { cloth, clothByFamily } from './cloth';
import { mergeNext, splitPlace, whyNotMerged } from './cutting';
import { guideStart } from './guideStart';
import {
  barAround,
  laidPlaces,
  placeName,
  positionAt,
  songBars,
  songTicks,
  tickOfBar,
} from './sections';
import { demoSongs } from '../../demo';
import { bpmAt } from './tempo';
import { copyPlaces } from './several';
import { timeline, type TimedHit } from './timeline';
import { songOfPattern } from './heard';
import { patternTickAt } from './where';

const hit = (id: string, at: number, push = 0) => ({
  id,
  at,
  push,
  velocity: 90,
  articulation: 'usual',
});

const beat = placeHits(emptyPattern({ id: 'beat', name: 'Beat', dye: 1 }), [
  { piece: 'kick', hit: hit('k', 0) },
  { piece: 'snare', hit: hit('s', 960, 10) },
]);
const fill = {
  ...placeHits(emptyPattern({ id: 'fill', name: 'Fill', kind: 'fill', dye: 2 }), [
    { piece: 'snare', hit: hit('f', 0) },
  ]),
  length: 960,
};

/** A verse of two bars, played twice. */
const song: Song = {
  ...emptySong('s', 's', 'p'),
  patterns: [beat, fill],
  sections: [sectionOf(beat, { id: 'verse', name: 'verse', kind: 'verse', bars: 2 })],
  places: ['one', 'two'].map((id) => ({ id, section: 'verse', overlay: [] })),
};

const ticks = (s: Song, piece: string) =>
  timeline(s)
    .filter((h) => h.piece === piece)
    .map((h) => h.tick);

const span = (change: Partial<Span>): Span => ({ ...spanOver('fill', 'laid'), ...change });

describe('the timeline', () => {
  test('plays a pattern over and over to the end of its section, and sections in a row', () => {
    expect(ticks(song, 'kick')).toEqual([0, 3840, 7680, 11_520]);
    expect(ticks(song, 'snare')).toEqual([970, 4810, 8650, 12_490]);
  });

  test('a fill laid over one place replaces only there, and only as long as it is', () => {
    const overlay = spanAtEnd('fill', 'laid', fill.length);
    const laid = applyCommand(song, { type: 'add overlay', place: 'one', span: overlay });
    expect(ticks(laid, 'snare')).toEqual([970, 4810, 6720, 8650, 12_490]);
    expect(timeline(laid).slice(-4)).toEqual(timeline(song).slice(-4));
  });

  test('a span of some pieces leaves the others alone; one that adds silences nothing', () => {
    const only = span({ pieces: ['snare'], anchor: 'start', to: 3840 });
    const replaced = applyCommand(song, { type: 'add span', section: 'verse', span: only });
    expect(ticks(replaced, 'kick')).toEqual(ticks(song, 'kick'));
    expect(ticks(replaced, 'snare').slice(0, 5)).toEqual([0, 960, 1920, 2880, 4810]);
    const added = applyCommand(song, {
      type: 'add span',
      section: 'verse',
      span: { ...only, mode: 'add' },
    });
    expect(ticks(added, 'snare')).toEqual(expect.arrayContaining(ticks(song, 'snare')));
  });

  test('starts a span inside its pattern where the offset says', () => {
    const shifted = {
      ...song,
      sections: [{ ...song.sections[0], spans: [span({ pattern: 'beat', offset: 960 })] }],
    };
    expect(ticks(shifted, 'snare').slice(0, 2)).toEqual([10, 3850]);
  });

  test('is in order of sounding, also where hits are played early across a bar line', () => {
    fc.assert(
      fc.property(anyWholeSong, (any) => {
        const hits = timeline(any);
        expect(hits.every((h, i) => i === 0 || hits[i - 1].tick <= h.tick)).toBe(true);
      }),
    );
  });

  test('is in order over the lines between places, whatever is played early or late there', () => {
    const pushes = fc.array(fc.integer({ min: -3000, max: 3000 }), { minLength: 1, maxLength: 60 });
    fc.assert(
      fc.property(pushes, fc.integer({ min: 1, max: 5 }), (list, times) => {
        const strayed = placeHits(
          emptyPattern({ id: 'beat', name: 'Beat' }),
          list.map((push, i) => ({ piece: 'kick', hit: hit(`k${i}`, (i % 16) * 240, push) })),
        );
        const many: Song = {
          ...song,
          patterns: [strayed],
          places: Array.from({ length: times }, (_, i) => ({
            id: `p${i}`,
            section: 'verse',
            overlay: [],
          })),
        };
        const sounds = timeline(many).map(({ tick }) => tick);
        expect(sounds).toEqual([...sounds].sort((a, b) => a - b));
        const struck = strayed.strands.reduce((sum, { hits }) => sum + hits.length, 0);
        expect(sounds).toHaveLength(struck * 2 * times);
      }),
    );
  });

  test('after an edit is what it would be if it had been computed from nothing', () => {
    const strip = (hits: readonly TimedHit[]) =>
      hits.map((h) => [h.tick, h.home, h.piece, h.velocity, h.pattern, h.place].join(' ')).sort();
    fc.assert(
      fc.property(anyWholeSong, fc.array(anyCommand, { maxLength: 10 }), (any, commands) => {
        timeline(any);
        const edited = commands.reduce((s, command) => {
          const next = applyCommand(s, command);
          timeline(next);
          return next;
        }, any);
        expect(strip(timeline(edited))).toEqual(strip(timeline(structuredClone(edited))));
      }),
    );
  });
});

describe('sections and places', () => {
  test('a section that appears twice is named by its place, and an edit reaches both', () => {
    const names = laidPlaces(song).map((laid) => placeName(song, laid));
    expect(names).toEqual(['verse 1', 'verse 2']);
    const longer = applyCommand(song, { type: 'set section bars', section: 'verse', bars: 3 });
    expect(songBars(longer)).toBe(6);
    expect(ticks(longer, 'kick')).toHaveLength(6);
  });

  test('a fill on the end of a section stays on its end when the section grows or shrinks', () => {
    const overlay = spanAtEnd('fill', 'laid', fill.length);
    const laid = applyCommand(song, { type: 'add overlay', place: 'one', span: overlay });
    for (const bars of [1, 4]) {
      const fitted = applyCommand(laid, { type: 'set section bars', section: 'verse', bars });
      const first = timeline(fitted).filter((h) => h.place === 'one' && h.pattern === 'fill');
      expect(first.map((h) => h.tick)).toEqual([bars * 3840 - 960]);
      expect(checkSong(fitted)).toEqual([]);
    }
  });

  test('what lies over a whole place stays over all of it, and nothing of it is lost', () => {
    const laid = applyCommand(song, { type: 'add overlay', place: 'one', span: span({}) });
    const longer = applyCommand(laid, { type: 'set section bars', section: 'verse', bars: 5 });
    const heard = (s: Song) => timeline(s).filter((h) => h.place === 'one');
    expect(heard(longer).every((h) => h.pattern === 'fill')).toBe(true);
    expect(heard(longer)).toHaveLength((5 * 3840) / 960);
    const shorter = applyCommand(longer, { type: 'set section bars', section: 'verse', bars: 1 });
    const again = applyCommand(shorter, { type: 'set section bars', section: 'verse', bars: 2 });
    expect(timeline(again)).toEqual(timeline(laid));
  });

  test('moving or removing a section takes its tempo, and a guide anchored in it, along', () => {
    const two = applyCommand(song, {
      type: 'add section',
      section: { ...sectionOf(beat, { id: 'slow', name: 'slow', kind: 'bridge', bars: 1 }) },
      place: 'slow',
      index: 2,
    });
    const slow = applyCommand(two, { type: 'set tempo at', place: 'slow', at: 0, bpm: 60 });
    const guide = { id: 'g', name: 'g', place: 'slow', at: 480, level: 1 };
    const notes = [{ at: 0, length: 100, note: 40, velocity: 90 }];
    const guided = applyCommand(slow, { type: 'add reference part', guide: { ...guide, notes } });
    expect([bpmAt(guided, 0), bpmAt(guided, 15_360), bpmAt(guided, 19_200)]).toEqual([120, 60, 60]);
    const moved = applyCommand(guided, { type: 'move places', places: ['slow'], to: 0 });
    expect([bpmAt(moved, 0), bpmAt(moved, 3840)]).toEqual([60, 120]);
    expect(guideStart(guided, guided.guides[0])).toBe(15_840);
    expect(guideStart(moved, moved.guides[0])).toBe(480);
    const removed = applyCommand(moved, { type: 'remove places', places: ['slow'] });
    expect(bpmAt(removed, 0)).toBe(120);
    expect(guideStart(removed, removed.guides[0])).toBe(480);
    expect(checkSong(removed)).toEqual([]);
    const fixed = applyCommand(moved, { type: 'anchor reference part', id: 'g', to: 'song' });
    const back = applyCommand(fixed, { type: 'move places', places: ['slow'], to: 2 });
    expect(guideStart(back, back.guides[0])).toBe(480);
  });

  test('repeating, moving and removing places never changes what a place plays', () => {
    const overlay = spanAtEnd('fill', 'laid', fill.length);
    const laid = applyCommand(song, { type: 'add overlay', place: 'one', span: overlay });
    const repeated = applyCommand(laid, {
      type: 'paste places',
      copied: copyPlaces(laid, ['one']),
      index: 1,
      linking: 'linked',
      newIds: ['three'],
    });
    const moved = applyCommand(repeated, { type: 'move places', places: ['three'], to: 2 });
    expect(moved.places.map((p) => p.id)).toEqual(['one', 'two', 'three']);
    const local = (s: Song, id: string) => {
      const { start } = laidPlaces(s).find(({ place }) => place.id === id)!;
      return timeline(s)
        .filter((h) => h.place === id)
        .map((h) => [h.piece, h.tick - start]);
    };
    expect(local(moved, 'three')).toEqual(local(laid, 'one'));
    const removed = applyCommand(moved, { type: 'remove places', places: ['three'] });
    expect(removed).toEqual(laid);
  });

  test('the last place of a section takes the section with it; a removed pattern leaves silence', () => {
    const none = ['one', 'two'].reduce(
      (s, place) => applyCommand(s, { type: 'remove places', places: [place] }),
      song,
    );
    expect([none.sections, none.places]).toEqual([[], []]);
    const silent = applyCommand(song, { type: 'remove pattern', id: 'beat' });
    expect([timeline(silent), songTicks(silent)]).toEqual([[], songTicks(song)]);
  });

  test('bar, beat and ticks are counted through changes of meter', () => {
    const seven = { ...emptyPattern({ id: 'b7', name: 'b7', meter: { beats: 7, unit: 8 } }) };
    const mixed = applyCommand(
      { ...song, patterns: [...song.patterns, seven] },
      {
        type: 'add section',
        section: sectionOf(seven, { id: 'bridge', name: 'bridge', kind: 'bridge', bars: 2 }),
        place: 'p3',
        index: 1,
      },
    );
    expect(positionAt(mixed, 7680)).toEqual({ bar: 3, beat: 1, ticks: 0 });
    expect(positionAt(mixed, 7680 + 3360 + 490)).toEqual({ bar: 4, beat: 2, ticks: 10 });
    expect(positionAt(mixed, 7680 + 6720)).toEqual({ bar: 5, beat: 1, ticks: 0 });
    expect(barAround(mixed, 7680 + 3400)).toEqual({ from: 11_040, to: 14_400 });
  });

  test('counts uses by places', () => {
    expect([usesOf(song, 'beat'), usesOf(song, 'fill')]).toEqual([2, 0]);
  });
});

describe('the cloth', () => {
  test('shows for every hit the pattern it comes from', () => {
    fc.assert(
      fc.property(anyWholeSong, fc.array(anyCommand, { maxLength: 8 }), (any, commands) => {
        const woven = cloth(commands.reduce(applyCommand, any));
        for (const row of woven.rows) {
          for (const h of row.hits) {
            const under = row.cells.filter((cell) => h.home >= cell.from && h.home < cell.to);
            expect(under.map((cell) => cell.pattern)).toContain(h.pattern);
          }
        }
      }),
    );
  });

  test('has pieces in staff order, and in its short form families', () => {
    expect(cloth(song).rows.map((row) => row.piece)).toEqual(['snare', 'kick']);
    const hits = clothByFamily(song).rows.flatMap((row) => row.hits);
    expect(hits).toHaveLength(timeline(song).length);
  });
});

test('a pattern heard alone is the pattern', () => {
  const alone = songOfPattern(song, beat);
  expect(checkSong(alone)).toEqual([]);
  expect(timeline(alone).map((h) => h.tick)).toEqual([0, 970]);
});

test('where the song is in a pattern: under a fill the pattern below does not play', () => {
  const overlay = spanAtEnd('fill', 'laid', fill.length);
  const laid = applyCommand(song, { type: 'add overlay', place: 'one', span: overlay });
  expect(patternTickAt(laid, beat, 4000)).toBe(160);
  expect(patternTickAt(laid, fill, 6800)).toBe(80);
  expect(patternTickAt(laid, fill, 4000)).toBeUndefined();
});

test('a bar begins where counting to it gets to, through a bridge in seven and past the end', () => {
  const [song] = demoSongs();
  for (let bar = 1; bar <= 64; bar++) {
    const { bar: counted, beat, ticks } = positionAt(song, tickOfBar(song, bar));
    expect([counted, beat, ticks]).toEqual([bar, 1, 0]);
  }
  expect(tickOfBar(song, 65) - tickOfBar(song, 64)).toBe(3840);
});

const [demo] = demoSongs();

test('a split place keeps its line of energy and its fill, each in the part where it lies', () => {
  const place = {
    ...demo.places[1],
    energy: [
      { at: 0, level: 0.2 },
      { at: 15_360, level: 1 },
    ],
  };
  const fill = spanAtEnd(demo.patterns[0].id, 'fill-1', 1920);
  const over = { ...place, overlay: [fill], drafted: ['fill-1', 'gone'] };
  const song: Song = { ...demo, places: demo.places.map((one, i) => (i === 1 ? over : one)) };
  const bars = song.sections.find(({ id }) => id === place.section)!.bars;
  const split = splitPlace(song, place.id, bars / 2);
  expect(checkSong(split)).toEqual([]);
  const [first, second] = split.places.slice(1);
  expect([first.drafted, second.drafted]).toEqual([[], ['fill-1', 'gone']]);
  const { start, end } = laidPlaces(song)[1];
  const [a, b] = laidPlaces(split).slice(1);
  for (let at = 0; at < end - start; at += 960) {
    const part = at < a.end - a.start ? first : second;
    const from = part === first ? 0 : b.start - a.start;
    expect(levelAt(part.energy!, at - from)).toBeCloseTo(levelAt(place.energy, at), 9);
  }
  const whole = mergeNext(split, first.id);
  expect(checkSong(whole)).toEqual([]);
  expect(whole.places[1].drafted).toEqual(['fill-1', 'gone']);
  for (let at = 0; at < end - start - 960; at += 960) {
    expect(levelAt(whole.places[1].energy!, at)).toBeCloseTo(levelAt(place.energy, at), 3);
  }
});

test('sections that are mixed differently are not merged, and why is said', () => {
  const [a, b] = laidPlaces(demo);
  const strips = [{ track: 'kick', mute: true }];
  const muted: Song = {
    ...demo,
    sections: demo.sections.map((one) => (one === a.section ? { ...one, mix: { strips } } : one)),
  };
  expect(whyNotMerged(muted, a.place.id)).toMatch(/mixed differently \(Kick\)/);
  expect(mergeNext(muted, a.place.id)).toBe(muted);
  const both: Song = {
    ...muted,
    sections: muted.sections.map((one) =>
      one.id === b.section.id ? { ...one, mix: { strips } } : one,
    ),
  };
  const merged = mergeNext(both, a.place.id);
  expect(merged.sections.find(({ id }) => id === merged.places[0].section)!.mix).toEqual({
    strips,
  });
});
