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
import { useDragging, type DropZone, type ShelfSpot } from './taking';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const { grooves, patterns } = readShippedFamily(
  readFileSync('library/bossa.tab', 'utf8'),
  'shipped/bossa',
);
const [song] = demoSongs();

beforeAll(() => {
  global.fetch = (async (url: string) =>
    Response.json(patterns.find(({ id }) => `/api/library/${id}` === url) ?? {})) as typeof fetch;
});

beforeEach(() => {
  openBench(song, { stage: 'weave', playing: true, placeId: song.places[2].id });
  useGather.setState({ ...useGather.getInitialState(), status: 'ready', grooves }, true);
  taking.endStrandDrag();
});

/** What the browser says while something is dragged; heights are those of a row of 100 px. */
const move = (share = 0.5, shiftKey = false) => {
  const event = {
    clientX: 0,
    clientY: share * 100,
    shiftKey,
    taken: false,
    preventDefault: () => (event.taken = true),
    currentTarget: { getBoundingClientRect: () => ({ top: 0, height: 100 }) } as HTMLElement,
  };
  return event;
};
const start = () =>
  ({ dataTransfer: { setData: jest.fn(), effectAllowed: 'none' } }) as unknown as DragEvent;
const over = (zone: DropZone, share?: number, shift?: boolean) => {
  const event = move(share, shift);
  zone.onDragOver(event);
  return { taken: event.taken, says: useDragging.getState().says };
};
const drop = (zone: DropZone, share?: number, shift?: boolean) => zone.onDrop(move(share, shift));
const order = () => openSongNow().patterns.map(({ id }) => id);
const verse = song.patterns[0];
const chorus = laidPlaces(song).filter(({ section }) => section.name === 'chorus');

describe('a strand of the cloth', () => {
  const carry = () => taking.startClothDrag(start(), verse.id, 'hihat');
  const hatsIn = (place: string) =>
    timeline(openSongNow()).filter((hit) => hit.place === place && hit.piece === 'hihat').length;

  test('over a section says what it would do and does it in all its places', () => {
    const zone = taking.placeZone(() => chorus[0].place.id);
    expect(over(zone).taken).toBe(false);
    carry();
    const { taken, says } = over(zone);
    expect([taken, says]).toEqual([
      true,
      expect.stringMatching(/^hi-hat of .* over chorus, 4 times over: changes 3 places$/),
    ]);
    drop(zone);
    for (const { place } of chorus) expect(hatsIn(place.id)).toBeGreaterThan(0);
    expect(useDragging.getState().pattern).toBeUndefined();
    undo();
    expect(openSongNow()).toEqual(song);
  });

  test('with Shift goes onto one place alone', () => {
    carry();
    const zone = taking.placeZone(() => chorus[1].place.id);
    expect(over(zone, 0.5, true).says).toMatch(/changes 1 place$/);
    drop(zone, 0.5, true);
    expect(chorus.map(({ place }) => hatsIn(place.id) > 0)).toEqual([false, true, false]);
  });

  test('over a gap does nothing', () => {
    carry();
    const gap = taking.placeZone(() => undefined);
    expect(over(gap).taken).toBe(false);
    drop(gap);
    expect(openSongNow()).toBe(song);
  });

  test('into a pattern takes the place of that piece, and says where it would not fit', () => {
    const seven = song.patterns.find(({ meter }) => meter.beats === 7)!;
    carry();
    const zone = taking.shelfZone(seven.id, () => {});
    expect(over(zone, 0.05).says).toMatch(/in place of the same piece of .*it is repeated, or cut/);
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
  const carry = () => taking.startPatternDrag(start(), verse);

  test('goes before or behind another at its edges, and into it at its middle', () => {
    let spot: ShelfSpot | undefined;
    const zone = taking.shelfZone(third, (now) => (spot = now));
    carry();
    expect(over(zone, 0.1).says).toMatch(/goes before .* on the shelf$/);
    expect(spot).toBe('before');
    expect(over(zone, 0.95).says).toMatch(/goes behind/);
    expect(over(zone, 0.5).says).toMatch(/in place of the same pieces/);
    zone.onDragLeave();
    expect([spot, useDragging.getState().says]).toEqual([undefined, undefined]);
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
    expect(over(taking.shelfZone(first, () => {})).taken).toBe(false);
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
    taking.startGrooveDrag(start(), groove.id);
    const zone = taking.placeZone(() => chorus[0].place.id);
    expect(over(zone).taken).toBe(false);
    expect(useDragging.getState().says).toMatch(/on their way/);
    await gather.chooseGroove(groove.id, false);
    await new Promise((later) => setTimeout(later));
    expect(over(zone).says).toContain(groove.name);
    drop(zone);
    expect(openSongNow().patterns.at(-1)?.groove?.id).toBe(groove.id);
  });

  test('that is let go at once is not dropped later', async () => {
    taking.startGrooveDrag(start(), grooves[3].id);
    taking.endStrandDrag();
    await gather.chooseGroove(grooves[3].id, false);
    await new Promise((later) => setTimeout(later));
    expect(useDragging.getState().pattern).toBeUndefined();
  });
});

test('strands that are chosen together are dragged together, others alone', () => {
  const pattern = song.patterns[2];
  const [a, b] = pattern.strands.filter(({ hits }) => hits.length > 0).map(({ piece }) => piece);
  useGather.setState({ pieces: [a, b] });
  taking.startStrandDrag(start(), pattern, a);
  expect(useDragging.getState().pieces).toEqual([a, b]);
  taking.startStrandDrag(start(), pattern, 'kick');
  expect(useDragging.getState().pieces).toEqual(a === 'kick' || b === 'kick' ? [a, b] : ['kick']);
});

test('in Weave what is taken goes onto the chosen section, in Gather onto what is heard', () => {
  const bar = 3840;
  useWorkbench.setState({ songLoop: { from: 0, to: 4 * bar } });
  expect(taking.placeHere()).toBe(song.places[2].id);
  useWorkbench.setState({ stage: 'gather' });
  expect(taking.placeHere()).toBe(song.places[0].id);
});
