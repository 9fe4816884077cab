import fc from 'fast-check';
import { attempt, applyCommand, lockAgainst } from '../commands';
import { findPattern, type Song } from '../model';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { heardBars } from '../testing/drafts';
import { setLock, type Lockable } from './locks';
import { laidPlaces } from './sections';

const locked = (song: Song, of: Lockable) => {
  const ids = { song: song.id, section: 's-a', place: song.places[0].id, pattern: 'a' };
  return setLock(song, of, ids[of], true);
};

/** What each place plays, note for note, by the names of places. */
const playedBy = (song: Song) => {
  const bars = heardBars(song);
  return new Map(laidPlaces(song).map(({ place }, i) => [place.id, bars[i].join('\n\n')]));
};

test('no command whatever changes what a locked part plays', () => {
  fc.assert(
    fc.property(
      anyWholeSong,
      fc.array(anyCommand, { minLength: 1, maxLength: 4 }),
      fc.constantFrom<Lockable>('song', 'section', 'place', 'pattern'),
      fc.nat(),
      (song, commands, of, which) => {
        const list = { section: song.sections, place: song.places, pattern: song.patterns };
        if (of !== 'song' && list[of].length === 0) return;
        const { id } = of === 'song' ? song : list[of][which % list[of].length];
        const before = setLock(song, of, id, true);
        const after = commands
          .filter(({ type }) => type !== 'lock')
          .reduce((now, command) => applyCommand(now, command), before);
        if (of === 'song') return expect(after).toBe(before);
        if (of === 'pattern') {
          const [was, now] = [before, after].map((one) => findPattern(one, id)!);
          return expect([now.strands, now.length, now.swing]).toEqual([
            was.strands,
            was.length,
            was.swing,
          ]);
        }
        const [was, now] = [before, after].map(playedBy);
        for (const place of before.places) {
          if (of === 'place' ? place.id !== id : place.section !== id) continue;
          expect(now.get(place.id)).toBe(was.get(place.id));
        }
      },
    ),
  );
});

test('a refused command names the lock, and goes through once it is lifted', () => {
  const [song] = fc.sample(anySong, 1);
  const held = locked(song, 'pattern');
  const command = { type: 'rename pattern', pattern: 'a', name: 'other' } as const;
  expect(attempt(held, command)).toBe('The pattern “a” is locked against change.');
  expect(lockAgainst(held, command)).toEqual({ of: 'pattern', id: 'a', name: 'a' });
  const lifted = applyCommand(held, { type: 'lock', of: 'pattern', id: 'a', on: false });
  expect(applyCommand(lifted, command).patterns[0].name).toBe('other');
  expect(
    applyCommand(held, { type: 'remark pattern', id: 'a', notes: 'keep' }).patterns[0].notes,
  ).toBe('keep');
});

test('a locked section is not changed through a pattern that it plays', () => {
  const [song] = fc.sample(anySong, 1);
  const held = locked(song, 'section');
  expect(applyCommand(held, { type: 'set swing', pattern: 'a', percent: 62, unit: 240 })).toBe(
    held,
  );
  expect(applyCommand(held, { type: 'set swing', pattern: 'b', percent: 62, unit: 240 })).not.toBe(
    held,
  );
});
