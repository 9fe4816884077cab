import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { checkSong } from '@/core';
import { fitOfPattern } from '@/core/guide';
import { readShippedFamily, rowSent } from '@/core/library';
import { newHistory } from '@/core/commands';
import { demoSongs } from '@/demo';
import { sameMusic } from '@/core/pattern';
import { auditioned, timeline, laidPlaces } from '@/core/weave';
import { redo, undo } from '../session/edit';
import * as gather from './gather';
import * as keeping from './keeping';
import { passedId } from './listing';
import { useGather } from './gather';
import { initial, openSongNow, useWorkbench } from '../store';
import { joinChosen, takeApart } from './shelf';
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
      const rows = grooves.map(rowSent);
      return Response.json({
        grooves: [...rows, { id: 'no groove' }],
        families: { Bossa: 'soft', Torn: 7 },
        report: [],
      });
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
  test('is there for everyone who asked for it while it was read', async () => {
    useGather.setState(useGather.getInitialState(), true);
    void gather.openLibrary();
    await gather.openLibrary();
    expect(useGather.getState().grooves).toHaveLength(grooves.length);
  });

  test('holds what the server gives, but for rows that are none', () => {
    expect(useGather.getState().grooves).toHaveLength(grooves.length);
    expect(useGather.getState().grooves[0]).toEqual(grooves[0]);
    expect([...useGather.getState().families]).toEqual([['Bossa', 'soft']]);
  });

  test('says of each groove how it fits just as the groove itself says it, whatever is measured', async () => {
    const song = openSongNow();
    for (const fitBy of ['kick', 'kick and accents'] as const) {
      useGather.setState({ fitBy });
      const region = auditionRegion(bench())!;
      const { fits, list } = gather.listedNow();
      expect(Math.max(...fits.values())).toBeGreaterThan(20);
      for (const { id } of list.filter((_, i) => i % 7 === 0)) {
        const [pattern] = await gather.patternsOf(id);
        const exact = fitOfPattern(song, pattern, region, fitBy).score;
        expect([id, Math.abs(fits.get(id)! - exact) <= 3]).toEqual([id, true]);
      }
    }
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
    await keeping.keepChosen();
    expect(shelf()).toContain(first.name);
    expect(useGather.getState().chosen).toBe(gather.listedNow().list[1].id);
    keeping.passChosen();
    expect(openSongNow().offcuts).toHaveLength(1);
    expect(useGather.getState().chosen).toBe(gather.listedNow().list[2].id);
    expect(checkSong(openSongNow())).toEqual([]);
  });

  test('are each one step of undo', async () => {
    const before = openSongNow();
    await choose(0);
    await keeping.keepChosen();
    keeping.passChosen();
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
    keeping.remark({ stars: 3, note: 'no snare: use as the drop' });
    await keeping.keepChosen();
    const kept = () => openSongNow().patterns.find(({ groove }) => groove?.id === id)!;
    expect(kept()).toMatchObject({ stars: 3, notes: 'no snare: use as the drop' });
    keeping.remark({ stars: 5 }, id);
    expect(kept().stars).toBe(5);
    expect(kept().notes).toBe('no snare: use as the drop');
  });

  test('a whole family is kept in one step, each groove once', async () => {
    await choose(0);
    await keeping.keepChosen();
    await choose(0);
    await keeping.keepFamily();
    const kept = openSongNow().patterns.flatMap(({ groove }) => groove ?? []);
    const family = openSongNow().patterns.filter(({ groove }) => groove?.family === kept[0].family);
    const all = grooves.filter((row) => row.family === kept[0].family).map(({ id }) => id);
    expect(all.length).toBeGreaterThan(10);
    expect(family.map(({ groove }) => groove!.id).sort()).toEqual(all.sort());
    expect(new Set(family.map(({ id }) => id)).size).toBe(all.length);
    undo();
    expect(openSongNow().patterns.filter(({ groove }) => groove)).toHaveLength(1);
  });

  test('of a family only what the filters show is kept', async () => {
    gather.setFilter({ family: 'Bossa', kind: 'fill' });
    await choose(0);
    await keeping.keepFamily();
    const kept = openSongNow().patterns.filter(({ groove }) => groove);
    expect(kept.length).toBe(gather.listedNow().list.length);
    expect(new Set(kept.map(({ kind }) => kind))).toEqual(new Set(['fill']));
  });

  test('all parts of a file are kept at once, each once', async () => {
    const row = await choose(0);
    const [part] = await gather.patternsOf(row.id);
    const parts = [part, { ...part, id: 'b', name: 'second', strands: part.strands.slice(1) }];
    useGather.setState({ parts });
    const before = openSongNow().patterns.length;
    keeping.keepParts();
    expect(
      openSongNow()
        .patterns.slice(before)
        .map(({ name }) => name),
    ).toEqual([part.name, 'second']);
    keeping.keepParts();
    expect(openSongNow().patterns).toHaveLength(before + 2);
  });

  test('what was passed may be hidden, and comes back when it is recovered', async () => {
    const { id } = await choose(0);
    keeping.passChosen();
    useGather.setState({ showPassed: false });
    expect(gather.listedNow().list.some((groove) => groove.id === id)).toBe(false);
    keeping.recover(passedId(id));
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
    // The fill that leads on from there stays.
    const [fill] = chorus.place.overlay.filter(({ role }) => role === 'fill');
    expect(new Set(inside.map(({ pattern }) => pattern))).toEqual(
      new Set(['audition', fill.pattern]),
    );
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

test('only one strand is heard, also after a groove that lacks it', async () => {
  const { list } = gather.listedNow();
  const has = (piece: string) => list.findIndex(({ pieces }) => pieces.includes(piece));
  await choose(has('triangle'));
  gather.togglePiece('triangle');
  gather.togglePiece('kick');
  await choose(
    list.findIndex(({ pieces }) => pieces.includes('kick') && !pieces.includes('triangle')),
  );
  gather.hearChosen();
  expect(bench().audition?.pieces).toEqual(['kick']);
  await choose(
    list.findIndex(
      ({ pieces }) =>
        pieces.length > 0 && !['kick', 'triangle'].some((one) => pieces.includes(one)),
    ),
  );
  gather.hearChosen();
  expect(bench().audition).toMatchObject({ pattern: gather.chosenPattern() });
  expect(bench().audition?.pieces).toBeUndefined();
  await choose(has('triangle'));
  gather.hearChosen();
  expect(bench().audition?.pieces).toContain('triangle');
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
    expect(taking.saysOver(source, ['kick'], { place, reach: 'section', mode: 'replace' })).toMatch(
      /changes 3 places/,
    );
    expect(taking.takeOver(source, ['kick'], { place, reach: 'section', mode: 'replace' })).toBe(
      true,
    );
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
    taking.takeOver(source, ['kick'], { place, reach: 'place', mode: 'add' });
    const kept = openSongNow().patterns.at(-1)!;
    const places = new Set(
      timeline(openSongNow()).flatMap((hit) => (hit.pattern === kept.id ? [hit.place] : [])),
    );
    expect([...places]).toEqual([place]);
  });

  test('over the bars that loop lays exactly what is heard there, and nothing beside them', async () => {
    const source = await rock(3);
    const song = openSongNow();
    const { start } = laidPlaces(song)[2];
    const bars = { from: start + 3840, to: start + 3 * 3840 };
    const place = song.places[2].id;
    const inBars = (hits: ReturnType<typeof timeline>) =>
      hits
        .filter(({ tick }) => tick >= bars.from - 200 && tick < bars.to - 200)
        .map(({ tick, piece, velocity }) => `${tick} ${piece} ${velocity}`);
    const kick = (song: ReturnType<typeof openSongNow>) =>
      timeline(song).filter(({ piece }) => piece === 'kick');
    const heard = auditioned(song, { pattern: source, pieces: ['kick'] }, bars.from, bars.to);
    taking.takeOver(source, ['kick'], { place, bars, reach: 'place', mode: 'replace' });
    expect(inBars(kick(openSongNow()))).toEqual(inBars(kick(heard)));
    expect(openSongNow().places.filter((now, i) => now !== song.places[i])).toHaveLength(1);
    expect(bench().notices.at(-1)?.message).toMatch(
      /Kick of .* over bars \d+ to \d+.*: 1 place changed/,
    );
  });

  test('cut bars are laid as they were shown, also when the groove itself was kept before', async () => {
    await rock(8);
    await keeping.keepChosen();
    const source = await rock(8);
    expect(source.length).toBeGreaterThan(3840);
    gather.chooseBars({ from: 1, to: 2 });
    const cut = gather.chosenPattern()!;
    const place = openSongNow().places[2].id;
    taking.takeOver(cut, ['kick'], { place, reach: 'place', mode: 'replace' });
    const span = openSongNow().places[2].overlay.find(({ pieces }) => pieces.includes('kick'))!;
    const laid = openSongNow().patterns.find(({ id }) => id === span.pattern)!;
    expect(sameMusic(laid, cut)).toBe(true);
  });

  test('in place of another piece silences that one, in all places of the section', async () => {
    const source = await rock(5);
    const song = openSongNow();
    const chorus = laidPlaces(song).filter(({ section }) => section.name === 'chorus');
    const over = { place: chorus[0].place.id, reach: 'section', mode: 'replace' } as const;
    const [other] = taking.piecesThere(over, ['hihat']).filter((piece) => piece !== 'kick');
    expect(taking.saysOver(source, ['hihat'], { ...over, instead: [other] })).toMatch(
      /in place of/,
    );
    taking.takeOver(source, ['hihat'], { ...over, instead: [other] });
    const pieces = new Set(
      timeline(openSongNow())
        .filter(({ place }) => chorus.some((laid) => laid.place.id === place))
        .map(({ piece }) => piece),
    );
    expect([pieces.has('hihat'), pieces.has(other)]).toEqual([true, false]);
    expect(checkSong(openSongNow())).toEqual([]);
    undo();
    expect(openSongNow()).toBe(song);
  });

  test('onto bars of another meter it can be cut or stretched to them, and that is said', async () => {
    const source = await rock(5);
    const song = openSongNow();
    const seven = laidPlaces(song).find(({ section }) => section.meters[0].meter.beats === 7)!;
    const over = { place: seven.place.id, reach: 'place', mode: 'replace', fit: 'cut' } as const;
    expect(taking.isOtherMeterThere(source, over)).toBe(true);
    expect(taking.saysOver(source, ['kick'], over)).toMatch(
      /in 4\/4 and that in 7\/\d+: each of its bars is cut/,
    );
    taking.takeOver(source, ['kick'], over);
    const laid = openSongNow().patterns.at(-1)!;
    expect(laid.meter).toEqual(seven.section.meters[0].meter);
    expect(laid.name).toMatch(/, in 7\//);
  });

  test('into several patterns at once is one step, and each says what does not fit', async () => {
    const source = await rock(5);
    const targets = ['verse', 'chorus'];
    expect(taking.misfitsOf(source, targets)).toEqual([
      '“Verse, lamp trimmed”: what is taken lasts 4 bars, the pattern 2 bars.',
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
    joinChosen(['verse', 'gull']);
    const joined = openSongNow().patterns.find(({ joined: parts }) => parts)!;
    expect(joined.name).toBe('Verse, lamp trimmed + Fill, gull drop');
    const parts = joined.joined!.map(({ id }) => id);
    expect(parts).toEqual(['verse', 'gull']);
    takeApart(joined.id);
    expect(bench().notices.at(-1)?.message).toMatch(/was not joined|change nothing/);
  });
});
