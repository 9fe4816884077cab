import { songOfPattern, timeline } from '../weave';
import fc from 'fast-check';
import { checkSong, emptyPattern, emptySong, type Hit, type Pattern } from '../model';
import { applyCommand, attempt, COMMANDS, type Command } from '../commands';
import { anyPattern } from '../testing/arbitraries';
import { anyHitCommand, anyWorkedPattern, HIT_COMMANDS } from '../testing/commands';
import { cropTo, insertBars, removeBars, repeatBars } from './bars';
import { clipOf, fillTo, pasteClip } from './clip';
import { passesOf, setCycle, setStrandLoop, writeOut } from './cycle';
import { copyHits, moveHits } from './move';
import { describedHits, grownSelection, invertedSelection, shrunkSelection } from './select';
import { allIds, hitCount } from './strands';
import { doubleTime, halfTime, mirror, reverse, rotate } from './shapeOfTime';
import { revoice, swapStrands } from './voice';
import { writeRoll } from './ornament';
import { placeHits } from './hits';
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
const worked = (pattern: Pattern, command: object, ids: readonly string[]) =>
  applyCommand(songWith(pattern), { ...command, pattern: pattern.id, ids } as Command).patterns[0];
const by = (pattern: Pattern, command: { type: Command['type'] } & Record<string, unknown>) =>
  worked(pattern, command, [...allIds(pattern)]);

describe('what is done to chosen hits', () => {
  test('leaves a sound pattern, or says why it changes nothing', () => {
    fc.assert(
      fc.property(anyWorkedPattern, anyHitCommand, (pattern, command) => {
        const ids = [...allIds(pattern)];
        const told = { ...command, pattern: pattern.id, ids } as Command;
        const after = attempt(songWith(pattern), told);
        if (typeof after === 'string') expect(after).toMatch(/^\S.{10,}\.$/);
        else expect(checkSong(after)).toEqual([]);
      }),
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
      'move hits',
      'copy hits',
      'duplicate hits',
      'fill the bar',
      'fill the pattern',
    ]);
    fc.assert(
      fc.property(
        anyPattern(),
        anyHitCommand,
        fc.integer({ min: 2, max: 4 }),
        (pattern, command, every) => {
          if (mayReplace.has(command.type)) return;
          const ids = [...allIds(pattern)].filter((_, i) => i % every === 0);
          const after = worked(pattern, command, ids);
          const rest = (p: Pattern) => hitsOf(p).filter((hit) => !ids.includes(hit.id));
          expect(rest(after)).toEqual(expect.arrayContaining(rest(pattern)));
        },
      ),
    );
  });

  test('refuses numbers out of its limits and says what they may be', () => {
    const song = songWith(line('snare', [90, 90]));
    for (const type of HIT_COMMANDS) {
      const { values } = COMMANDS[type];
      for (const [name, { shape, optional }] of Object.entries(values)) {
        if (shape.kind !== 'number' || optional) continue;
        const [low, high] = shape.limits;
        const command = { type, pattern: 'p', ids: ['h0'], ...middleOf(type), [name]: high + 1 };
        expect(attempt(song, command as never)).toContain(`${low} to ${high}`);
      }
    }
  });
});

/** Values of a command that are allowed, whatever they do. */
function middleOf(type: Command['type']): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(COMMANDS[type].values).flatMap(([name, { shape }]): [string, unknown][] => {
      if (shape.kind === 'number') return [[name, shape.limits[0]]];
      if (shape.kind === 'choice') return [[name, shape.options[0]]];
      if (shape.kind === 'text')
        return [[name, ['x', 'x..', 'x/x'].find((one) => !shape.fits || shape.fits.test(one))]];
      return shape.kind === 'id' && name !== 'pattern' ? [[name, 'x']] : [];
    }),
  );
}

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
    const ramp = by(flat, { type: 'ramp velocity', from: 30, to: 100 });
    expect(velocities(ramp)).toEqual([30, 40, 50, 60, 70, 80, 90, 100]);
  });

  test('alternates strong and weak hand, and either may lead', () => {
    const lead = (hand: 'strong' | 'weak') =>
      velocities(by(flat, { type: 'alternate hands', softer: 50, lead: hand }));
    expect(lead('strong').slice(0, 4)).toEqual([80, 40, 80, 40]);
    expect(lead('weak').slice(0, 4)).toEqual([40, 80, 40, 80]);
  });

  test('accents every third step over sixteenths', () => {
    const options = { steps: 'x..', louder: 20, softer: 10 };
    const accented = velocities(by(flat, { type: 'accent steps', ...options }));
    expect(accented).toEqual([100, 70, 70, 100, 70, 70, 100, 70]);
  });

  test('levelled all the way is equal; levelled and spread by nothing is as it was', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const level = by(pattern, { type: 'level velocity', percent: 100 });
        expect(new Set(velocities(level)).size).toBeLessThanOrEqual(1);
        expect(by(pattern, { type: 'level velocity', percent: 0 })).toBe(pattern);
        expect(by(pattern, { type: 'spread velocity', percent: 0 })).toBe(pattern);
      }),
    );
  });

  test('drawn at random lies within its bounds', () => {
    fc.assert(
      fc.property(anyPattern(), fc.nat(), (pattern, seed) => {
        const options = { low: 30, high: 40, seed };
        const drawn = velocities(by(pattern, { type: 'random velocity', ...options }));
        expect(drawn.every((velocity) => velocity >= 30 && velocity <= 40)).toBe(true);
      }),
    );
  });

  test('ghosts what is not on a beat and nothing else', () => {
    const ghosted = by(flat, { type: 'ghost the off-beats', velocity: 30 });
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
    const thin = by(pattern, { type: 'thin to every n-th', every: 2 });
    expect(hitsOf(thin).map((hit) => hit.id)).toEqual(['h0', 'h2', 'h4']);
    const dense = by(thin, { type: 'fill the gaps', percent: 50 });
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
          const long = songOfPattern(emptySong('s', 's', 'x'), pattern, passes);
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
  const struck = (command: Parameters<typeof by>[1]) =>
    heard(by(one, command)).map((hit) => [hit.tick, hit.velocity]);

  test('a flam in the middle of a bar is a soft stroke so many milliseconds before the hit', () => {
    const late = placeHits(one, [
      { piece: 'snare', hit: { ...hitsOf(one)[0], id: 'late', at: 1920 } },
    ]);
    const flam = by(late, { type: 'flam', strokes: 1, lead: 25, softness: 50 });
    // 120 bpm: 25 ms are 48 ticks.
    expect(heard(flam).map((hit) => [hit.tick, hit.velocity])).toContainEqual([1872, 50]);
    expect(heard(flam).filter((hit) => hit.tick > 1800)).toHaveLength(2);
  });

  test('a burst divides its step evenly and rises to the hit', () => {
    expect(struck({ type: 'burst', strokes: 3, slope: 100 })).toEqual([
      [0, 1],
      [80, 50],
      [160, 100],
    ]);
  });

  test('taken off leave the plain hit', () => {
    const flam = by(one, { type: 'flam', strokes: 2, lead: 60, softness: 50 });
    const burst = by(flam, { type: 'burst', strokes: 3, slope: 0 });
    expect(by(burst, { type: 'take ornaments off', of: 'all' })).toEqual(one);
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
