import fc from 'fast-check';
import { moveRow, orderedRows, shownRows, turnRow } from '@/core/pattern';
import { demoSongs } from '@/demo';
import { timeline } from '@/core/weave';
import { undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { heardSong } from '../transport/transport';
import * as view from './view';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [song] = demoSongs();
const verse = song.patterns[0];

beforeEach(() => {
  openBench(song, { hear: 'pattern', patternId: verse.id, cursor: { piece: 'snare', at: 0 } });
});

const shown = () => openSongNow().patterns[0];
const state = () => useWorkbench.getState();
const heard = () => [...new Set(timeline(heardSong(state())!).map(({ piece }) => piece))].sort();
const sounding = verse.strands.flatMap(({ piece, hits }) => (hits.length > 0 ? [piece] : []));

describe('rows', () => {
  test('are hidden, shown again and put in staff order without touching a hit', () => {
    view.turnRowView('hidden');
    expect(shownRows(shown())).not.toContain('snare');
    expect(shown().strands).toBe(verse.strands);
    view.showAllRows();
    expect(shownRows(shown())).toEqual(shownRows(verse));
    view.moveCursorRow(-2);
    expect(shownRows(shown())).not.toEqual(shownRows(verse));
    view.staffOrderRows();
    expect(shownRows(shown())).toEqual(verse.strands.map(({ piece }) => piece));
    expect(shown().strands).toBe(verse.strands);
    undo();
    undo();
    undo();
    undo();
    expect(openSongNow()).toEqual(song);
  });

  test('are open or folded, never both, and the same key leads back', () => {
    view.turnRowView('open');
    view.turnRowView('folded');
    expect([shown().view?.open, shown().view?.folded]).toEqual([[], ['snare']]);
    view.turnRowView('folded');
    expect(shown().view?.folded).toEqual([]);
  });

  test('moved anywhere are all still there, in one order', () => {
    const pieces = fc.constantFrom(...verse.strands.map(({ piece }) => piece));
    fc.assert(
      fc.property(fc.array(fc.tuple(pieces, fc.integer({ min: -9, max: 9 }))), (moves) => {
        const after = moves.reduce((p, [piece, by]) => moveRow(p, piece, by), verse);
        expect([...orderedRows(after)].sort()).toEqual([...orderedRows(verse)].sort());
        expect(after.strands).toBe(verse.strands);
      }),
    );
  });

  test('move past those that are hidden, and a move there and back is none', () => {
    const hidden = turnRow(verse, 'hidden', 'snare');
    const rows = shownRows(hidden);
    const [, second] = rows;
    const down = moveRow(hidden, second, 1);
    expect(shownRows(down).indexOf(second)).toBe(2);
    expect(shownRows(moveRow(down, second, -1))).toEqual(rows);
    expect(moveRow(hidden, rows[0], -1)).toBe(hidden);
  });
});

describe('mute and solo', () => {
  test('leave out the muted; solo leaves out all others; all are heard again', () => {
    expect(heard()).toEqual([...sounding].sort());
    view.toggleMute();
    expect(heard()).toEqual(sounding.filter((piece) => piece !== 'snare').sort());
    view.toggleSolo('kick');
    expect(heard()).toEqual(['kick']);
    view.hearAllRows();
    expect(heard()).toEqual([...sounding].sort());
    expect(openSongNow()).toBe(song);
  });

  test('a solo is taken back by the same key', () => {
    view.toggleSolo();
    view.toggleSolo();
    expect(heard()).toEqual([...sounding].sort());
  });
});

describe('zoom', () => {
  test('stays within what can be drawn, and fits again', () => {
    view.sayScale(0.1);
    view.zoomTime(2);
    expect(state().zoom.beat).toBeCloseTo(192);
    for (let n = 0; n < 20; n++) view.zoomTime(2);
    const widest = state().zoom.beat!;
    view.zoomTime(2);
    expect(state().zoom.beat).toBe(widest);
    for (let n = 0; n < 20; n++) view.zoomRows(0.5);
    expect(state().zoom.rows).toBeGreaterThan(0.5);
    view.zoomToFit();
    expect(state().zoom).toEqual({ rows: 1 });
  });

  test('a lane opens on the row of the cursor, and the same one again closes it', () => {
    view.showLane('pan');
    expect(state().lane).toEqual({ piece: 'snare', id: 'pan' });
    view.showLane('tune');
    expect(state().lane?.id).toBe('tune');
    view.showLane('tune');
    expect(state().lane).toBeUndefined();
  });
});
