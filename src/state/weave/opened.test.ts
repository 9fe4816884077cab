import fc from 'fast-check';
import { checkSong, timeline } from '@/core';
import { findStrand } from '@/core/model';
import { formOf, laidPlaces, WOVEN } from '@/core/weave';
import { demoSongs } from '@/demo';
import { edit, goToStep, patternBefore, preview, undo } from '../session/edit';
import { bpmOfTaps } from '../session/tap';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { openBench } from '../testing';
import { chosenPlaces, placesToChange, selectPlace, setReach } from './choosing';
import { hearOffer, rollOffers, takeOffers, useVarying } from './views';
import * as weave from './weave';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const choruses = laidPlaces(demo).filter(({ section }) => section.kind === 'chorus');
const [first, second] = choruses;

beforeEach(() => {
  openBench(demo, { stage: 'weave' });
  selectPlace(second.place.id);
});
afterEach(() => expect(checkSong(openSongNow())).toEqual([]));

/** Opens the second chorus in Shape and strikes a cowbell there. */
function strikeThere(): void {
  weave.openInPlace(second.start);
  useWorkbench.setState({ stage: 'shape' });
  const { id } = shownPattern(useWorkbench.getState())!;
  const hit = { id: 'new', at: 480, push: 0, velocity: 90, articulation: 'struck' };
  edit({ type: 'place hits', pattern: id, hits: [{ piece: 'cowbell', hit }] } as never);
}
const cowbells = () =>
  new Set(timeline(openSongNow()).flatMap((h) => (h.piece === 'cowbell' ? [h.place] : [])));

describe('a pattern opened where a place plays it', () => {
  test('is changed there only, in its section, or wherever it is played', () => {
    setReach('place');
    strikeThere();
    expect([...cowbells()]).toEqual([second.place.id]);
    expect(shownPattern(useWorkbench.getState())!.id).toBe(WOVEN);
    expect(findStrand(patternBefore()!, 'cowbell')!.hits).toHaveLength(1);
    undo();
    setReach('section');
    strikeThere();
    expect([...cowbells()]).toEqual(choruses.map(({ place }) => place.id));
    expect(openSongNow().places).toEqual(demo.places);
  });

  test('is counted before it is changed', () => {
    weave.openInPlace(second.start);
    useWorkbench.setState({ stage: 'shape' });
    const count = () => placesToChange(useWorkbench.getState()).length;
    setReach('place');
    expect(count()).toBe(1);
    setReach('section');
    expect(count()).toBe(choruses.length);
  });

  test('a name that is given there is the pattern’s own', () => {
    setReach('place');
    weave.openInPlace(second.start);
    const { id } = shownPattern(useWorkbench.getState())!;
    expect(edit({ type: 'rename pattern', pattern: id, name: 'Breakers' })).toBe(true);
    expect(openSongNow().patterns.some(({ name }) => name === 'Breakers')).toBe(true);
    expect(openSongNow().places).toEqual(demo.places);
  });

  test('a stretch of the song keeps its length', () => {
    setReach('place');
    weave.openInPlace(second.start);
    const { id } = shownPattern(useWorkbench.getState())!;
    expect(edit({ type: 'grow', pattern: id })).toBe(false);
    expect(openSongNow()).toBe(demo);
  });

  test('what is locked refuses, says so, and the notice lifts the lock', () => {
    weave.toggleLock('section');
    setReach('section');
    strikeThere();
    expect(cowbells().size).toBe(0);
    const notice = useWorkbench.getState().notices.at(-1)!;
    expect(notice.message).toBe('The section “chorus” is locked against change.');
    notice.action!.run();
    strikeThere();
    expect(cowbells().size).toBe(choruses.length);
  });
});

describe('what is only heard', () => {
  test('is taken back by whatever is done next, and taken when it is asked for', () => {
    rollOffers({ seed: 4 });
    const [offer] = useVarying.getState().offers;
    hearOffer(offer);
    expect(openSongNow()).not.toBe(demo);
    weave.toggleMeant();
    undo();
    expect(openSongNow()).toEqual(demo);
    takeOffers([offer]);
    expect(timeline(openSongNow())).not.toEqual(timeline(demo));
    expect(useWorkbench.getState().history!.past).toHaveLength(1);
  });
});

test('what a place has of its own: its changes first, its fills only where there is nothing else', () => {
  setReach('place');
  strikeThere();
  useWorkbench.setState({ stage: 'weave' });
  weave.asSection();
  expect(cowbells().size).toBe(0);
  const overlay = () => openSongNow().places[second.index].overlay;
  expect(overlay()).toEqual(demo.places[second.index].overlay);
  weave.asSection();
  expect(overlay()).toEqual([]);
});

test('several places are copied, pasted and moved together', () => {
  selectPlace(first.place.id);
  selectPlace(second.place.id, 'beside');
  weave.copyChosen();
  weave.pasteCopied();
  expect(openSongNow().places).toHaveLength(demo.places.length + 2);
  expect(chosenPlaces()).toHaveLength(2);
  weave.shiftPlace(-1);
  weave.removeChosen();
  expect(formOf(openSongNow())).toEqual(formOf(demo));
});

test('the list of steps leads to any of them', () => {
  for (const name of ['one', 'two', 'three']) edit({ type: 'rename song', name });
  goToStep(1);
  expect(openSongNow().name).toBe('one');
  goToStep(3);
  expect(openSongNow().name).toBe('three');
  goToStep(0);
  expect(openSongNow()).toBe(demo);
});

test('a preview that is only tried is no step of undo', () => {
  preview([{ type: 'rename song', name: 'tried' }], 'try', { trying: true });
  undo();
  expect(openSongNow()).toBe(demo);
});

test('taps that are even give their tempo, whatever it is', () => {
  fc.assert(
    fc.property(fc.integer({ min: 40, max: 300 }), fc.integer({ min: 3, max: 9 }), (bpm, taps) => {
      const times = Array.from({ length: taps }, (_, i) => 5000 + (i * 60_000) / bpm);
      expect(bpmOfTaps(times)).toBeCloseTo(bpm, 1);
    }),
  );
  expect(bpmOfTaps([0, 500])).toBeUndefined();
});
