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
import * as carrying from './carrying';
import { useCarried, type DropTarget, type ShelfSpot } from './carrying';
import { movePatternOver } from './shelf';
import { placeHere } from './taking';

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
  carrying.endCarrying();
});

/** Shares of the box of a target. */
const at = (y = 0.5, shift = false, alt = false) => ({ x: 0.5, y, shift, alt });
const drop = (target: DropTarget, y?: number, shift?: boolean) => {
  target.drop(at(y, shift));
  carrying.endCarrying();
};
const order = () => openSongNow().patterns.map(({ id }) => id);
const verse = song.patterns[0];
const chorus = laidPlaces(song).filter(({ section }) => section.name === 'chorus');

describe('a strand of the cloth', () => {
  const carry = () => carrying.carryOffCloth(verse.id, 'hihat');
  const hatsIn = (place: string) =>
    timeline(openSongNow()).filter((hit) => hit.place === place && hit.piece === 'hihat').length;

  test('over a section says what it would do and does it in all its places', () => {
    const zone = carrying.placeTarget(() => chorus[0].place.id);
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
    const zone = carrying.placeTarget(() => chorus[1].place.id);
    expect(zone.over(at(0.5, true))).toMatch(/changes 1 place$/);
    drop(zone, 0.5, true);
    expect(chorus.map(({ place }) => hatsIn(place.id) > 0)).toEqual([false, true, false]);
  });

  test('goes onto the chosen bars alone where it is dropped into them, and only what is shown changes', () => {
    const { start } = chorus[1];
    const bars = { from: start + 3840, to: start + 2 * 3840 };
    useWorkbench.setState({ bars, reach: 'place' });
    const before = timeline(song);
    for (const [tick, changes] of [
      [bars.from + 5, [bars]],
      [start, [{ from: start, to: chorus[1].end }]],
    ] as const) {
      const zone = carrying.clothTarget(() => ({ tick }));
      carry();
      expect(zone.changes!(at())).toMatchObject({ stretches: changes, pieces: ['hihat'] });
      drop(zone);
      const after = timeline(openSongNow());
      const apart = (one: typeof after, other: typeof after) =>
        one.filter((hit) => !other.some((o) => o.tick === hit.tick && o.piece === hit.piece));
      const ticks = [...apart(after, before), ...apart(before, after)].map((hit) => hit.tick);
      expect(ticks.length).toBeGreaterThan(0);
      // A hit may be played a little before its bar.
      expect(ticks.filter((t) => !changes.some((c) => t > c.from - 60 && t < c.to))).toEqual([]);
      undo();
    }
  });

  test('over a gap does nothing', () => {
    carry();
    const gap = carrying.placeTarget(() => undefined);
    expect(gap.over(at())).toBeUndefined();
    drop(gap);
    expect(openSongNow()).toBe(song);
  });

  test('into a pattern takes the place of that piece, and says where it would not fit', () => {
    const seven = song.patterns.find(({ meter }) => meter.beats === 7)!;
    carry();
    const zone = carrying.shelfTarget(seven.id, () => {});
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
  const carry = () => carrying.carryPattern(verse);

  test('goes before or behind another at its edges, and into it at its middle', () => {
    let spot: ShelfSpot | undefined;
    const zone = carrying.shelfTarget(third, (now) => (spot = now));
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
    const itself = carrying.shelfTarget(first, () => {});
    expect(itself.over(at())).toBeUndefined();
    drop(itself);
    expect(openSongNow()).toBe(song);
  });

  test('is a section where it is dropped in the song: before a place, or at the end', () => {
    carrying.carrySection(verse.id);
    drop(carrying.placeTarget(() => chorus[0].place.id));
    const { places } = openSongNow();
    expect(places.findIndex(({ id }) => id === chorus[0].place.id)).toBe(3);
    carrying.carrySection(verse.id);
    drop(carrying.placeTarget(() => undefined));
    const names = laidPlaces(openSongNow()).map(({ section }) => section.name);
    expect([names[2], names.at(-1)]).toEqual(['verse', 'verse']);
    expect(openSongNow().places).toHaveLength(places.length + 1);
  });

  test('put where another one is makes the others move up', () => {
    movePatternOver(first, third);
    expect(order().slice(0, 3)).toEqual([second, third, first]);
    movePatternOver(first, first);
    movePatternOver(first, 'gone');
    expect(order().slice(0, 3)).toEqual([second, third, first]);
  });
});

describe('a groove of the list', () => {
  test('is dragged before its hits are there, and dropped once they are', async () => {
    useWorkbench.setState({ stage: 'gather' });
    const groove = grooves[2];
    carrying.carryGroove(groove.id);
    const zone = carrying.placeTarget(() => chorus[0].place.id);
    expect(zone.over(at())).toBeUndefined();
    expect(useCarried.getState().groove).toBe(groove.id);
    await gather.chooseGroove(groove.id, false);
    await new Promise((later) => setTimeout(later));
    expect(zone.over(at())).toContain(groove.name);
    drop(zone);
    expect(openSongNow().patterns.at(-1)?.groove?.id).toBe(groove.id);
  });

  test('that is let go at once is not dropped later', async () => {
    carrying.carryGroove(grooves[3].id);
    carrying.endCarrying();
    await gather.chooseGroove(grooves[3].id, false);
    await new Promise((later) => setTimeout(later));
    expect(useCarried.getState().pattern).toBeUndefined();
  });
});

test('a place of the song goes where another one is, and nowhere outside of the song', () => {
  const [a, , c] = song.places.map(({ id }) => id);
  carrying.carryPlace(a);
  drop(carrying.placeTarget(() => undefined));
  expect(openSongNow()).toBe(song);
  carrying.carryPlace(a);
  drop(carrying.placeTarget(() => c));
  expect(openSongNow().places[2].id).toBe(a);
});

test('strands that are chosen together are dragged together, others alone', () => {
  const pattern = song.patterns[2];
  const [a, b] = pattern.strands.filter(({ hits }) => hits.length > 0).map(({ piece }) => piece);
  const looked = { chosen: 'x', partsOf: 'x', parts: [pattern] };
  useGather.setState({ ...looked, pieces: [a, b] });
  carrying.carryStrand(a);
  expect(useCarried.getState().pieces).toEqual([a, b]);
  carrying.carryStrand('kick');
  expect(useCarried.getState().pieces).toEqual(a === 'kick' || b === 'kick' ? [a, b] : ['kick']);
});

test('in Weave what is taken goes onto the chosen section, in Gather onto what is heard', () => {
  const bar = 3840;
  useWorkbench.setState({ songLoop: { from: 0, to: 4 * bar } });
  expect(placeHere()).toBe(song.places[2].id);
  useWorkbench.setState({ stage: 'gather' });
  expect(placeHere()).toBe(song.places[0].id);
});

test('of a groove whose bars are cut, the cut is dragged', () => {
  const pattern = song.patterns.find(({ length }) => length > 3840)!;
  useGather.setState({ chosen: 'x', partsOf: 'x', parts: [pattern], bars: { from: 1, to: 2 } });
  carrying.carryStrand('hihat');
  expect(useCarried.getState().pattern?.length).toBe(3840);
});

test('with Alt what is dropped lies beside what is there', () => {
  carrying.carryOffCloth(verse.id, 'hihat');
  const zone = carrying.placeTarget(() => chorus[0].place.id);
  expect(zone.over(at(0.5, false, true))).toMatch(/beside what is in chorus/);
  zone.drop(at(0.5, false, true));
  const { spans } = openSongNow().sections.find(({ name }) => name === 'chorus')!;
  expect(spans.at(-1)).toMatchObject({ mode: 'add', pieces: ['hihat'] });
});

test('strands are dropped on the shelf as a pattern of their own, whole patterns of it are not', () => {
  carrying.carryOffCloth(verse.id, 'hihat');
  expect(carrying.ontoShelf.over(at())).toMatch(/^hi-hat of .* onto the shelf/);
  drop(carrying.ontoShelf);
  const kept = openSongNow().patterns.at(-1)!;
  expect(kept.strands.map(({ piece }) => piece)).toEqual(['hihat']);
  expect(findStrand(kept, 'hihat')?.hits).toEqual(findStrand(verse, 'hihat')?.hits);
  const before = openSongNow();
  carrying.carryPattern(before.patterns[0]);
  drop(carrying.ontoShelf);
  expect(openSongNow()).toBe(before);
});
