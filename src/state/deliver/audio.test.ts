import 'fake-indexeddb/auto';
import type { AudioPart } from '@/core/deliver';
import { demoSongs } from '@/demo';
import { writeAudioAside } from '@/workers';
import { platform, setPlatform } from '../platform';
import { useWorkbench } from '../store';
import { openBench } from '../testing';
import * as audio from './audio';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const saved: { content: BlobPart; name: string }[] = [];
const bench = () => useWorkbench.getState();
const said = () => bench().notices.at(-1)?.message;

/** A worker that writes each part as so many samples, when it is let. */
function worker() {
  let finish!: () => void;
  let fail!: () => void;
  const end = jest.fn();
  (writeAudioAside as jest.Mock).mockImplementation((parts: AudioPart[], _form, _files, report) => {
    const result = new Promise((done, failed) => {
      finish = () =>
        done(
          parts.map(({ name }) => ({ name, blob: new Blob(['12']), frames: 96_000, peak: 0.5 })),
        );
      fail = () => failed(new Error('no room'));
    });
    report(0, 0.5);
    return { result, zip: async () => new Blob(['zip']), end };
  });
  return { finish: () => finish(), fail: () => fail(), end };
}

beforeAll(() =>
  setPlatform({ ...platform, saveFile: (content, name) => void saved.push({ content, name }) }),
);
beforeEach(() => {
  openBench(demo);
  saved.length = 0;
});

const soon = () => new Promise((done) => setTimeout(done));
const begun = async () => {
  while (!bench().writing) await soon();
};

test('one file is saved by itself, several in a zip or one by one', async () => {
  const { finish, end } = worker();
  let writing = audio.writeAudio();
  await begun();
  expect(bench().writing).toMatchObject({ part: 0, of: 1, share: 0.5 });
  finish();
  await writing;
  expect(saved.map(({ name }) => name)).toEqual(['Saltmarsh Signal.wav']);
  expect(bench().handedOver).toEqual([
    { name: 'Saltmarsh Signal.wav', seconds: 2, bytes: 2, peak: 0.5 },
  ]);
  expect(bench().writing).toBeUndefined();
  expect(end).toHaveBeenCalled();
  audio.wishAudio({ stems: true });
  expect(bench().handedOver).toBeUndefined();
  writing = audio.writeAudio();
  await begun();
  finish();
  await writing;
  expect(saved.at(-1)?.name).toBe('Saltmarsh Signal.zip');
  audio.toggleZip();
  const before = saved.length;
  writing = audio.writeAudio();
  await begun();
  finish();
  await writing;
  expect(saved.length - before).toBeGreaterThan(5);
});

test('what is called off leaves nothing, and what fails is said', async () => {
  const { fail, end } = worker();
  void audio.writeAudio();
  await begun();
  audio.stopWriting();
  expect(end).toHaveBeenCalled();
  expect(said()).toBe('Called off: no file was written.');
  expect(saved).toEqual([]);
  audio.stopWriting();
  expect(said()).toBe('Nothing is being written.');
  const writing = audio.writeAudio();
  await begun();
  fail();
  await writing;
  expect(said()).toMatch(/could not be written/);
  expect(saved).toEqual([]);
});

test('where nothing sounds nothing is written', async () => {
  openBench({ ...demo, places: [], guides: [] });
  await audio.writeAudio();
  expect(said()).toMatch(/nothing to be heard/);
});
