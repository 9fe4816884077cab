import { emptyPattern, emptySong, type Pattern } from '../model';
import { auditioned, songOfPattern, timeline } from '../weave';
import { applyCommand } from '../commands';
import { demoSongs } from '../../demo';
import { insertBars, removeBars, repeatBars } from './bars';
import { setStrandLoop } from './cycle';
import { suggestions } from './grow';
import { placeHits } from './hits';
import { landing } from './record';
import { rotate } from './shapeOfTime';
import { takeStrands } from './take';

const hit = (id: string, at: number) => ({ id, at, push: 0, velocity: 90, articulation: '' });

/** A bar with a kick on its first beat and a snare that goes round every five sixteenths. */
const looped: Pattern = setStrandLoop(
  placeHits(emptyPattern({ id: 'p', name: 'p' }), [
    { piece: 'kick', hit: hit('k', 0) },
    { piece: 'snare', hit: hit('a', 0) },
    { piece: 'snare', hit: hit('b', 480) },
  ]),
  'snare',
  1200,
);

const ticks = (pattern: Pattern, piece = 'snare', passes = 1) =>
  timeline(songOfPattern(emptySong('s', 's', 'x'), pattern, passes))
    .filter((timed) => timed.piece === piece)
    .map(({ tick }) => tick);

describe('a strand with a loop of its own', () => {
  test('is stretched as it sounds, with all its rounds', () => {
    const room = { ...emptyPattern({ id: 't', name: 't', bars: 2 }) };
    const taking = { source: looped, pieces: ['snare'], mode: 'replace', fit: 'stretch' } as const;
    expect(ticks(takeStrands(room, taking))).toEqual(ticks(looped).map((tick) => tick * 2));
  });

  test('goes on with its rounds when it is repeated, and stops with its groove when it is cut', () => {
    const room = { ...emptyPattern({ id: 't', name: 't', bars: 2 }) };
    const taking = { source: looped, pieces: ['snare'], mode: 'replace' } as const;
    expect(ticks(takeStrands(room, { ...taking, fit: 'repeat' }))).toEqual(
      ticks(looped, 'snare', 2),
    );
    expect(ticks(takeStrands(room, { ...taking, fit: 'cut' }))).toEqual(ticks(looped));
  });

  test('is rotated within its loop', () => {
    const turned = rotate(looped, new Set(['a', 'b']), { steps: 4 });
    const snare = turned.strands.find(({ piece }) => piece === 'snare')!;
    expect(snare.hits.map(({ id, at }) => [id, at])).toEqual([
      ['b', 240],
      ['a', 960],
    ]);
  });

  test('gets no roll as a turn: a roll in it would sound in every round', () => {
    for (let seed = 0; seed < 20; seed++) {
      for (const { pattern, kind } of suggestions(looped, seed)) {
        expect(kind).not.toBe('ramped roll');
        const snare = pattern.strands.find(({ piece }) => piece === 'snare')!;
        expect(snare.hits.map(({ id }) => id)).toEqual(['a', 'b']);
      }
    }
  });

  test('runs on through the bars of what it is tried in', () => {
    const [demo] = demoSongs();
    // Fills would stay on top of it.
    const song = { ...demo, places: demo.places.map((place) => ({ ...place, overlay: [] })) };
    const heard = timeline(auditioned(song, { pattern: looped }, 3840, 3840 * 5));
    const snares = heard.filter(({ tick, piece }) => {
      return piece === 'snare' && tick >= 3840 && tick < 3840 * 5;
    });
    expect(snares.map(({ tick }) => tick - 3840)).toEqual(ticks(looped, 'snare', 4));
  });
});

describe('turns', () => {
  const turned: Pattern = {
    ...emptyPattern({ id: 'p', name: 'p', bars: 4 }),
    turns: [
      { bar: 1, kind: 'crash' },
      { bar: 3, kind: 'tom run' },
    ],
  };
  const bars = (pattern: Pattern) => pattern.turns?.map(({ bar }) => bar) ?? [];

  test('stay with their bars when bars are put in, taken out and repeated', () => {
    expect(bars(insertBars(turned, { before: 1, count: 2 }))).toEqual([3, 5]);
    expect(bars(removeBars(turned, { from: 0, to: 2 }))).toEqual([1]);
    expect(bars(repeatBars(turned, { from: 1, to: 2 }))).toEqual([1, 2, 4]);
  });
});

describe('recording', () => {
  const four = emptyPattern({ id: 'p', name: 'p', bars: 4 });

  test('an early downbeat belongs to the loop that is played, not to the bar behind it', () => {
    const loop = { from: 3840, to: 7680 };
    expect(landing(four, 'kick', 7680 - 40, 0, loop)).toEqual({ at: 3840, push: -40 });
    expect(landing(four, 'kick', 3840 + 30, 0, loop)).toEqual({ at: 3840, push: 30 });
    expect(landing(four, 'kick', 4 * 3840 - 40, 0)).toEqual({ at: 0, push: -40 });
  });
});

test('a downbeat can be pushed early, and is heard before the bar of its section', () => {
  const [song] = demoSongs();
  const { id, strands } = song.patterns.find((pattern) => pattern.id === 'verse')!;
  const first = strands.find(({ piece }) => piece === 'kick')!.hits[0];
  const ids = [first.id];
  const straight = applyCommand(song, { type: 'timing offset', pattern: id, ids, push: 0 });
  const early = applyCommand(straight, { type: 'nudge', pattern: id, ids, by: -60 });
  const kicks = timeline(early).filter(
    (timed) => timed.hit === first.id && timed.pattern === id && timed.piece === 'kick',
  );
  expect(kicks.length).toBeGreaterThan(1);
  for (const { tick, home } of kicks) expect(tick).toBe(home - 60);
});
