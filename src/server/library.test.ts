import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileOf } from '@/core/testing/arbitraries';

/** A worker in this thread: what is said to it is heard by what it runs. */
jest.mock('node:worker_threads', () => {
  const { EventEmitter } = jest.requireActual<typeof import('node:events')>('node:events');
  const inside = new EventEmitter();
  const outside: InstanceType<typeof EventEmitter>[] = [];
  const parentPort = Object.assign(inside, {
    postMessage: (word: unknown) => outside.forEach((one) => one.emit('message', word)),
  });
  class Worker extends EventEmitter {
    private readonly run = import('./indexing.worker');
    constructor() {
      super();
      outside.push(this);
    }
    postMessage(ask: unknown) {
      void this.run.then(() => inside.emit('message', ask));
    }
    unref() {}
    terminate() {}
  }
  return { Worker, parentPort };
});

const root = mkdtempSync(join(tmpdir(), 'verse-loom-library-'));
const secret = mkdtempSync(join(tmpdir(), 'verse-loom-secret-'));
const beat = fileOf(
  [0, 96, 192, 288].map((tick, i) => ({
    tick,
    note: [36, 38][i % 2],
    velocity: 90,
    duration: 20,
    channel: 9,
  })),
  { ppq: 96, meter: { beats: 4, unit: 4 } },
);

beforeAll(() => {
  mkdirSync(join(root, 'quay'));
  writeFileSync(join(root, 'quay', 'Übung eins.mid'), beat);
  writeFileSync(join(root, 'quay', 'plain.tab'), 'HH |x-x-x-x-|\nBD |o---o---|');
  writeFileSync(join(root, 'quay', 'broken.mid'), 'no midi');
  writeFileSync(join(secret, 'secret.mid'), beat);
  symlinkSync(join(secret, 'secret.mid'), join(root, 'quay', 'link.mid'));
  process.env.VERSE_LOOM_LIBRARY = [root, join(root, 'not there')].join(':');
});
afterAll(() => delete process.env.VERSE_LOOM_LIBRARY);

const load = () => import('./library');

test('gives the shipped grooves and those of further folders, and says what it could not read', async () => {
  const { serverLibrary } = await load();
  const { grooves, report } = await serverLibrary();
  const own = grooves.filter(({ id }) => id.startsWith('server/'));
  expect(own.map(({ name, family }) => [family, name]).sort()).toEqual([
    ['quay', 'plain'],
    ['quay', 'Übung eins'],
  ]);
  expect(grooves.length - own.length).toBeGreaterThanOrEqual(16 * 14);
  expect(report.join('\n')).toMatch(/broken\.mid/);
  expect(report.join('\n')).toMatch(/folder 2 of VERSE_LOOM_LIBRARY cannot be read/);
});

test('gives the hits of a groove by its id, just as the index measured them', async () => {
  const { patternOfGroove, serverLibrary } = await load();
  const { grooves } = await serverLibrary();
  for (const id of [
    'shipped/funk/on-the-one',
    'server/1/quay/Übung eins.mid',
    'server/1/quay/plain.tab',
  ]) {
    const groove = grooves.find((row) => row.id === id)!;
    const pattern = (await patternOfGroove(id))!;
    const hits = pattern.strands.reduce((sum, strand) => sum + strand.hits.length, 0);
    expect([id, hits]).toEqual([id, groove.hits]);
  }
});

test.each([
  '../package.json',
  'shipped/../../package.json',
  'server/1/../../etc/passwd',
  'server/1/quay/link.mid',
  'server/1/quay/broken.mid',
  '/etc/passwd',
  'constructor',
  '',
])('gives nothing for “%s”', async (id) => {
  const { patternOfGroove } = await load();
  expect(await patternOfGroove(id)).toBeUndefined();
});

test('what changes in a folder is there the next time it is looked through', async () => {
  const { serverLibrary } = await load();
  const names = async () =>
    (await serverLibrary()).grooves
      .filter(({ id }) => id.startsWith('server/'))
      .map(({ name, hits }) => [name, hits]);
  expect(await names()).toContainEqual(['plain', 6]);
  writeFileSync(join(root, 'quay', 'plain.tab'), 'HH |x-x-x-x-|\nBD |o-o-o-o-|');
  writeFileSync(join(root, 'quay', 'new.tab'), 'HH |x-x-x-x-|\nSD |--o---o-|');
  rmSync(join(root, 'quay', 'Übung eins.mid'));
  const later = jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 1e6);
  expect((await names()).sort()).toEqual([
    ['new', 6],
    ['plain', 8],
  ]);
  later.mockRestore();
});
