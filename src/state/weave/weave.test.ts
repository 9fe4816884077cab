import { checkSong, timeline } from '@/core';
import { newHistory } from '@/core/commands';
import { laidPlaces } from '@/core/weave';
import { demoSongs } from '@/demo';
import { undo } from '../session/edit';
import { initial, openSongNow, useWorkbench } from '../store';
import * as choosing from './choosing';
import * as laying from './laying';
import * as weave from './weave';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();

beforeEach(() => {
  useWorkbench.setState({ ...initial, status: 'ready', history: newHistory(demo) });
});
afterEach(() => expect(checkSong(openSongNow())).toEqual([]));

const order = () => openSongNow().places.map((place) => place.id);
const chosen = () => useWorkbench.getState().placeId;

test('a new section goes behind the chosen place, is named by its pattern, and is chosen', () => {
  choosing.selectPlace('place-2');
  weave.addSection('chorus');
  const laid = laidPlaces(openSongNow())[2];
  expect(laid.place.id).toBe(chosen());
  expect(laid.section).toMatchObject({ name: 'chorus', kind: 'chorus', bars: 4 });
});

test('a short pattern makes a phrase of four bars, a fill made into a section too', () => {
  weave.addSection('verse', 0);
  weave.addSection('beats', 0);
  const [fill, verse] = laidPlaces(openSongNow());
  expect([fill.section.bars, verse.section.bars]).toEqual([4, 4]);
  expect(fill.section.kind).toBe('part');
});

test('a repeat stands right behind, is linked, and brings its fill', () => {
  choosing.selectPlace('place-2');
  weave.repeatPlace();
  const [, first, second] = laidPlaces(openSongNow());
  expect(second.section).toBe(first.section);
  expect(second.place.overlay).toEqual(first.place.overlay);
  expect(chosen()).toBe(second.place.id);
});

test('a place is shifted to either side, and not out of the song', () => {
  choosing.selectPlace('place-1');
  weave.shiftPlace(-1);
  expect(order()[0]).toBe('place-1');
  weave.shiftPlace(1);
  expect(order().slice(0, 2)).toEqual(['place-2', 'place-1']);
});

test('after a place is removed its neighbour is chosen, to the last one', () => {
  choosing.selectPlace('place-9');
  weave.removePlace();
  expect(chosen()).toBe('place-8');
  while (chosen()) weave.removePlace();
  expect(openSongNow().places).toEqual([]);
});

test('choosing goes from place to place and stops at the ends', () => {
  choosing.selectPlace('place-1');
  choosing.nextPlace(-1);
  expect(chosen()).toBe('place-1');
  for (let i = 0; i < 20; i++) choosing.nextPlace(1);
  expect(chosen()).toBe('place-9');
  expect(weave.selectedStart()).toBe(laidPlaces(demo)[8].start);
});

test('a fill is laid over the end of this place and of no other', () => {
  choosing.selectPlace('place-9');
  const before = timeline(openSongNow()).filter((hit) => hit.place !== 'place-9');
  laying.layFill('gull');
  const laid = laidPlaces(openSongNow())[8];
  const fill = timeline(openSongNow()).filter((hit) => hit.pattern === 'gull');
  const here = fill.filter((hit) => hit.place === 'place-9');
  expect(here.length).toBeGreaterThan(5);
  expect(here.every((hit) => hit.home >= laid.end - 3840)).toBe(true);
  expect(timeline(openSongNow()).filter((hit) => hit.place !== 'place-9')).toEqual(before);
});

test('fills go to all joins in turn, and nothing else is changed', () => {
  const joins = laying.joinPlaces(openSongNow());
  expect(joins).toHaveLength(openSongNow().places.length - 1);
  laying.layFill(['gull', 'beats'], { places: joins });
  const laid = openSongNow().places.map(({ overlay }) => overlay.at(-1)?.pattern);
  joins.forEach((_, i) => expect(laid[i]).toBe(['gull', 'beats'][i % 2]));
  expect(openSongNow().places.at(-1)).toBe(demo.places.at(-1));
  expect(openSongNow().sections).toEqual(demo.sections);
  undo();
  expect(openSongNow()).toEqual(demo);
});

test('L loops the chosen section', () => {
  choosing.selectPlace('place-6');
  weave.loopPlace();
  const { start, end } = laidPlaces(demo)[5];
  expect(useWorkbench.getState().songLoop).toEqual({ from: start, to: end });
});
