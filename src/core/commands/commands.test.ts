import fc from 'fast-check';
import { checkSong } from '../model';
import { anySong } from '../testing/arbitraries';
import { anyCommand, anyHostileCommandOf, anyWorkedSong } from '../testing/commands';
import { timeline } from '../weave';
import { COMMAND_NAMES } from './all';
import { applyCommand, attempt } from './apply';
import { advance, newHistory, nextSteps, redo, undo, type History } from './history';

const times = (n: number, step: (history: History) => History, from: History) =>
  Array.from({ length: n }).reduce<History>(step, from);

describe('any sequence of commands', () => {
  test('leaves a song that is sound', () => {
    fc.assert(
      fc.property(anyWorkedSong, fc.array(anyCommand, { maxLength: 25 }), (song, commands) => {
        const after = commands.reduce(applyCommand, song);
        expect(checkSong(after)).toEqual([]);
        expect(timeline(after).every((hit) => hit.tick >= 0)).toBe(true);
        // A song holds music, and nothing of what was said to change it.
        expect(JSON.stringify(after)).not.toContain('"type":');
      }),
    );
  });

  test('is undone to the equal song and redone to the equal song', () => {
    fc.assert(
      fc.property(anyWorkedSong, fc.array(anyCommand, { maxLength: 25 }), (song, commands) => {
        const before = structuredClone(song);
        let history = newHistory(song);
        for (const command of commands) {
          history = advance(history, applyCommand(history.song, command), command.type);
        }
        const after = structuredClone(history.song);
        const back = times(commands.length, undo, history);
        expect(back.song).toEqual(before);
        expect(times(commands.length, redo, back).song).toEqual(after);
      }),
    );
  });

  test('changes nothing when it names what is not there', () => {
    fc.assert(
      fc.property(anyWorkedSong, anyCommand, (song, command) => {
        const holders = ['pattern', 'place', 'section', 'id'];
        const named = Object.entries(command).filter(
          ([key, value]) => holders.includes(key) && typeof value === 'string',
        );
        const gone = {
          ...command,
          ...Object.fromEntries(named.map(([key]) => [key, 'gone'])),
        } as typeof command;
        const makes = ['add section', 'remove feel', 'apply feel', 'slice loop'].includes(
          gone.type,
        );
        if (named.length > 0 && !makes) expect(applyCommand(song, gone)).toBe(song);
      }),
    );
  });
});

describe.each(COMMAND_NAMES)('“%s”', (name) => {
  test('keeps the song sound, whatever it is told, and says why it does not apply', () => {
    fc.assert(
      fc.property(anyWorkedSong, anyHostileCommandOf(name), (song, command) => {
        const after = attempt(song, command);
        if (typeof after === 'string') expect(after).toMatch(/^\S.*\.$/s);
        else {
          expect(after).not.toBe(song);
          expect(checkSong(after)).toEqual([]);
          expect(timeline(after).every((hit) => Number.isFinite(hit.tick))).toBe(true);
        }
      }),
    );
  });
});

test('a command that is none is refused', () => {
  const [song] = fc.sample(anySong, 1);
  for (const nothing of [undefined, null, {}, { type: 'toString' }, { type: '__proto__' }, 7]) {
    expect(attempt(song, nothing as never)).toBe('There is no such command.');
  }
});

test('a name given once more is no step of undo', () => {
  const [song] = fc.sample(anySong, 1);
  expect(applyCommand(song, { type: 'rename song', name: song.name })).toBe(song);
  const [{ id, name }] = song.patterns;
  expect(applyCommand(song, { type: 'rename pattern', pattern: id, name })).toBe(song);
  const [section] = song.sections;
  const same = { type: 'change section', section: section.id, name: section.name } as const;
  expect(applyCommand(song, same)).toBe(song);
});

test('a step that changed nothing is no step of undo, and a new step ends redo', () => {
  const [song] = fc.sample(anySong, 1);
  const same = advance(newHistory(song), song, 'nothing');
  expect(nextSteps(same)).toEqual({ undo: undefined, redo: undefined });
  const renamed = advance(same, applyCommand(song, { type: 'rename song', name: 'A' }), 'rename');
  const undone = undo(renamed);
  expect(nextSteps(undone)).toEqual({ undo: undefined, redo: 'rename' });
  const other = advance(undone, applyCommand(song, { type: 'rename song', name: 'B' }), 'again');
  expect(nextSteps(other)).toEqual({ undo: 'again', redo: undefined });
});
