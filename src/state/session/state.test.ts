import { emptyPattern, emptySong } from '@/core/model';
import { newHistory } from '@/core/commands';
import { findStrand } from '@/core';
import { cancelGesture, commitGesture, edit, editAllOrSay, preview, redo, undo } from './edit';
import { fileName } from '@/core/names';
import * as clips from '../shape/clips';
import * as frame from '../shape/frame';
import * as shape from '../shape/shape';
import { runOffered } from '../shape/toolbox';
import { initial, openSongNow, useWorkbench } from '../store';
import { heardLoop, heardSong } from '../transport/transport';

// No storage here: autosave is content, and has its own tests.
jest.mock('@/storage/songs');
jest.mock('@/workers');

beforeEach(() => {
  const song = emptySong('s', 'Song', 'p');
  useWorkbench.setState({ ...initial, status: 'ready', history: newHistory(song), patternId: 'p' });
});

const pattern = () => openSongNow().patterns[0];
const hits = (piece: string) => findStrand(pattern(), piece)!.hits;
const kick = (at: number, velocity = 90) => ({
  type: 'place hits' as const,
  pattern: 'p',
  hits: [{ piece: 'kick', hit: { id: `k${at}`, at, push: 0, velocity, articulation: '' } }],
});

describe('several commands that belong together', () => {
  test('are one step of undo, and where one is refused none is done and the reason is said', () => {
    const before = openSongNow();
    expect(
      editAllOrSay([kick(0), { type: 'rename pattern', pattern: 'gone', name: 'x' }], 'both'),
    ).toBe(false);
    expect(openSongNow()).toBe(before);
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/not there|gone/i);
    expect(editAllOrSay([kick(0), kick(240)], 'both')).toBe(true);
    expect(hits('kick')).toHaveLength(2);
    undo();
    expect(openSongNow()).toEqual(before);
  });

  test('leave out what would change nothing, but where one meets a lock none is done', () => {
    const other = emptyPattern({ id: 'q', name: 'kept' });
    edit({ type: 'add pattern', value: other });
    edit({ type: 'rename pattern', pattern: 'p', name: 'mine' });
    const same = { type: 'rename pattern', pattern: 'p', name: 'mine' } as const;
    expect(edit([same, kick(0)])).toBe(true);
    edit({ type: 'lock', of: 'pattern', id: 'q', on: true });
    const before = openSongNow();
    expect(edit([kick(480), { type: 'rename pattern', pattern: 'q', name: 'x' }])).toBe(false);
    expect(openSongNow()).toBe(before);
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/“kept” is locked/);
  });
});

describe('a gesture', () => {
  test('shows each preview from where it began, and is one step of undo', () => {
    preview([kick(0)], 'paint');
    preview([kick(0), kick(240)], 'paint');
    preview([kick(480)], 'paint');
    expect(hits('kick').map((hit) => hit.at)).toEqual([480]);
    commitGesture();
    undo();
    expect(hits('kick')).toEqual([]);
    redo();
    expect(hits('kick')).toHaveLength(1);
  });

  test('that is cancelled leaves no trace', () => {
    const before = useWorkbench.getState().history;
    preview([kick(0)], 'paint');
    cancelGesture();
    expect(useWorkbench.getState().history).toBe(before);
  });

  test('is not undone while it goes on', () => {
    edit(kick(0));
    preview([kick(240)], 'paint');
    undo();
    expect(hits('kick')).toHaveLength(2);
  });
});

test('a song that another tab holds is not changed, and that is said', () => {
  useWorkbench.setState({ readOnly: true });
  expect(edit(kick(0))).toBe(false);
  expect(hits('kick')).toEqual([]);
  expect(useWorkbench.getState().notices[0].message).toContain('another tab');
});

describe('writing with the cursor', () => {
  test('walks by steps within the pattern and over its rows', () => {
    shape.setCursor('snare', 0);
    shape.moveCursor(-1, 0);
    expect(useWorkbench.getState().cursor).toEqual({ piece: 'snare', at: 0 });
    shape.moveCursor(99, 99);
    expect(useWorkbench.getState().cursor).toEqual({ piece: 'kick', at: 15 * 240 });
  });

  test('pastes at the cursor with the pushes kept, and walks on behind it', () => {
    edit(kick(0));
    edit({ type: 'timing offset', pattern: 'p', ids: ['k0'], push: 12.5 });
    shape.select(['k0']);
    clips.copyChosen();
    shape.setCursor('kick', 960);
    clips.paste();
    expect(hits('kick').map(({ at, push }) => [at, push])).toEqual([
      [0, 12.5],
      [960, 12.5],
    ]);
    // To the next place of the grid where it can be pasted again: half a beat on.
    expect(useWorkbench.getState().cursor.at).toBe(1440);
  });

  test('what is pasted at a bar line keeps its place in the bar, and again in the next one', () => {
    edit({ type: 'set length', pattern: 'p', length: 3 * 3840 });
    edit([kick(960), kick(1680)]);
    runOffered('select everything');
    clips.copyChosen();
    shape.setCursor('kick', 3840);
    clips.paste();
    clips.paste();
    const inBar = [960, 1680];
    expect(hits('kick').map(({ at }) => at)).toEqual(
      [0, 1, 2].flatMap((bar) => inBar.map((at) => bar * 3840 + at)),
    );
    const copied = clips.copiedHits()!;
    expect(copied.strands[0].hits.map(({ at }) => at)).toEqual(inBar);
  });

  test('what is gone is not selected, and the cursor stays in the pattern', () => {
    edit({ type: 'set length', pattern: 'p', length: 2 * 3840 });
    edit([kick(0), kick(960)]);
    shape.select(['k0', 'k960']);
    shape.setCursor('kick', 7200);
    undo();
    expect(useWorkbench.getState().selection).toEqual([]);
    undo();
    expect(useWorkbench.getState().cursor.at).toBe(15 * 240);
  });

  test('duplicates a beat onto the next beat, a bar onto the next bar', () => {
    edit([kick(0), kick(240)]);
    runOffered('select everything');
    clips.duplicateChosen();
    expect(hits('kick').map((hit) => hit.at)).toEqual([0, 240, 480, 720]);
  });

  test('selects by rows and steps while Shift is held', () => {
    edit([kick(0), kick(960)]);
    shape.setCursor('kick', 0);
    shape.moveCursor(2, 0, true);
    expect(useWorkbench.getState().selection).toEqual(['k0']);
    shape.moveCursor(2, 0, true);
    expect(useWorkbench.getState().selection).toEqual(['k0', 'k960']);
  });
});

describe('what is heard', () => {
  test('in Shape is the pattern, looped whole unless some of its bars are chosen', () => {
    expect(heardSong(useWorkbench.getState())?.patterns).toHaveLength(1);
    expect(heardLoop(useWorkbench.getState())).toEqual({ from: 0, to: 3840 });
    frame.setBars(4);
    useWorkbench.setState({ patternLoop: { from: 3840, to: 99_999 } });
    expect(heardLoop(useWorkbench.getState())).toEqual({ from: 3840, to: 15_360 });
  });

  test('L loops the bar of the cursor, or the bars of the selection', () => {
    frame.setBars(4);
    shape.setCursor('kick', 3840 + 480);
    shape.loopChosen();
    expect(heardLoop(useWorkbench.getState())).toEqual({ from: 3840, to: 7680 });
    edit([kick(0), kick(2 * 3840)]);
    runOffered('select everything');
    shape.loopChosen();
    expect(heardLoop(useWorkbench.getState())).toEqual({ from: 0, to: 3 * 3840 });
  });

  test('as a song is the song, and loops only where a loop was drawn', () => {
    useWorkbench.setState({ hear: 'song' });
    expect(heardSong(useWorkbench.getState())).toBe(openSongNow());
    expect(heardLoop(useWorkbench.getState())).toBeUndefined();
  });
});

test('a file name keeps what file systems take', () => {
  expect(fileName('Salt: marsh / "signal"?', 'mid')).toBe('Salt- marsh - -signal-.mid');
  expect(fileName('', 'mid')).toBe('song.mid');
  expect(fileName('Ebbe und Flut, Übung 3', 'mid')).toBe('Ebbe und Flut, Übung 3.mid');
});
