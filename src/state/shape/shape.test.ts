import { findStrand } from '@/core';
import { emptySong } from '@/core/model';
import { barTicks } from '@/core/time';
import { undo } from '../session/edit';
import { removeShown } from '../gather/shelf';
import * as clips from './clips';
import * as frame from './frame';
import * as shape from './shape';
import { openSongNow, useWorkbench } from '../store';
import * as toolbox from './toolbox';
import { openBench } from '../testing';
import { chooseRow } from './testing';

jest.mock('@/storage/songs');
jest.mock('../transport/transport', () => ({ strike: jest.fn(), loopBarsOf: jest.fn() }));

const STEP = 240;

beforeEach(() => {
  openBench(emptySong('s', 'Song', 'p'), { patternId: 'p' });
});

const pattern = () =>
  openSongNow().patterns.find(({ id }) => id === useWorkbench.getState().patternId)!;
const strand = (piece: string) => findStrand(pattern(), piece)!;
const steps = (piece: string) => strand(piece).hits.map(({ at }) => at / STEP);
const said = () => useWorkbench.getState().notices.at(-1)?.message;

/** Writes hits on steps of a row, as typing does. */
function write(piece: string, at: readonly number[], velocity = 100): void {
  for (const step of at) {
    shape.setCursor(piece, step * STEP);
    shape.writeAtCursor(velocity);
  }
}

describe('typing', () => {
  test('places, changes the strength, and takes away what is there', () => {
    write('kick', [0, 8]);
    write('kick', [8], 60);
    expect(strand('kick').hits.map(({ velocity }) => velocity)).toEqual([100, 60]);
    shape.writeAtCursor();
    expect(steps('kick')).toEqual([0]);
    // The strength that was typed last is the one that comes without a digit.
    write('snare', [4], 33);
    shape.setCursor('snare', 12 * STEP);
    shape.writeAtCursor();
    expect(strand('snare').hits.map(({ velocity }) => velocity)).toEqual([33, 33]);
  });

  test('strikes coming hits the way that was turned to', () => {
    shape.setCursor('hihat', 0);
    shape.nextArticulation();
    shape.writeAtCursor(90);
    expect(strand('hihat').hits[0].articulation).toBe('open');
    shape.nextArticulation();
    expect(strand('hihat').hits[0].articulation).not.toBe('open');
  });
});

describe('hits that are chosen', () => {
  test('are those of the row, of the bar, or all', () => {
    frame.addBars(1);
    write('kick', [0, 8, 16]);
    write('snare', [4, 20]);
    chooseRow('kick');
    expect(shape.chosenIds()).toHaveLength(3);
    shape.setCursor('kick', 17 * STEP);
    toolbox.runOffered('select the bar');
    expect(shape.chosenIds()).toHaveLength(2);
    expect(shape.chosenRows().sort()).toEqual(['kick', 'snare']);
    toolbox.runOffered('select everything');
    expect(shape.chosenIds()).toHaveLength(5);
  });

  test('move together, and stop together at the edge', () => {
    write('kick', [2, 5]);
    chooseRow('kick');
    shape.moveChosen(-9, 0);
    expect(steps('kick')).toEqual([0, 3]);
    shape.moveChosen(99, 0);
    expect(steps('kick')).toEqual([12, 15]);
  });

  test('grow louder and softer within what MIDI has, and go when they are removed', () => {
    write('kick', [0], 120);
    chooseRow('kick');
    shape.addVelocity(40);
    expect(strand('kick').hits[0].velocity).toBe(127);
    shape.addVelocity(-126);
    expect(strand('kick').hits[0].velocity).toBe(1);
    shape.removeChosen();
    expect(steps('kick')).toEqual([]);
    expect(useWorkbench.getState().selection).toEqual([]);
  });
});

test('hits are nudged by milliseconds and stay on their steps', () => {
  write('kick', [0, 8]);
  chooseRow('kick');
  shape.nudgeChosen(5);
  shape.nudgeChosen(-2);
  const pushes = findStrand(pattern(), 'kick')!.hits.map(({ push }) => push);
  // 3 ms at 120 beats a minute.
  for (const push of pushes) expect(push).toBeCloseTo(5.76, 6);
  expect(steps('kick')).toEqual([0, 8]);
});

test('a digit gives the selection its strength, and writes at the cursor without one', () => {
  write('kick', [0, 8]);
  chooseRow('kick');
  shape.strikeChosen(40);
  expect(findStrand(pattern(), 'kick')!.hits.map(({ velocity }) => velocity)).toEqual([40, 40]);
  shape.clearSelection();
  shape.setCursor('kick', 4 * STEP);
  shape.strikeChosen(50);
  expect(steps('kick')).toEqual([0, 4, 8]);
});

describe('copied hits', () => {
  const copyKick = () => {
    write('kick', [0, 3]);
    chooseRow('kick');
    clips.copyChosen();
    shape.clearSelection();
  };

  test('are added to what is there, or replace it, as it is set', () => {
    copyKick();
    write('kick', [9]);
    shape.setCursor('kick', 8 * STEP);
    clips.paste();
    expect(steps('kick')).toEqual([0, 3, 8, 9, 11]);
    undo();
    clips.togglePasteMode();
    shape.setCursor('kick', 8 * STEP);
    clips.paste();
    expect(steps('kick')).toEqual([0, 3, 8, 11]);
  });

  test('go onto another row, and into another pattern', () => {
    copyKick();
    shape.setCursor('snare', 0);
    clips.paste({ onto: 'snare' });
    expect(steps('snare')).toEqual([0, 3]);
    shape.addPattern();
    shape.setCursor('kick', 4 * STEP);
    clips.paste();
    expect(steps('kick')).toEqual([4, 7]);
    expect(openSongNow().patterns).toHaveLength(2);
  });

  test('of several rows go onto the rows from the cursor’s down, and it is said where they went', () => {
    write('hihat', [0]);
    write('snare', [2]);
    toolbox.runOffered('select everything');
    clips.copyChosen();
    shape.clearSelection();
    const rows = shape.rowsNow(pattern());
    const [from, below] = [rows.indexOf('hihat'), rows.indexOf('snare')];
    const onto = rows[from + 1] === 'snare' ? 'snare' : rows[from + 1];
    shape.setCursor(onto, 0);
    clips.paste({ onto });
    const second = rows[rows.indexOf(onto) + below - from];
    expect(steps(onto)).toContain(0);
    expect(steps(second)).toContain(2);
    expect(said()).toMatch(/^Pasted on /);
  });

  test('cut hits are gone, and fill the bar when they are told to', () => {
    write('hihat', [0, 2]);
    chooseRow('hihat');
    toolbox.runOffered('fill the bar');
    expect(steps('hihat')).toEqual([0, 2, 4, 6, 8, 10, 12, 14]);
    chooseRow('hihat');
    clips.cutChosen();
    expect(steps('hihat')).toEqual([]);
    shape.setCursor('hihat', 0);
    clips.paste();
    expect(steps('hihat')).toHaveLength(8);
  });
});

describe('the frame of the pattern', () => {
  test('has whole bars of any meter, and its hits stay', async () => {
    write('kick', [0, 8]);
    frame.setBars(3);
    const seven = { beats: 7, unit: 8 };
    const before = openSongNow();
    frame.setMeter(seven);
    await new Promise((later) => setTimeout(later));
    expect([openSongNow(), useWorkbench.getState().dialog]).toEqual([before, 'meter']);
    frame.setMeterBy('cut', seven);
    expect(pattern().length).toBe(3 * barTicks(seven));
    expect(steps('kick')).toEqual([0, 8]);
    undo();
    frame.setMeterBy('count', seven);
    expect(pattern().length).toBe(4 * barTicks(seven));
    const counted = openSongNow();
    frame.setMeter({ beats: 0, unit: 4 });
    expect(openSongNow()).toBe(counted);
  });

  test('is drawn finer and coarser without moving a hit', () => {
    write('kick', [3]);
    const at = strand('kick').hits[0].at;
    frame.nextStepRate(1);
    const finer = pattern().step;
    frame.nextStepRate(-1);
    frame.nextStepRate(-1);
    expect(finer).toBeLessThan(STEP);
    expect(pattern().step).toBeGreaterThan(STEP);
    frame.toggleTriplets();
    expect(pattern().step * 3).toBe(4 * STEP);
    frame.nextStepRate(1);
    frame.toggleTriplets();
    expect(pattern().step).toBe(STEP);
    expect(strand('kick').hits[0].at).toBe(at);
  });

  test('gains and loses rows; the cursor stays on one that is there', () => {
    frame.addStrand('cowbell');
    expect(useWorkbench.getState().cursor.piece).toBe('cowbell');
    write('cowbell', [0]);
    frame.removeStrand();
    expect(findStrand(pattern(), 'cowbell')).toBeUndefined();
    expect(findStrand(pattern(), useWorkbench.getState().cursor.piece)).toBeDefined();
    undo();
    expect(steps('cowbell')).toEqual([0]);
  });
});

describe('patterns of the song', () => {
  test('are duplicated with their hits, and turned through', () => {
    write('kick', [0]);
    shape.duplicatePattern();
    expect(steps('kick')).toEqual([0]);
    const copy = pattern().id;
    shape.nextPattern(1);
    expect(pattern().id).toBe('p');
    shape.nextPattern(-1);
    expect(pattern().id).toBe(copy);
  });

  test('the last one stays, and that is said', () => {
    removeShown();
    expect(openSongNow().patterns).toHaveLength(1);
    expect(said()).toMatch(/keeps at least one pattern/);
    shape.addPattern();
    removeShown();
    expect(openSongNow().patterns.map(({ id }) => id)).toEqual(['p']);
    expect(openSongNow().offcuts).toHaveLength(1);
  });
});
