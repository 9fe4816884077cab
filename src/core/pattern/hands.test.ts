import fc from 'fast-check';
import { checkSong } from '../model/check';
import { emptyPattern, emptySong, songOfPattern } from '../model/make';
import type { Hit, Pattern } from '../model/song';
import { HANDS, workByHand, whyNothing, type HandCommand } from '../commands/hands';
import { anyHand, anyPattern, anyWorkedPattern } from '../testing/arbitraries';
import { timeline } from '../weave/timeline';
import { cropTo, insertBars, removeBars, repeatBars } from './bars';
import { clipOf, fillTo, pasteClip } from './clip';
import { passesOf, setCycle, setStrandLoop, writeOut } from './cycle';
import { copyHits, moveHits } from './move';
import { describedHits, grownSelection, invertedSelection, shrunkSelection } from './select';
import { allIds, hitCount } from './strands';
import { doubleTime, halfTime, mirror, reverse, rotate } from './turn';
import { revoice, swapStrands } from './voice';
import { writeRoll } from './ornament';
import { placeHits } from './place';
import { laneValue, LANES, setLane } from './lanes';

const hitsOf = (pattern: Pattern) => pattern.strands.flatMap((strand) => strand.hits);
const songWith = (pattern: Pattern) => ({ ...emptySong('s', 's', 'x'), patterns: [pattern] });
const heard = (pattern: Pattern) => timeline(songOfPattern(emptySong('s', 's', 'x'), pattern));

/** A bar of hits of one piece on sixteenths. */
function line(piece: string, velocities: readonly number[], length = 3840): Pattern {
  const hits = velocities.flatMap((velocity, i) =>
    velocity === 0
      ? []
      : [{ piece, hit: { id: `h${i}`, at: i * 240, push: 0, velocity, articulation: '' } }],
  );
  return placeHits({ ...emptyPattern({ id: 'p', name: 'p' }), length }, hits);
}
const velocities = (pattern: Pattern) => hitsOf(pattern).map((hit) => hit.velocity);
const by = (pattern: Pattern, command: Omit<HandCommand, 'ids'>) =>
  workByHand(pattern, { ...command, ids: [...allIds(pattern)] } as HandCommand);

describe('every hand', () => {
  test('leaves a sound pattern, and says why when it changes nothing', () => {
    fc.assert(
      fc.property(anyWorkedPattern, anyHand, (pattern, hand) => {
        const command = { ...hand, ids: [...allIds(pattern)] } as HandCommand;
        const after = workByHand(pattern, command);
        expect(checkSong(songWith(after))).toEqual([]);
        if (after === pattern) expect(whyNothing(pattern, command)).toMatch(/^\S.{10,}\.$/);
      }),
      { numRuns: 300 },
    );
  });

  test('does nothing to hits that are not chosen but make way', () => {
    const mayReplace = new Set([
      'revoice',
      'rotate',
      'reverse',
      'mirror',
      'half time',
      'double time',
    ]);
    fc.assert(
      fc.property(anyPattern(), anyHand, fc.integer({ min: 2, max: 4 }), (pattern, hand, every) => {
        if (mayReplace.has(hand.type)) return;
        const ids = [...allIds(pattern)].filter((_, i) => i % every === 0);
        const after = workByHand(pattern, { ...hand, ids } as HandCommand);
        const rest = (p: Pattern) => hitsOf(p).filter((hit) => !ids.includes(hit.id));
        expect(rest(after)).toEqual(expect.arrayContaining(rest(pattern)));
      }),
    );
  });

  test('refuses numbers out of its limits and says what they may be', () => {
    const pattern = line('snare', [90, 90]);
    for (const [type, { limits }] of Object.entries(HANDS)) {
      for (const [name, [low, high]] of Object.entries(
        limits as Record<string, [number, number]>,
      )) {
        const middle = Object.fromEntries(
          Object.entries(limits).map(([key, [a]]: [string, [number]]) => [key, a]),
        );
        const command = {
          type,
          ids: ['h0'],
          options: { ...middle, [name]: high + 1, lane: 'pan', on: [1], steps: 'x.' },
        } as unknown as HandCommand;
        expect(workByHand(pattern, command)).toBe(pattern);
        expect(whyNothing(pattern, command)).toContain(`${low} to ${high}`);
      }
    }
  });
});

describe('offsets are kept', () => {
  const pushes = (pattern: Pattern) =>
    hitsOf(pattern)
      .map((hit) => hit.push)
      .sort((a, b) => a - b);

  test('by a change of sound, a move and a copy', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: -6, max: 6 }), (pattern, steps) => {
        const all = allIds(pattern);
        const before = new Map(hitsOf(pattern).map((hit) => [hit.id, hit]));
        const voiced = revoice(pattern, all, { piece: 'cowbell', articulation: '' });
        const moved = moveHits(pattern, all, { by: steps * 240 });
        for (const hit of [...hitsOf(voiced), ...hitsOf(moved)]) {
          expect(hit.push).toBe(before.get(hit.id)!.push);
          expect(hit.velocity).toBe(before.get(hit.id)!.velocity);
        }
        const copied = copyHits(pattern, all, { by: steps * 240 }, (id) => `copy-${id}`);
        for (const hit of hitsOf(copied).filter((h) => h.id.startsWith('copy-'))) {
          expect(hit.push).toBe(before.get(hit.id.slice(5))!.push);
        }
      }),
    );
  });

  test('by pasting a whole pattern into an empty one', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const clip = clipOf(pattern, allIds(pattern));
        if (!clip) return;
        const empty = { ...emptyPattern({ id: 'q', name: 'q' }), length: pattern.length * 2 };
        const pasted = pasteClip(empty, clip, 0, { mode: 'replace', seed: 'x' });
        expect(pushes(pasted)).toEqual(pushes(pattern));
      }),
    );
  });
});

describe('velocity', () => {
  const flat = line('hihat', [80, 80, 80, 80, 80, 80, 80, 80]);

  test('ramps straight from one end to the other', () => {
    const ramp = by(flat, { type: 'ramp velocity', options: { from: 30, to: 100 } });
    expect(velocities(ramp)).toEqual([30, 40, 50, 60, 70, 80, 90, 100]);
  });

  test('alternates strong and weak hand, and either may lead', () => {
    const lead = (hand: 'strong' | 'weak') =>
      velocities(by(flat, { type: 'alternate hands', options: { softer: 50, lead: hand } }));
    expect(lead('strong').slice(0, 4)).toEqual([80, 40, 80, 40]);
    expect(lead('weak').slice(0, 4)).toEqual([40, 80, 40, 80]);
  });

  test('accents every third step over sixteenths', () => {
    const options = { steps: 'x..', louder: 20, softer: 10 };
    const accented = velocities(by(flat, { type: 'accent steps', options }));
    expect(accented).toEqual([100, 70, 70, 100, 70, 70, 100, 70]);
  });

  test('levelled all the way is equal; levelled and spread by nothing is as it was', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const level = by(pattern, { type: 'level velocity', options: { percent: 100 } });
        expect(new Set(velocities(level)).size).toBeLessThanOrEqual(1);
        expect(by(pattern, { type: 'level velocity', options: { percent: 0 } })).toBe(pattern);
        expect(by(pattern, { type: 'spread velocity', options: { percent: 0 } })).toBe(pattern);
      }),
    );
  });

  test('drawn at random lies within its bounds', () => {
    fc.assert(
      fc.property(anyPattern(), fc.nat(), (pattern, seed) => {
        const options = { low: 30, high: 40, seed };
        const drawn = velocities(by(pattern, { type: 'random velocity', options }));
        expect(drawn.every((velocity) => velocity >= 30 && velocity <= 40)).toBe(true);
      }),
    );
  });

  test('ghosts what is not on a beat and nothing else', () => {
    const ghosted = by(flat, { type: 'ghost the off-beats', options: { velocity: 30 } });
    expect(velocities(ghosted)).toEqual([80, 30, 30, 30, 80, 30, 30, 30]);
  });
});

describe('selecting', () => {
  const pattern = line('hihat', [90, 40, 90, 40, 90, 40, 90, 40]);

  test('by description finds beats, off-beats, every n-th and the soft ones', () => {
    expect(describedHits(pattern, { beat: 'on the beat' })).toEqual(['h0', 'h4']);
    expect(describedHits(pattern, { beat: 'off-beat' })).toEqual(['h2', 'h6']);
    expect(describedHits(pattern, { every: 3 })).toEqual(['h0', 'h3', 'h6']);
    expect(describedHits(pattern, { velocity: [1, 50], every: 2 })).toEqual(['h1', 'h5']);
    expect(describedHits(pattern, { pieces: ['snare'] })).toEqual([]);
  });

  test('grows and shrinks by neighbours, and inverts to the rest', () => {
    expect(grownSelection(pattern, new Set(['h3']))).toEqual(['h2', 'h3', 'h4']);
    expect(shrunkSelection(pattern, new Set(['h2', 'h3', 'h4']))).toEqual(['h3']);
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: 1, max: 3 }), (any, every) => {
        const ids = new Set([...allIds(any)].filter((_, i) => i % every === 0));
        const rest = invertedSelection(any, ids);
        expect(new Set([...rest, ...ids])).toEqual(allIds(any));
        expect(rest.length + ids.size).toBe(hitCount(any));
      }),
    );
  });
});

describe('the shape of time', () => {
  test('rotated by the length is the identity, and there and back too', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: -30, max: 30 }), (pattern, steps) => {
        const all = allIds(pattern);
        expect(rotate(pattern, all, { steps: pattern.length / pattern.step })).toBe(pattern);
        const back = rotate(rotate(pattern, all, { steps }), all, { steps: -steps });
        expect(back).toEqual(pattern);
      }),
    );
  });

  test('reversed twice, and twice as slow then twice as fast, is as it was', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const all = allIds(pattern);
        expect(reverse(reverse(pattern, all), all)).toEqual(pattern);
        expect(doubleTime(halfTime(pattern, all), all)).toEqual(pattern);
      }),
    );
  });

  test('mirrored is the same from both ends', () => {
    const pattern = line('snare', [90, 0, 60, 30, 0, 80, 0, 50]);
    const ats = hitsOf(mirror(pattern, allIds(pattern))).map((hit) => hit.at / 240);
    expect(ats).toEqual([0, 2, 3, 4, 5, 7]);
  });

  test('thinned to every second keeps the first, and the gaps filled make it dense again', () => {
    const pattern = line('hihat', [90, 90, 90, 90, 90]);
    const thin = by(pattern, { type: 'thin to every n-th', options: { every: 2 } });
    expect(hitsOf(thin).map((hit) => hit.id)).toEqual(['h0', 'h2', 'h4']);
    const dense = by(thin, { type: 'fill the gaps', options: { percent: 50 } });
    expect(velocities(dense)).toEqual([90, 45, 90, 45, 90]);
  });
});

describe('strands', () => {
  test('swapped twice are as they were', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const full = swapStrands(pattern, 'clap', 'tambourine');
        const twice = swapStrands(full, 'tambourine', 'clap');
        const sounding = (p: Pattern) => p.strands.filter((strand) => strand.hits.length > 0);
        expect(sounding(twice)).toEqual(sounding(pattern));
      }),
    );
  });

  test('of five steps against sixteen meet again after five passes', () => {
    const pattern = setStrandLoop(line('hihat', [90, 0, 60]), 'hihat', 5 * 240);
    expect(passesOf(pattern)).toBe(5);
    expect(writeOut(pattern).length).toBe(5 * 3840);
    // 16 strokes of each of the two hits in 80 sixteenths.
    expect(hitCount(writeOut(pattern))).toBe(32);
  });
});

describe('cycles', () => {
  test('of 2 and 3 have all been heard after 6 passes', () => {
    const pattern = line('kick', [90, 90, 90]);
    const cycled = setCycle(
      setCycle(pattern, new Set(['h0']), { of: 2, on: [2] }),
      new Set(['h1']),
      { of: 3, on: [1, 3] },
    );
    expect(passesOf(cycled)).toBe(6);
    expect(hitCount(writeOut(cycled))).toBe(3 + 4 + 6);
  });

  test('and own loops written out sound as they did over all their passes', () => {
    fc.assert(
      fc.property(
        anyPattern(),
        fc.integer({ min: 1, max: 4 }),
        fc.constantFrom(720, 1200, 1920),
        (any, of, loop) => {
          const piece = any.strands.find((strand) => strand.hits.length > 0)?.piece;
          if (!piece) return;
          const looped = setStrandLoop(any, piece, loop);
          const pattern = setCycle(looped, allIds(looped), { of, on: [1] });
          const passes = passesOf(pattern);
          const written = writeOut(pattern);
          if (written === pattern) return;
          const long = songOfPattern(emptySong('s', 's', 'x'), pattern);
          long.sections[0].spans[0].to = pattern.length * passes;
          const at = (hits: ReturnType<typeof timeline>) =>
            hits.map((hit) => `${hit.tick} ${hit.piece} ${hit.velocity}`).sort();
          expect(at(heard(written))).toEqual(at(timeline(long)));
        },
      ),
    );
  });
});

describe('figures', () => {
  const one = line('snare', [100]);
  const struck = (hand: Omit<HandCommand, 'ids'>) =>
    heard(by(one, hand)).map((hit) => [hit.tick, hit.velocity]);

  test('a flam in the middle of a bar is a soft stroke so many milliseconds before the hit', () => {
    const late = placeHits(one, [{ piece: 'snare', hit: { ...hitsOf(one)[0], at: 1920 } }]);
    const flam = by(late, { type: 'flam', options: { strokes: 1, lead: 25, softness: 0.5 } });
    // 120 bpm: 25 ms are 48 ticks.
    expect(heard(flam).map((hit) => [hit.tick, hit.velocity])).toContainEqual([1872, 50]);
    expect(heard(flam).filter((hit) => hit.tick > 1800)).toHaveLength(2);
  });

  test('a burst divides its step evenly and rises to the hit', () => {
    expect(struck({ type: 'burst', options: { strokes: 3, slope: 1 } })).toEqual([
      [0, 1],
      [80, 50],
      [160, 100],
    ]);
  });

  test('taken off leave the plain hit', () => {
    const flam = by(one, { type: 'flam', options: { strokes: 2, lead: 60, softness: 0.5 } });
    const burst = by(flam, { type: 'burst', options: { strokes: 3, slope: 0 } });
    expect(by(burst, { type: 'take ornaments off', options: { of: 'all' } })).toEqual(one);
  });

  test('a roll fills its span at its rate, along its ramp', () => {
    const rolled = writeRoll(emptyPattern({ id: 'p', name: 'p' }), {
      piece: 'snare',
      articulation: 'centre',
      from: 2880,
      to: 3840,
      rate: 120,
      first: 40,
      last: 110,
      seed: 'r',
    });
    expect(hitsOf(rolled).map((hit) => hit.at)).toEqual([
      2880, 3000, 3120, 3240, 3360, 3480, 3600, 3720,
    ]);
    expect(velocities(rolled)).toEqual([40, 50, 60, 70, 80, 90, 100, 110]);
  });
});

describe('lanes', () => {
  test('hold what was drawn, within their limits', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(LANES) as (keyof typeof LANES)[])),
        fc.double({ min: -2000, max: 2000, noNaN: true }),
        (id, value) => {
          const drawn = setLane(line('snare', [90]), id, new Map([['h0', value]]));
          expect(LANES[id].get(hitsOf(drawn)[0])).toBe(laneValue(LANES[id], value));
          expect(checkSong(songWith(drawn))).toEqual([]);
        },
      ),
    );
  });
});

describe('bars', () => {
  const anyBars = fc.tuple(fc.nat(2), fc.integer({ min: 1, max: 3 }));

  test('inserted and removed again leave the pattern as it was', () => {
    fc.assert(
      fc.property(anyPattern(), anyBars, (pattern, [before, count]) => {
        const longer = insertBars(pattern, { before, count });
        if (longer === pattern) return;
        expect(removeBars(longer, { from: before, to: before + count })).toEqual(pattern);
      }),
    );
  });

  test('repeated sound twice, and cropped to the first time are as before', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const bars = Math.round(
          pattern.length / ((pattern.meter.beats * 3840) / pattern.meter.unit),
        );
        const twice = repeatBars(pattern, { from: 0, to: bars });
        expect(hitCount(twice)).toBe(2 * hitCount(pattern));
        expect(cropTo(twice, { from: 0, to: bars })).toEqual(pattern);
      }),
    );
  });

  test('a beat fills its bar with itself', () => {
    const pattern = line('kick', [100, 0, 60]);
    const filled = fillTo(pattern, allIds(pattern), 3840);
    expect(hitsOf(filled).map((hit: Hit) => hit.at / 240)).toEqual([0, 2, 4, 6, 8, 10, 12, 14]);
  });
});
