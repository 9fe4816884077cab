import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { checkSong } from '@/core';
import { readShippedFamily } from '@/core/library';
import { newHistory } from '@/core/commands';
import { demoSongs } from '@/demo';
import { timeline, laidPlaces } from '@/core/weave';
import { redo, undo } from '../session/edit';
import * as gather from './gather';
import { passedId } from './listing';
import { useGather } from './gather';
import { initial, openSongNow, useWorkbench } from '../store';
import * as taking from './taking';
import { auditionRegion, heardLoop, heardSong } from '../transport/transport';

jest.mock('@/workers');

const files = ['straight-rock', 'bossa', 'shuffle'].map((id) =>
  readShippedFamily(readFileSync(`public/library/${id}.tab`, 'utf8'), `shipped/${id}`),
);
const grooves = files.flatMap((file) => file.grooves);

beforeAll(() => {
  global.fetch = (async (url: string) => {
    if (url === '/api/library') {
      const rows = grooves.map(({ print, ...row }) => ({
        ...row,
        print: Buffer.from(print).toString('base64'),
      }));
      return Response.json({ grooves: [...rows, { id: 'no groove' }], report: [] });
    }
    return new Response(readFileSync(`public${url}`, 'utf8'));
  }) as typeof fetch;
});

beforeEach(async () => {
  const [song] = demoSongs();
  useWorkbench.setState({
    ...initial,
    audition: undefined,
    songLoop: undefined,
    status: 'ready',
    songId: song.id,
    stage: 'gather',
    hear: 'song',
    placeId: song.places[2].id,
    history: newHistory(song),
  });
  useGather.setState(useGather.getInitialState(), true);
  await gather.openLibrary();
});

const bench = () => useWorkbench.getState();
const shelf = () => openSongNow().patterns.map(({ name }) => name);
const choose = async (index: number) => {
  await gather.chooseGroove(gather.listedNow().list[index].id, false);
  return gather.listedNow().list[index];
};

describe('the list', () => {
  test('holds what the server gives, but for rows that are none', () => {
    expect(useGather.getState().grooves).toHaveLength(grooves.length);
    expect(useGather.getState().grooves[0].print).toEqual(grooves[0].print);
  });

  test('is narrowed by words, and all of it comes back', () => {
    gather.setFilter({ text: 'bossa fill' });
    const fills = gather.listedNow().list;
    expect(fills.map(({ family, kind }) => `${family} ${kind}`)).toEqual(
      fills.map(() => 'Bossa fill'),
    );
    expect(fills.length).toBeGreaterThan(3);
    gather.clearFilter();
    expect(gather.listedNow().list).toHaveLength(grooves.length);
  });

  test('sorts the other way round at the second press', () => {
    gather.sortBy('busyness');
    const up = gather.listedNow().list.map(({ id }) => id);
    gather.sortBy('busyness');
    const down = gather.listedNow().list.map(({ busyness }) => busyness);
    expect(down).toEqual([...down].sort((a, b) => b - a));
    expect(up[0]).not.toBe(gather.listedNow().list[0].id);
  });

  test('lists what is like the chosen one, itself first', async () => {
    const groove = await choose(3);
    gather.likeThis();
    expect(gather.listedNow().list[0].id).toBe(groove.id);
    gather.likeThis();
    expect(useGather.getState().like).toBeUndefined();
  });

  test('says how each groove fits the guide of the stretch that is heard', () => {
    const { fits, list } = gather.listedNow();
    expect(fits.size).toBe(grooves.length);
    expect(new Set(list.map(({ id }) => fits.get(id))).size).toBeGreaterThan(3);
  });
});

describe('keeping and passing', () => {
  test('put the groove on the shelf or among the offcuts, and go on to the next one', async () => {
    const first = await choose(0);
    await gather.keepChosen();
    expect(shelf()).toContain(first.name);
    expect(useGather.getState().chosen).toBe(gather.listedNow().list[1].id);
    gather.passChosen();
    expect(openSongNow().offcuts).toHaveLength(1);
    expect(useGather.getState().chosen).toBe(gather.listedNow().list[2].id);
    expect(checkSong(openSongNow())).toEqual([]);
  });

  test('are each one step of undo', async () => {
    const before = openSongNow();
    await choose(0);
    await gather.keepChosen();
    gather.passChosen();
    const after = openSongNow();
    undo();
    undo();
    expect(openSongNow()).toBe(before);
    redo();
    redo();
    expect(openSongNow()).toBe(after);
  });

  test('a kept groove has its stars and its note, and those given later too', async () => {
    const { id } = await choose(0);
    gather.remark({ stars: 3, note: 'no snare: use as the drop' });
    await gather.keepChosen();
    const kept = () => openSongNow().patterns.find(({ groove }) => groove?.id === id)!;
    expect(kept()).toMatchObject({ stars: 3, notes: 'no snare: use as the drop' });
    gather.remark({ stars: 5 }, id);
    expect(kept().stars).toBe(5);
    expect(kept().notes).toBe('no snare: use as the drop');
  });

  test('a whole family is kept in one step, each groove once', async () => {
    await choose(0);
    await gather.keepChosen();
    await choose(0);
    await gather.keepFamily();
    const family = openSongNow().patterns.filter(({ groove }) => groove?.family === 'Bossa');
    const all = grooves.filter((row) => row.family === 'Bossa').map(({ id }) => id);
    expect(family.map(({ groove }) => groove!.id).sort()).toEqual(all.sort());
    expect(new Set(family.map(({ id }) => id)).size).toBe(all.length);
    undo();
    expect(openSongNow().patterns.filter(({ groove }) => groove)).toHaveLength(1);
  });

  test('what was passed may be hidden, and comes back when it is recovered', async () => {
    const { id } = await choose(0);
    gather.passChosen();
    useGather.setState({ showPassed: false });
    expect(gather.listedNow().list.some((groove) => groove.id === id)).toBe(false);
    gather.recover(passedId(id));
    expect(gather.listedNow().list.some((groove) => groove.id === id)).toBe(true);
  });
});

describe('hearing', () => {
  test('in place: the groove plays in the selected section, the song does not change', async () => {
    await choose(0);
    const before = openSongNow();
    gather.hearChosen();
    const region = auditionRegion(bench())!;
    const chorus = laidPlaces(before)[2];
    expect(region).toEqual({ from: chorus.start, to: chorus.end });
    expect(heardLoop(bench())).toEqual(region);
    const heard = timeline(heardSong(bench())!);
    const inside = heard.filter(({ home }) => home >= region.from && home < region.to);
    expect(new Set(inside.map(({ pattern }) => pattern))).toEqual(new Set(['audition']));
    expect(openSongNow()).toBe(before);
  });

  test('alone: nothing but the groove, looped as long as it is', async () => {
    await choose(0);
    useWorkbench.setState({ hear: 'pattern' });
    gather.hearChosen();
    const pattern = gather.chosenPattern()!;
    expect(heardLoop(bench())).toEqual({ from: 0, to: pattern.length });
    const hits = pattern.strands.reduce((sum, strand) => sum + strand.hits.length, 0);
    expect(timeline(heardSong(bench())!)).toHaveLength(hits);
  });

  test('without it, the song is heard as it is', async () => {
    await choose(0);
    gather.hearChosen();
    gather.hearWithout();
    expect(heardSong(bench())).toBe(openSongNow());
    gather.hearWithout();
    expect(bench().audition).toBeDefined();
  });

  test('only chosen bars of it, and all of it again', async () => {
    const long = gather.listedNow().list.findIndex(({ bars }) => bars === 2);
    await choose(long);
    const whole = gather.chosenPattern()!;
    gather.chooseBars({ from: 1, to: 2 });
    expect(gather.chosenPattern()!.length).toBe(whole.length / 2);
    expect(gather.chosenPattern()!.name).toMatch(/bars 2 to 2/);
    gather.chooseBars(undefined);
    expect(gather.chosenPattern()).toBe(whole);
  });
});

describe('taking', () => {
  const rock = async (grade: number) => {
    const at = gather
      .listedNow()
      .list.findIndex(({ name }) => name.startsWith(`Straight rock ${grade}`));
    await choose(at);
    return gather.chosenPattern()!;
  };

  test('a strand onto a section plays in all its places, and nothing else changes', async () => {
    const source = await rock(5);
    const before = timeline(openSongNow());
    const place = openSongNow().places[2].id;
    expect(taking.saysOverPlace(source, ['kick'], place, 'section')).toMatch(/changes 3 places/);
    expect(
      taking.takeOverPlace(source, ['kick'], place, { reach: 'section', mode: 'replace' }),
    ).toBe(true);
    const after = timeline(openSongNow());
    const others = (hits: typeof before) =>
      hits.filter(({ piece }) => piece !== 'kick').map(({ tick, piece }) => `${tick} ${piece}`);
    expect(others(after)).toEqual(others(before));
    const kept = openSongNow().patterns.at(-1)!;
    const places = new Set(after.filter(({ pattern }) => pattern === kept.id).map((h) => h.place));
    expect(places.size).toBe(3);
    expect(checkSong(openSongNow())).toEqual([]);
  });

  test('onto this place only, the section’s other places stay as they were', async () => {
    const source = await rock(5);
    const place = openSongNow().places[2].id;
    taking.takeOverPlace(source, ['kick'], place, { reach: 'place', mode: 'add' });
    const kept = openSongNow().patterns.at(-1)!;
    const places = new Set(
      timeline(openSongNow()).flatMap((hit) => (hit.pattern === kept.id ? [hit.place] : [])),
    );
    expect([...places]).toEqual([place]);
  });

  test('into several patterns at once is one step, and each says what does not fit', async () => {
    const source = await rock(5);
    const targets = ['verse', 'chorus'];
    expect(taking.misfitsOf(source, targets)).toEqual([
      '“Verse, lamp trimmed”: what is taken lasts 4 bars, the pattern 2 bars.',
      '“Chorus, breakers”: what is taken lasts 4 bars, the pattern 2 bars.',
    ]);
    const before = openSongNow();
    taking.takeIntoPatterns(source, ['kick'], targets, { mode: 'replace', fit: 'repeat' });
    for (const id of targets) {
      const strand = openSongNow().patterns.find((p) => p.id === id)!.strands;
      expect(strand.find(({ piece }) => piece === 'kick')?.from?.name).toBe(source.name);
    }
    undo();
    expect(openSongNow()).toBe(before);
  });

  test('patterns joined on the shelf are taken apart again after their parts were set aside', () => {
    taking.joinChosen(['verse', 'gull']);
    const joined = openSongNow().patterns.find(({ joined: parts }) => parts)!;
    expect(joined.name).toBe('Verse, lamp trimmed + Fill, gull drop');
    const parts = joined.joined!.map(({ id }) => id);
    expect(parts).toEqual(['verse', 'gull']);
    taking.takeApart(joined.id);
    expect(bench().notices.at(-1)?.message).toMatch(/was not joined|change nothing/);
  });
});
