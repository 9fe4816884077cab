import 'fake-indexeddb/auto';
import { bouncesIn } from '@/core/bounce';
import { WavStream, type AudioPart } from '@/core/deliver';
import { checkSong } from '@/core/model';
import { timeline } from '@/core/weave';
import { demoSongs } from '@/demo';
import { readSamples } from '@/storage/samples';
import { writeAudioAside } from '@/workers';
import { undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { bounceHere, stopBouncing } from './bouncing';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const said = () => useWorkbench.getState().notices.at(-1)?.message;

/** A worker that writes of each part as many samples as it is long in seconds, one different from the other. */
function worker({ fails = false, stuck = false } = {}) {
  (writeAudioAside as jest.Mock).mockImplementation((parts: AudioPart[]) => {
    const written = parts.map(({ seconds, song }, i) => {
      const stream = new WavStream('float', 48_000);
      const side = Float32Array.from({ length: Math.ceil(seconds) }, (_, n) => (n + i) / 100);
      const bytes = stream.bytes(
        side,
        side.map((x) => -x),
      );
      return { blob: new Blob([stream.header() as BlobPart, bytes as BlobPart]), song };
    });
    const result = fails
      ? Promise.reject(new Error('no room'))
      : stuck
        ? new Promise(() => {})
        : Promise.resolve(written);
    return { result, end: jest.fn() };
  });
}

const choose = (...indices: number[]) => {
  const placeIds = indices.map((i) => demo.places[i].id);
  useWorkbench.setState({ placeId: placeIds.at(-1), placeIds });
};

beforeEach(() => openBench(demo));

test('all chosen sections become sounds in one step, each its own, and undo has them as they were', async () => {
  worker();
  choose(0, 1, 3);
  await bounceHere('kick');
  const song = openSongNow();
  expect(checkSong(song)).toEqual([]);
  const here = [0, 1, 3].map((i) => bouncesIn(song, demo.places[i].id));
  expect(here.map((found) => found.length)).toEqual([1, 1, 1]);
  const hashes = here.map(([{ piece }]) => {
    const [layer] = piece.design!.layers!;
    return layer.from === 'files' ? layer.files[0].hash : '';
  });
  expect((await readSamples(hashes)).size).toBe(new Set(hashes).size);
  expect(said()).toMatch(/^3 sections are sounds now/);
  undo();
  expect(timeline(openSongNow())).toEqual(timeline(demo));
});

test('places where nothing is struck are passed over, and where there are no others that is said', async () => {
  worker();
  const percussion = 'tambourine';
  choose(0, 1, 2);
  await bounceHere(percussion);
  const song = openSongNow();
  const counts = [0, 1, 2].map((i) => bouncesIn(song, demo.places[i].id).length);
  expect(counts).toEqual([0, 0, 1]);
  openBench(demo);
  choose(0);
  await bounceHere(percussion);
  expect(openSongNow()).toBe(demo);
  expect(said()).toMatch(/Nothing is struck there/);
});

test('what fails or is cancelled leaves the song as it is', async () => {
  worker({ fails: true });
  choose(0);
  await bounceHere();
  expect(said()).toMatch(/could not be rendered or kept/);
  worker({ stuck: true });
  const off = bounceHere();
  while (useWorkbench.getState().bouncing === undefined)
    await new Promise((done) => setTimeout(done));
  await new Promise((done) => setTimeout(done, 20));
  stopBouncing();
  await off;
  expect(openSongNow()).toBe(demo);
  expect(useWorkbench.getState().bouncing).toBeUndefined();
});
