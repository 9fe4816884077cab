import 'fake-indexeddb/auto';
import { unzipSync, strFromU8 } from 'fflate';
import { importMidi } from '@/core/midi';
import { sameMusic } from '@/core/pattern';
import { readTab } from '@/core/tab';
import { demoSongs } from '@/demo';
import { db } from '@/storage/db';
import { patternsOf } from '@/storage/library/library';
import { setPlatform, platform } from '../platform';
import { useWorkbench } from '../store';
import { openBench } from '../testing';
import { chooseGroove, listedNow, openLibrary, setFilter, useGather } from './gather';
import * as own from './ownLibrary';

jest.mock('@/workers');

const [song] = demoSongs();
const pattern = song.patterns.find(({ length }) => length > 3840)!;
const placing = { name: 'Gull', family: 'Coast', kind: 'groove', tags: ['slow'] } as const;
const saved: { content: Uint8Array; name: string }[] = [];

beforeAll(() => {
  global.fetch = (async () => Response.json({ grooves: [], report: [] })) as typeof fetch;
  setPlatform({
    ...platform,
    saveFile: (content, name) => void saved.push({ content: content as Uint8Array, name }),
  });
});

beforeEach(async () => {
  openBench(song);
  for (const { id } of useGather.getState().grooves) await own.takeOutOfLibrary(id);
  useGather.setState(useGather.getInitialState(), true);
  await openLibrary();
});

const rows = () => useGather.getState().grooves;
const said = () => useWorkbench.getState().notices.at(-1);

test('a pattern that is put into the library is found there from every song, with all its hits hold', async () => {
  expect(await own.putIntoLibrary(pattern, placing)).toBe(true);
  useGather.setState(useGather.getInitialState(), true);
  await openLibrary();
  setFilter({ text: 'slow gull' });
  const [row] = listedNow().list;
  expect(row).toMatchObject({ name: 'Gull', family: 'Coast', tags: ['slow'] });
  const [found] = await patternsOf(row.id);
  expect(sameMusic(found, pattern)).toBe(true);
});

test('the same hits go in once; under which name they are there is said', async () => {
  await own.putIntoLibrary(pattern, placing);
  expect(await own.putIntoLibrary(pattern, { ...placing, name: 'Again' })).toBe(false);
  expect(said()?.message).toMatch(/already, as “Gull”/);
  expect(rows()).toHaveLength(1);
});

test('what it is found by can be changed there, and lasts', async () => {
  await own.putIntoLibrary(pattern, placing);
  const [{ id }] = rows();
  const changed = { name: 'Tern', family: 'Cliffs', kind: 'fill', tags: [] } as const;
  expect(await own.changeInLibrary(id, changed)).toBe(true);
  useGather.setState(useGather.getInitialState(), true);
  await openLibrary();
  expect(rows()[0]).toMatchObject({ name: 'Tern', family: 'Cliffs', kind: 'fill' });
  expect(rows()[0].tags).toBeUndefined();
});

test('what is taken out can be put back, and files cannot be taken out like that', async () => {
  await own.putIntoLibrary(pattern, placing);
  const [{ id }] = rows();
  await own.takeOutOfLibrary(id);
  expect([rows().length, await patternsOf(id)]).toEqual([0, []]);
  said()!.action!.run();
  while (rows().length === 0) await new Promise((later) => setTimeout(later));
  expect((await patternsOf(id)).length).toBe(1);
  await own.takeOutOfLibrary('own/some.mid');
  expect(rows()).toHaveLength(1);
});

test('rows that were stored without their kicks and accents are measured, and are stored with them', async () => {
  await own.putIntoLibrary(pattern, placing);
  const [{ id, heavy }] = rows();
  await db().grooves.update(id, { heavy: undefined });
  useGather.setState(useGather.getInitialState(), true);
  await openLibrary();
  expect(rows()[0].heavy).toBeUndefined();
  while (!rows()[0].heavy) await new Promise((later) => setTimeout(later));
  expect([...rows()[0].heavy!]).toEqual([...heavy!]);
  while (!(await db().grooves.get(id))?.heavy) await new Promise((later) => setTimeout(later));
});

test.each(own.FAMILY_FORMS)('a family leaves as %s that are the same hits again', async (form) => {
  await own.putIntoLibrary(pattern, placing);
  const other = song.patterns.find((one) => one !== pattern && one.strands.some((s) => s.hits[0]))!;
  await own.putIntoLibrary(other, { ...placing, name: 'a/b' });
  await chooseGroove(rows()[0].id, false);
  await own.saveFamily(form);
  const { content, name } = saved.at(-1)!;
  expect(name).toBe('Coast.zip');
  const files = Object.entries(unzipSync(content));
  const ending = form === 'MIDI files' ? 'mid' : 'tab';
  expect(files.map(([path]) => path).sort()).toEqual([
    `Coast/Gull.${ending}`,
    `Coast/a-b.${ending}`,
  ]);
  const bytes = unzipSync(content)[`Coast/Gull.${ending}`];
  const back =
    form === 'MIDI files'
      ? importMidi(bytes, 'x').song!.patterns[0]
      : readTab(strFromU8(bytes), { id: 'x' }).pattern!;
  const ats = (of: typeof pattern) =>
    of.strands
      .flatMap(({ piece, hits }) => hits.map(({ at }) => `${piece} ${Math.round(at / 60)}`))
      .sort();
  expect(new Set(ats(back))).toEqual(new Set(ats(pattern)));
});
