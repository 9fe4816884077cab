import fc from 'fast-check';
import { checkSong } from '../model/check';
import { anyCommand, anySong } from '../testing/arbitraries';
import { timeline } from '../weave/timeline';
import { applyCommand } from './apply';
import { advance, newHistory, nextSteps, redo, undo, type History } from './history';

const times = (n: number, step: (history: History) => History, from: History) =>
  Array.from({ length: n }).reduce<History>(step, from);

describe('any sequence of commands', () => {
  test('leaves a song that is sound', () => {
    fc.assert(
      fc.property(anySong, fc.array(anyCommand, { maxLength: 25 }), (song, commands) => {
        const after = commands.reduce(applyCommand, song);
        expect(checkSong(after)).toEqual([]);
        expect(timeline(after).every((hit) => hit.tick >= 0)).toBe(true);
      }),
      { numRuns: 200 },
    );
  });

  test('is undone to the equal song and redone to the equal song', () => {
    fc.assert(
      fc.property(anySong, fc.array(anyCommand, { maxLength: 25 }), (song, commands) => {
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
      { numRuns: 150 },
    );
  });

  test('changes nothing when it names what is not there', () => {
    fc.assert(
      fc.property(anySong, anyCommand, (song, command) => {
        const gone = Object.fromEntries(
          Object.entries(command).map(([key, value]) =>
            ['pattern', 'place', 'section', 'id'].includes(key) ? [key, 'gone'] : [key, value],
          ),
        ) as typeof command;
        const names = ['pattern', 'place', 'section', 'id'].some((key) => key in gone);
        if (names && gone.type !== 'add section') expect(applyCommand(song, gone)).toBe(song);
      }),
    );
  });
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
