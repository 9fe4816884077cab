import { readFileSync } from 'node:fs';
import { findStrand } from '@/core';
import { readShippedFamily } from '@/core/library';
import { laidPlaces, timeline } from '@/core/weave';
import { demoSongs } from '@/demo';
import { undo } from '../session/edit';
import * as gather from './gather';
import { useGather } from './gather';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as taking from './taking';
import { useCarried, type DropTarget, type ShelfSpot } from './taking';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const { grooves } = readShippedFamily(
  readFileSync('public/library/bossa.tab', 'utf8'),
  'shipped/bossa',
);
const [song] = demoSongs();

beforeAll(() => {
  global.fetch = (async (url: string) =>
    new Response(readFileSync(`public${url}`, 'utf8'))) as typeof fetch;
});

beforeEach(() => {
  openBench(song, { stage: 'weave', playing: true, placeId: song.places[2].id });
  useGather.setState({ ...useGather.getInitialState(), status: 'ready', grooves }, true);
  taking.endCarrying();
});

/** Shares of the box of a target. */
const at = (y = 0.5, shift = false) => ({ x: 0.5, y, shift });
const drop = (target: DropTarget, y?: number, shift?: boolean) => {
  target.drop(at(y, shift));
  taking.endCarrying();
};
const order = () => openSongNow().patterns.map(({ id }) => id);
const verse = song.patterns[0];
const chorus = laidPlaces(song).filter(({ section }) => section.name === 'chorus');

describe('a strand of the cloth', () => {
  const carry = () => taking.carryOffCloth(verse.id, 'hihat');
  const hatsIn = (place: string) =>
    timeline(openSongNow()).filter((hit) => hit.place === place && hit.piece === 'hihat').length;

  test('over a section says what it would do and does it in all its places', () => {
    const zone = taking.placeTarget(() => chorus[0].place.id);
    expect(zone.over(at())).toBeUndefined();
    carry();
    expect(zone.over(at())).toMatch(/^hi-hat of .* over chorus, 4 times over: changes 3 places$/);
    drop(zone);
    for (const { place } of chorus) expect(hatsIn(place.id)).toBeGreaterThan(0);
    expect(useCarried.getState().pattern).toBeUndefined();
    undo();
    expect(openSongNow()).toEqual(song);
  });

  test('with Shift goes onto one place alone', () => {
    carry();
    const zone = taking.placeTarget(() => chorus[1].place.id);
    expect(zone.over(at(0.5, true))).toMatch(/changes 1 place$/);
    drop(zone, 0.5, true);
    expect(chorus.map(({ place }) => hatsIn(place.id) > 0)).toEqual([false, true, false]);
  });

  test('over a gap does nothing', () => {
    carry();
    const gap = taking.placeTarget(() => undefined);
    expect(gap.over(at())).toBeUndefined();
    drop(gap);
    expect(openSongNow()).toBe(song);
  });

  test('into a pattern takes the place of that piece, and says where it would not fit', () => {
    const seven = song.patterns.find(({ meter }) => meter.beats === 7)!;
    carry();
    const zone = taking.shelfTarget(seven.id, () => {});
    expect(zone.over(at(0.05))).toMatch(/in place of the same piece of .*it is repeated, or cut/);
    drop(zone, 0.05);
    const after = openSongNow().patterns.find(({ id }) => id === seven.id)!;
    expect(findStrand(after, 'hihat')!.hits.length).toBeGreaterThan(0);
    expect(findStrand(after, 'hihat')!.from?.name).toContain(verse.name);
    for (const { piece, hits } of seven.strands.filter((s) => s.piece !== 'hihat')) {
      expect(findStrand(after, piece)!.hits).toEqual(hits);
    }
  });
});

describe('a pattern of the shelf', () => {
  const [first, second, third] = order0();
  function order0() {
    return song.patterns.map(({ id }) => id);
  }
  const carry = () => taking.carryPattern(verse);

  test('goes before or behind another at its edges, and into it at its middle', () => {
    let spot: ShelfSpot | undefined;
    const zone = taking.shelfTarget(third, (now) => (spot = now));
    carry();
    expect(zone.over(at(0.1))).toMatch(/goes before .* on the shelf$/);
    expect(spot).toBe('before');
    expect(zone.over(at(0.95))).toMatch(/goes behind/);
    expect(zone.over(at(0.5))).toMatch(/in place of the same pieces/);
    zone.leave!();
    expect(spot).toBeUndefined();
    drop(zone, 0.95);
    expect(order().slice(0, 3)).toEqual([second, third, first]);
    expect([...order()].sort()).toEqual([...order0()].sort());
    undo();
    carry();
    drop(zone, 0.1);
    expect(order().slice(0, 3)).toEqual([second, first, third]);
  });

  test('is not dropped on itself', () => {
    carry();
    const itself = taking.shelfTarget(first, () => {});
    expect(itself.over(at())).toBeUndefined();
    drop(itself);
    expect(openSongNow()).toBe(song);
  });

  test('is a section where it is dropped in the song: before a place, or at the end', () => {
    taking.carrySection(verse.id);
    drop(taking.placeTarget(() => chorus[0].place.id));
    const { places } = openSongNow();
    expect(places.findIndex(({ id }) => id === chorus[0].place.id)).toBe(3);
    taking.carrySection(verse.id);
    drop(taking.placeTarget(() => undefined));
    const names = laidPlaces(openSongNow()).map(({ section }) => section.name);
    expect([names[2], names.at(-1)]).toEqual(['verse', 'verse']);
    expect(openSongNow().places).toHaveLength(places.length + 1);
  });

  test('put where another one is makes the others move up', () => {
    taking.movePatternOver(first, third);
    expect(order().slice(0, 3)).toEqual([second, third, first]);
    taking.movePatternOver(first, first);
    taking.movePatternOver(first, 'gone');
    expect(order().slice(0, 3)).toEqual([second, third, first]);
  });
});

describe('a groove of the list', () => {
  test('is dragged before its hits are there, and dropped once they are', async () => {
    useWorkbench.setState({ stage: 'gather' });
    const groove = grooves[2];
    taking.carryGroove(groove.id);
    const zone = taking.placeTarget(() => chorus[0].place.id);
    expect(zone.over(at())).toBeUndefined();
    expect(useCarried.getState().groove).toBe(groove.id);
    await gather.chooseGroove(groove.id, false);
    await new Promise((later) => setTimeout(later));
    expect(zone.over(at())).toContain(groove.name);
    drop(zone);
    expect(openSongNow().patterns.at(-1)?.groove?.id).toBe(groove.id);
  });

  test('that is let go at once is not dropped later', async () => {
    taking.carryGroove(grooves[3].id);
    taking.endCarrying();
    await gather.chooseGroove(grooves[3].id, false);
    await new Promise((later) => setTimeout(later));
    expect(useCarried.getState().pattern).toBeUndefined();
  });
});

test('a place of the song goes where another one is, and nowhere outside of the song', () => {
  const [a, , c] = song.places.map(({ id }) => id);
  taking.carryPlace(a);
  drop(taking.placeTarget(() => undefined));
  expect(openSongNow()).toBe(song);
  taking.carryPlace(a);
  drop(taking.placeTarget(() => c));
  expect(openSongNow().places[2].id).toBe(a);
});

test('strands that are chosen together are dragged together, others alone', () => {
  const pattern = song.patterns[2];
  const [a, b] = pattern.strands.filter(({ hits }) => hits.length > 0).map(({ piece }) => piece);
  useGather.setState({ pieces: [a, b] });
  taking.carryStrand(pattern, a);
  expect(useCarried.getState().pieces).toEqual([a, b]);
  taking.carryStrand(pattern, 'kick');
  expect(useCarried.getState().pieces).toEqual(a === 'kick' || b === 'kick' ? [a, b] : ['kick']);
});

test('in Weave what is taken goes onto the chosen section, in Gather onto what is heard', () => {
  const bar = 3840;
  useWorkbench.setState({ songLoop: { from: 0, to: 4 * bar } });
  expect(taking.placeHere()).toBe(song.places[2].id);
  useWorkbench.setState({ stage: 'gather' });
  expect(taking.placeHere()).toBe(song.places[0].id);
});
