import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { plannedFiles, USUAL_DELIVERY, type AudioPart, type Delivery } from '@/core/deliver';
import { readMusicXml } from '@/core/musicxml';
import { timeline } from '@/core/weave';
import { demoSongs } from '@/demo';
import { keptDeliveries, readDelivery } from '@/storage/deliveries';
import { writeAudioAside } from '@/workers';
import { platform, setPlatform, type OutFolder } from '../platform';
import { useWorkbench } from '../store';
import { openBench } from '../testing';
import { foretell, stopForetelling } from './foretelling';
import * as wishes from './wishes';
import * as writing from './writing';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const saved: { content: Blob; name: string }[] = [];
const bench = () => useWorkbench.getState();
const said = () => bench().notices.at(-1)?.message;
const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
const wish = (change: Partial<Delivery>) => wishes.wish({ ...USUAL_DELIVERY, ...change });
const plannedNow = () => plannedFiles(demo, bench().delivery);
const audio: Partial<Delivery> = { handed: 'audio' };

/** A worker that writes each part as so many samples, when it is let. */
function worker() {
  let finish!: () => void;
  let fail!: () => void;
  let report: ((done: number, share: number) => void) | undefined;
  const end = jest.fn();
  (writeAudioAside as jest.Mock).mockImplementation(
    (parts: AudioPart[], _form, _files, to, tell, each) => {
      report = tell;
      const heard = { frames: 96_000, peak: 0.5, limited: 2, outline: new Float32Array(4) };
      const blob = to === 'memory' && new Blob(['12']);
      const result = new Promise((done, failed) => {
        finish = () => {
          const written = parts.map(() => ({ ...heard, ...(blob && { blob }) }));
          written.forEach((one, i) => each?.(i, one));
          done(written);
        };
        fail = () => failed(new Error('no room'));
      });
      report?.(0, 0.5);
      return { result, end };
    },
  );
  return {
    finish: () => finish(),
    fail: () => fail(),
    report: (done: number, share: number) => report?.(done, share),
    end,
  };
}

beforeAll(() =>
  setPlatform({
    ...platform,
    saveFile: (content, name) => void saved.push({ content: content as Blob, name }),
  }),
);
beforeEach(() => {
  openBench(demo);
  wish({});
  saved.length = 0;
});

const soon = () => new Promise((done) => setTimeout(done));
const begun = async () => {
  while (!bench().writing) await soon();
};
const written = async ({ finish }: { finish(): void }) => {
  const done = writing.handOver();
  await begun();
  finish();
  await done;
};

describe('sound', () => {
  test('one file is saved by itself, several in a zip or one by one', async () => {
    const aside = worker();
    wish(audio);
    await written(aside);
    expect(saved.map(({ name }) => name)).toEqual(['Saltmarsh Signal.wav']);
    expect(bench().handedOver).toMatchObject([
      { path: 'Saltmarsh Signal.wav', seconds: 2, bytes: 2, peak: 0.5 },
    ]);
    expect(bench().writing).toBeUndefined();
    expect(aside.end).toHaveBeenCalled();
    wishes.wishAudio({ stems: true });
    expect(bench().handedOver).toBeUndefined();
    await written(aside);
    expect(saved.at(-1)?.name).toBe('Saltmarsh Signal.zip');
    wishes.wish({ packing: 'apart' });
    const before = saved.length;
    await written(aside);
    expect(saved.length - before).toBeGreaterThan(5);
  });

  test('what is cancelled leaves nothing, and what fails is said', async () => {
    const { fail, end } = worker();
    wish(audio);
    const off = writing.handOver();
    await begun();
    writing.stopWriting();
    await off;
    expect(end).toHaveBeenCalled();
    expect(said()).toBe('Cancelled: no file was written.');
    expect(saved).toEqual([]);
    writing.stopWriting();
    expect(said()).toBe('Nothing is being written.');
    const failing = writing.handOver();
    await begun();
    fail();
    await failing;
    expect(said()).toMatch(/could not be written/);
    expect(saved).toEqual([]);
  });
});

test('in whatever order messages arrive, nothing is left of a writing that is over, and every kind is written after it', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.constantFrom('reports', 'is cancelled', 'fails', 'is done'), { maxLength: 5 }),
      async (messages) => {
        saved.length = 0;
        const aside = worker();
        wish(audio);
        const writes = writing.handOver();
        await begun();
        for (const message of [...messages, 'is done']) {
          if (message === 'reports') aside.report(1, 0.9);
          else if (message === 'is cancelled') writing.stopWriting();
          else if (message === 'fails') aside.fail();
          else aside.finish();
        }
        await writes;
        aside.report(2, 0.4);
        expect(bench().writing).toBeUndefined();
        const ends = messages.find((message) => message !== 'reports');
        const whole = ends !== 'fails' && !messages.includes('is cancelled');
        expect(saved.length > 0).toBe(whole);
        wish({ handed: 'midi' });
        await writing.handOver();
        expect(saved.length).toBe(whole ? 2 : 1);
      },
    ),
  );
});

test('where nothing sounds nothing is written', async () => {
  const silent = demo.patterns.map((pattern) => ({ ...pattern, strands: [] }));
  openBench({ ...demo, places: [], guides: [], patterns: silent });
  for (const handed of ['midi', 'audio', 'chart', 'text'] as const) {
    wish({ handed });
    await writing.handOver();
    expect(said()).toMatch(/nothing to export/);
  }
  expect(saved).toEqual([]);
});

test('files have names that every file system takes, in folders where the names have some', async () => {
  openBench({ ...demo, name: 'slow/fast: "one"' });
  await writing.handOver();
  expect(saved[0].name).toBe('slow-fast- -one-.mid');
  wish({ what: { each: 'sections' }, names: '{song}/{nn} {part}' });
  await writing.handOver();
  const files = unzipSync(await bytesOf(saved[1].content));
  expect(Object.keys(files)).toHaveLength(demo.places.length);
  expect(Object.keys(files)[0]).toBe('slow-fast- -one-/01 intro.mid');
  expect(parseMidi(files['slow-fast- -one-/01 intro.mid']).header.ticksPerBeat).toBe(960);
});

test('a score, a table and tablature hold the song', async () => {
  wish({ handed: 'chart', chart: { ...USUAL_DELIVERY.chart, form: 'musicxml' } });
  await writing.handOver();
  const { song } = readMusicXml(await saved[0].content.text(), 'x');
  expect(timeline(song!)).toHaveLength(timeline(demo).length);
  wish({ handed: 'text', text: 'csv' });
  await writing.handOver();
  expect((await saved[1].content.text()).trim().split('\n')).toHaveLength(
    1 + timeline(demo).length,
  );
  wish({ handed: 'text' });
  await writing.handOver();
  expect(await saved[2].content.text()).toMatch(/\[verse 1\] bars \d+ to \d+/);
});

/** A folder that remembers what is in it. */
function someFolder() {
  const into = new Map<string, Blob>();
  const folder: OutFolder = {
    name: 'for the others',
    write: async (path, content) => void into.set(path, content),
    async reserve(path) {
      into.set(path, new Blob());
      return { getFile: async () => new Blob(['123']) } as unknown as FileSystemFileHandle;
    },
    forsake: async () => into.clear(),
  };
  return { into, folder };
}

test('sound is rendered straight into a folder; what is cancelled or fails leaves nothing in it', async () => {
  const { into, folder } = someFolder();
  const aside = worker();
  setPlatform({ ...platform, openFolder: async () => folder });
  wish({ ...audio, what: { each: 'sections' }, packing: 'folder' });
  await written(aside);
  expect(into.size).toBe(demo.places.length);
  expect(saved).toEqual([]);
  expect(bench().handedOver![0]).toMatchObject({ bytes: 3, peak: 0.5 });
  const off = writing.handOver();
  await begun();
  writing.stopWriting();
  await off;
  expect(into.size).toBe(0);
  const failing = writing.handOver();
  await begun();
  aside.fail();
  await failing;
  expect(said()).toMatch(/could not be written/);
  expect(into.size).toBe(0);
});

test('files of sound are listened to before they are written, until something else is wished for', async () => {
  const aside = worker();
  wish({ ...audio, what: { each: 'sections' } });
  foretell(demo, plannedNow(), bench().delivery.sound);
  while ((writeAudioAside as jest.Mock).mock.lastCall?.[3] !== 'nowhere') await soon();
  aside.finish();
  while (bench().foretold.size < demo.places.length) await soon();
  const [one] = plannedNow();
  expect(bench().foretold.get(one.path)).toMatchObject({ peak: 0.5, limited: 2, seconds: 2 });
  foretell(demo, [], bench().delivery.sound);
  expect(bench().foretold.size).toBe(0);
  foretell(demo, plannedNow(), bench().delivery.sound);
  stopForetelling();
});

test('files whose names agree once they are cut are all there, and are counted from what there is', async () => {
  const name = 'verse '.repeat(40);
  const patterns = demo.patterns.map((one, i) => ({ ...one, name: `${name}${i}` }));
  openBench({ ...demo, patterns });
  wish({ what: { each: 'patterns' }, names: '{part}' });
  await writing.handOver();
  const files = unzipSync(await bytesOf(saved[0].content));
  const struck = plannedFiles({ ...demo, patterns }, bench().delivery).filter(writing.isWorthIt);
  expect(Object.keys(files)).toHaveLength(struck.length);
  expect(said()).toBe(`${struck.length} files were saved in “Saltmarsh Signal.zip”.`);
  const { into, folder } = someFolder();
  setPlatform({ ...platform, openFolder: async () => folder });
  wishes.wish({ packing: 'folder' });
  await writing.handOver();
  expect(into.size).toBe(struck.length);
  expect(said()).toMatch(`${struck.length} files were written into`);
});

test('into a folder goes each file under its path, and nothing where the choice was cancelled', async () => {
  const { into, folder } = someFolder();
  const openFolder = jest.fn(async (): Promise<OutFolder | undefined> => folder);
  setPlatform({ ...platform, openFolder });
  wish({ what: { each: 'sections' }, packing: 'folder' });
  await writing.handOver();
  expect(into.size).toBe(demo.places.length);
  expect(said()).toMatch(/written into “for the others”/);
  openFolder.mockResolvedValueOnce(undefined);
  into.clear();
  await writing.handOver();
  expect(into.size + saved.length).toBe(0);
  folder.write = async () => {
    throw new DOMException('full', 'QuotaExceededError');
  };
  await writing.handOver();
  expect(said()).toMatch(/could not be written/);
});

describe('deliveries', () => {
  test('are kept by name, taken again, and the last one is handed over once more', async () => {
    wish({ handed: 'text', text: 'csv', names: 'mine' });
    await wishes.keepDeliveryAs(' to the engineer ');
    const [kept] = await keptDeliveries();
    expect(kept).toEqual({ name: 'to the engineer', delivery: bench().delivery });
    await writing.handOver();
    wish({});
    wishes.takeDelivery(kept);
    expect(bench().delivery.names).toBe('mine');
    wish({});
    await writing.handOverAgain();
    expect(saved.map(({ name }) => name)).toEqual(['Saltmarsh Signal.csv', 'Saltmarsh Signal.csv']);
    await wishes.forgetKeptDelivery(kept);
    expect(await keptDeliveries()).toEqual([]);
  });

  test('that are not whole, or say what cannot be, are none', () => {
    expect(readDelivery(USUAL_DELIVERY)).toEqual(USUAL_DELIVERY);
    const before = { ...USUAL_DELIVERY, sound: { depth: '24', rate: 48_000 } };
    expect(readDelivery(before)).toEqual(USUAL_DELIVERY);
    const broken: unknown[] = [
      undefined,
      { ...USUAL_DELIVERY, handed: 'fax' },
      { ...USUAL_DELIVERY, midi: { ...USUAL_DELIVERY.midi, ppq: 1e9 } },
      { ...USUAL_DELIVERY, midi: { ...USUAL_DELIVERY.midi, byTrack: { kick: { channel: 16 } } } },
      { ...USUAL_DELIVERY, more: 1 },
    ];
    for (const one of broken) expect(readDelivery(one)).toBeUndefined();
  });
});

test('a file can be dragged out as soon as it can be made', () => {
  const [planned] = plannedNow();
  const dragged = writing.draggedFile(planned, bench().delivery)!;
  expect(dragged.name).toBe('Saltmarsh Signal.mid');
  expect(dragged.content.type).toBe('audio/midi');
  wish(audio);
  expect(writing.draggedFile(plannedNow()[0], bench().delivery)).toBeUndefined();
});
