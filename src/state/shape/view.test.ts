import fc from 'fast-check';
import { moveRow, orderedRows, shownRows, toggleRow } from '@/core/pattern';
import { demoSongs } from '@/demo';
import { timeline } from '@/core/weave';
import { edit, undo } from '../session/edit';
import type { RowView } from '@/core/model';
import { openSongNow, rowViewOf, useWorkbench, viewOf } from '../store';
import { openBench } from '../testing';
import { heardSong } from '../transport/transport';
import { runOffered } from './toolbox';
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

const rows = () => shownRows(shown(), viewOf(state(), shown()));
const inStaffOrder = verse.strands.map(({ piece }) => piece);

describe('rows', () => {
  test('of one track are alone, and everything is then all of that track', () => {
    edit({ type: 'choose layout', layout: 'notes' });
    view.toggleOnlyTrack('snare side-stick');
    expect(shownRows(shown(), rowViewOf(state(), shown()))).toEqual(['snare']);
    runOffered('select everything');
    const snare = shown().strands.find(({ piece }) => piece === 'snare')!.hits;
    const sticks = snare.filter(({ articulation }) => articulation === 'side-stick');
    expect([...state().selection].sort()).toEqual(sticks.map(({ id }) => id).sort());
    view.showAllRows();
    runOffered('select everything');
    expect(state().selection).toHaveLength(shown().strands.flatMap(({ hits }) => hits).length);
  });

  test('that are hidden are not chosen with everything', () => {
    view.toggleRowView('hidden');
    runOffered('select everything');
    const chosen = new Set(state().selection);
    const hits = (piece: string) =>
      shown()
        .strands.find((strand) => strand.piece === piece)!
        .hits.map(({ id }) => id);
    expect(hits('snare').some((id) => chosen.has(id))).toBe(false);
    expect(hits('kick').every((id) => chosen.has(id))).toBe(true);
  });

  test('are hidden, shown again and put in staff order: the song does not know of it', () => {
    view.toggleRowView('hidden');
    expect(rows()).not.toContain('snare');
    view.showAllRows();
    expect(rows()).toEqual(inStaffOrder);
    view.moveCursorRow(-2);
    expect(rows()).not.toEqual(inStaffOrder);
    expect([...rows()].sort()).toEqual([...inStaffOrder].sort());
    view.staffOrderRows();
    expect(rows()).toEqual(inStaffOrder);
    expect(openSongNow()).toBe(song);
    undo();
    expect(openSongNow()).toBe(song);
  });

  test('are open or folded, never both, and the same key leads back', () => {
    const open = () => viewOf(state(), shown()).open;
    const folded = () => viewOf(state(), shown()).folded;
    view.toggleRowView('open');
    expect(open()).toEqual(['snare']);
    view.toggleRowView('folded');
    expect([open() ?? [], folded()]).toEqual([[], ['snare']]);
    view.toggleRowView('folded');
    expect(folded() ?? []).toEqual([]);
  });

  test('moved anywhere are all still there, in one order', () => {
    const pieces = fc.constantFrom(...inStaffOrder);
    fc.assert(
      fc.property(fc.array(fc.tuple(pieces, fc.integer({ min: -9, max: 9 }))), (moves) => {
        const after = moves.reduce<RowView>((v, [piece, by]) => moveRow(verse, v, piece, by), {});
        expect([...orderedRows(verse, after)].sort()).toEqual([...inStaffOrder].sort());
      }),
    );
  });

  test('move past those that are hidden, and a move there and back is none', () => {
    const hidden = toggleRow({}, 'hidden', 'snare');
    const before = shownRows(verse, hidden);
    const [, second] = before;
    const down = moveRow(verse, hidden, second, 1);
    expect(shownRows(verse, down).indexOf(second)).toBe(2);
    expect(shownRows(verse, moveRow(verse, down, second, -1))).toEqual(before);
    expect(shownRows(verse, moveRow(verse, hidden, before[0], -1))).toEqual(before);
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
  test('waits while the pointer is at work on the sheet', () => {
    const before = state().zoom;
    view.holdZoom(true);
    for (const by of [view.zoomTime, view.zoomRows]) by(2);
    view.zoomToFit();
    expect(state().zoom).toBe(before);
    view.holdZoom(false);
    view.zoomTime(2);
    expect(state().zoom).not.toBe(before);
  });

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
    expect(state().zoom).toEqual({ rows: 1, fit: true });
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
