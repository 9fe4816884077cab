import 'fake-indexeddb/auto';
import { zipSync } from 'fflate';
import { fileOf } from '@/core/testing/arbitraries';
import { LoomDb } from '../db';
import { patternsOf } from './library';
import { BATCH, notesOfFamily, readInto, rereadFamily, type Control, type Found } from './reading';
import { unzipGrooves } from './unzip';

let count = 0;
const fresh = () => new LoomDb(`reading-${++count}`);

const midi = (seed: number, channel = 9) =>
  fileOf(
    Array.from({ length: 12 }, (_, i) => ({
      tick: i * 24,
      note: [36, 42, 38, 42][i % 4],
      velocity: 1 + ((seed * 31 + i * 7) % 127),
      duration: 10,
      channel,
    })),
    { ppq: 96 },
  );

const found = (path: string, content: Uint8Array, modified = 1): Found => ({
  path,
  size: content.length,
  modified,
  bytes: async () => content,
});

const calm: Control = {
  go: async () => {},
  cancelled: () => false,
  begin: () => {},
  tell: () => {},
};

test('every readable file is listed, and every other one has its reason', async () => {
  const at = fresh();
  const files = [
    ...Array.from({ length: 200 }, (_, i) => found(`a/${i}.mid`, midi(i))),
    found('a/again.mid', midi(7)),
    found('a/bass.mid', midi(1, 0)),
    found('a/cut.mid', midi(2).slice(0, 18)),
    found('a/none.mid', new Uint8Array()),
    found('a/tab.txt', new TextEncoder().encode('HH |x-x-x-x-|\nBD |o---o---|')),
    found('a/words.txt', new TextEncoder().encode('dear diary')),
    { ...found('a/gone.mid', midi(3)), bytes: () => Promise.reject(new Error('moved')) },
    found('a/picture.png', new Uint8Array(9)),
  ];
  const progress = await readInto(at, files, calm);
  expect(progress).toEqual({
    total: 207,
    done: 207,
    fresh: 128,
    duplicates: 74,
    unread: 5,
    unchanged: 0,
  });
  expect(await at.grooves.count()).toBe(128);
  const unread = await at.sources.filter(({ groove }) => !groove).toArray();
  expect(unread.map(({ reason }) => typeof reason)).toEqual(unread.map(() => 'string'));
  const row = (await at.grooves.toArray()).find(({ name }) => name === 'tab');
  expect(row).toMatchObject({ family: 'a', pieces: ['hihat', 'kick'], bars: 1 });
});

test('reading a folder again touches only what changed', async () => {
  const at = fresh();
  const files = Array.from({ length: 20 }, (_, i) => found(`b/${i}.mid`, midi(i)));
  await readInto(at, files, calm);
  const again = [...files.slice(1), found('b/0.mid', midi(90), 2)];
  const asked: string[] = [];
  const watched = again.map((file) => ({
    ...file,
    bytes: () => {
      asked.push(file.path);
      return file.bytes();
    },
  }));
  const progress = await readInto(at, watched, calm);
  expect([progress.unchanged, progress.fresh]).toEqual([19, 1]);
  expect(asked).toEqual(['b/0.mid']);
});

test('what a stop or a killed tab leaves is whole batches, and going on reads the rest', async () => {
  const at = fresh();
  const files = Array.from({ length: 3 * BATCH }, (_, i) =>
    found(`c/${i}.txt`, new TextEncoder().encode(`HH |${i.toString(2).padStart(16, '-')}|`)),
  );
  let batches = 0;
  const stopped = { ...calm, cancelled: () => batches >= 1, tell: () => void batches++ };
  expect((await readInto(at, files, stopped)).done).toBe(BATCH);
  expect(await at.sources.count()).toBe(BATCH);
  const rest = await readInto(at, files, calm);
  expect([rest.unchanged, await at.sources.count()]).toEqual([BATCH, 3 * BATCH]);
});

describe('a zip', () => {
  const unzip = (bytes: Uint8Array, name = 'beats.zip') =>
    unzipGrooves(new Blob([bytes as Uint8Array<ArrayBuffer>]), name);
  /** The zip with the size of its files as its directory states it changed. */
  const lying = (bytes: Uint8Array, size: number) => {
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    for (let i = 0; i < bytes.length - 4; i++) {
      if (view.getUint32(i, true) === 0x02014b50) view.setUint32(i + 24, size, true);
    }
    return bytes;
  };
  const paths = (files: readonly Found[]) => files.map(({ path }) => path);

  test('gives its groove files, and refuses names that lead out of it', async () => {
    const bytes = zipSync({
      'ritmo/ação.mid': midi(1),
      '../out.mid': midi(2),
      '/etc/out.mid': midi(3),
      'cover.jpg': new Uint8Array(4),
    });
    const { files, problems } = await unzip(bytes);
    expect(paths(files)).toEqual(['beats/ritmo/ação.mid']);
    expect(await files[0].bytes()).toEqual(new Uint8Array(midi(1)));
    expect(problems).toHaveLength(2);
  });

  test('with a folder of its own name has that in its paths once, as the folder itself does', async () => {
    const pathsOf = async (...names: string[]) =>
      paths((await unzip(zipSync(Object.fromEntries(names.map((n, i) => [n, midi(i)]))))).files);
    expect(await pathsOf('beats/a.mid', 'beats/slow/b.mid')).toEqual([
      'beats/a.mid',
      'beats/slow/b.mid',
    ]);
    // Beside other files it is a folder like any: no two files get one path.
    expect(await pathsOf('beats/a.mid', 'a.mid')).toEqual(['beats/beats/a.mid', 'beats/a.mid']);
    expect(await pathsOf('beatsy/a.mid')).toEqual(['beats/beatsy/a.mid']);
  });

  test('inside a zip is opened, and one inside that is named', async () => {
    const deepest = zipSync({ 'c.mid': midi(3) });
    const inner = zipSync({ 'b.mid': midi(2), 'deep.zip': deepest });
    const { files, problems } = await unzip(zipSync({ 'a.mid': midi(1), 'more.zip': inner }));
    expect(paths(files)).toEqual(['beats/a.mid', 'beats/more/b.mid']);
    expect(problems.join()).toMatch(/“deep\.zip” is a zip in a zip in a zip/);
  });

  test('made anew changes only the files whose content changed, whatever their sizes', async () => {
    const at = fresh();
    const [first, same, other] = [midi(1), midi(2), midi(2).with(-9, 90)];
    expect(other.length).toBe(same.length);
    const before = await unzip(zipSync({ 'a.mid': first, 'b.mid': same }));
    await readInto(at, before.files, calm);
    const after = await unzip(zipSync({ 'a.mid': first, 'b.mid': other }));
    expect(await readInto(at, after.files, calm)).toMatchObject({ unchanged: 1, done: 2 });
  });

  test('that says it unpacks to more than 1 GB is refused before it is unpacked', async () => {
    const bytes = zipSync({ 'a.mid': [midi(1), { level: 0 }] });
    expect(await unzip(lying(bytes, 0x5000_0000), 'bomb.zip')).toEqual({
      files: [],
      problems: [expect.stringContaining('more than 1 GB')],
    });
  });

  test.each([10, 1_000_000])(
    'that lies about a size (%d) loses that file, and says so',
    async (size) => {
      const at = fresh();
      const { files } = await unzip(lying(zipSync({ 'a.mid': midi(1) }), size));
      expect(await readInto(at, files, calm)).toMatchObject({ unread: 1, done: 1 });
      expect((await at.sources.toArray())[0].reason).toMatch(
        /than its zip says|damaged in its zip/,
      );
    },
  );

  test('that is cut off, or none, is said in words', async () => {
    const bytes = zipSync({ 'a.mid': midi(1) });
    for (const none of [bytes.slice(0, 50), new TextEncoder().encode('no zip')]) {
      expect((await unzip(none, 'cut.zip')).problems.join()).toMatch(/“cut\.zip” is no zip/);
    }
  });
});

test('a family is read again through another note map, and files that come later too', async () => {
  const at = fresh();
  const low = (seed: number) =>
    fileOf(
      [24, 30, 26, 9].map((note, i) => ({
        tick: i * 96,
        note,
        velocity: 20 + seed,
        duration: 10,
        channel: 9,
      })),
      { ppq: 96 },
    );
  await readInto(at, [found('quay/1.mid', low(1)), found('pier/1.mid', midi(1))], calm);
  const rowOf = async (name: string) =>
    (await at.grooves.toArray()).find((r) => r.family === name)!;
  const [quay, pier] = [await rowOf('quay'), await rowOf('pier')];
  expect(quay).toMatchObject({
    through: { map: 'octave-lower' },
    pieces: ['hihat', 'snare', 'kick', 'note-9'],
  });
  expect(pier.through).toBeUndefined();
  expect((await notesOfFamily(at, 'quay')).drums[24]).toBe(1);

  await rereadFamily(at, 'quay', { map: 'octave-lower', changes: { 9: 56 } });
  expect(await rowOf('quay')).toMatchObject({
    id: quay.id,
    pieces: expect.arrayContaining(['cowbell']),
  });
  expect(await rowOf('pier')).toEqual(pier);
  const parts = await patternsOf(quay.id, at);
  expect(parts[0].strands.map(({ piece }) => piece)).toContain('cowbell');

  await readInto(at, [found('quay/2.mid', low(2))], calm);
  const rows = await at.grooves.filter(({ family }) => family === 'quay').toArray();
  expect(rows.map(({ pieces }) => pieces.includes('cowbell'))).toEqual([true, true]);
  await rereadFamily(at, 'quay', undefined);
  expect((await rowOf('quay')).pieces).toEqual(quay.pieces);
});
