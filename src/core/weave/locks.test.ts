import fc from 'fast-check';
import { attempt, applyCommand, lockAgainst } from '../commands';
import { type Song } from '../model';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { setLock, type Lockable } from './locks';
import { laidPlaces } from './sections';
import { timeline } from './timeline';

const locked = (song: Song, of: Lockable) => {
  const ids = { song: song.id, section: 's-a', place: song.places[0].id, pattern: 'a' };
  return setLock(song, of, ids[of], true);
};
const placeSounds = (song: Song, id: string) => {
  const laid = laidPlaces(song).find(({ place }) => place.id === id);
  return timeline(song)
    .filter(({ place }) => place === id)
    .map(({ tick, piece, velocity }) => [Math.round(tick - laid!.start), piece, velocity].join());
};

test('what is locked is not changed by any command', () => {
  fc.assert(
    fc.property(anyWholeSong, anyCommand, (song, command) => {
      if (command.type === 'lock') return;
      const whole = locked(song, 'song');
      expect(applyCommand(whole, command)).toBe(whole);
      const [place] = song.places;
      const one = locked(song, 'place');
      // Another tempo, or early strokes at the very start of the song, move what is locked as a whole.
      if (/tempo|move|remove|paste|add section|form|meter|bars/.test(command.type)) return;
      const after = applyCommand(one, command);
      if (after.places.some(({ id }) => id === place.id)) {
        expect(placeSounds(after, place.id).sort()).toEqual(placeSounds(song, place.id).sort());
      } else throw new Error('A locked place is gone');
    }),
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
