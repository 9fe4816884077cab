import 'fake-indexeddb/auto';
import { samplesOf } from '@/core/model';
import { hashOfSound } from '@/core/sound';
import { drumsOf, nameOfKit, stripOf } from '@/core/tracks';
import { demoSongs } from '@/demo';
import { keptKits, keptPresets } from '@/storage/kits';
import { readSamples } from '@/storage/samples';
import { Ended, readFontAside } from '@/workers';
import { platform, setPlatform } from '../platform';
import { edit, undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as kits from './kits';
import * as presets from './presets';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const saved: { content: Uint8Array; name: string }[] = [];
const said = () => useWorkbench.getState().notices.at(-1)?.message;
const kitNow = () => nameOfKit(openSongNow().kit);
const kept = async (name: string) => (await keptKits()).find((one) => one.name === name)!;

beforeAll(() =>
  setPlatform({
    ...platform,
    saveFile: (content, name) => void saved.push({ content: content as Uint8Array, name }),
  }),
);
beforeEach(() => openBench(demo, { stage: 'balance', trackId: 'snare' }));

test('a kit that is only heard is taken back by whatever is done next', () => {
  kits.hearKit({ id: 'big', name: 'big room' });
  expect(kitNow()).toBe('big room');
  edit({ type: 'set strip', track: 'snare', level: 0.5 });
  expect(kitNow()).toBe('warm studio');
  kits.hearKit({ id: 'tight', name: 'tight and dry' });
  kits.takeKit({ id: 'tight', name: 'tight and dry' });
  expect(kitNow()).toBe('tight and dry');
  undo();
  expect(kitNow()).toBe('warm studio');
});

test('a kit is kept with what its pieces are, taken into another song, renamed and forgotten', async () => {
  edit({ type: 'design piece', piece: 'kick', tune: -200 });
  await kits.keepThisKit('  net loft ');
  const loft = await kept('net loft');
  openBench(demo);
  kits.takeKit({ id: loft.id, name: loft.name, kept: loft });
  expect(kitNow()).toBe('net loft');
  expect(openSongNow().kit.pieces.find(({ id }) => id === 'kick')?.design).toEqual({ tune: -200 });
  await kits.renameKit(loft, 'quay');
  expect((await kept('quay')).id).toBe(loft.id);
  // Under one name there is one kit.
  await kits.keepThisKit('quay');
  expect((await keptKits()).filter(({ name }) => name === 'quay')).toHaveLength(1);
  await kits.forgetKept(await kept('quay'));
  expect(await kept('quay')).toBeUndefined();
  useWorkbench.getState().notices.at(-1)!.action!.run();
  await Promise.resolve();
});

test('kits are known by their ids: one kept under the name of a ready kit is taken, renamed and forgotten', async () => {
  edit({ type: 'design piece', piece: 'kick', tune: -300 });
  await kits.keepThisKit('big room');
  const own = await kept('big room');
  // The song plays the kept one from then on, and its file is called so.
  expect(openSongNow().kit).toMatchObject({ name: 'big room', kept: own.id });
  await kits.saveKitFile();
  expect(saved.at(-1)!.name).toBe('big room.loomkit.zip');
  const tuned = () => openSongNow().kit.pieces.find(({ id }) => id === 'kick')?.design?.tune;
  const offered = { id: own.id, name: own.name, kept: own };
  kits.takeKit({ id: 'big', name: 'big room' });
  expect(openSongNow().kit).toMatchObject({ character: 'big' });
  expect(openSongNow().kit.kept).toBeUndefined();
  // What the kept kit made of the kick goes with it.
  expect(tuned()).toBeUndefined();
  kits.hearKit(offered);
  expect(tuned()).toBe(-300);
  await kits.renameKit(own, 'quay hall');
  // Renamed while it is heard, it stays heard, and is not taken by that.
  expect(openSongNow().kit).toMatchObject({ name: 'quay hall', kept: own.id });
  const renamed = await kept('quay hall');
  kits.takeKit({ id: own.id, name: 'quay hall', kept: renamed });
  expect(kitNow()).toBe('quay hall');
  expect(tuned()).toBe(-300);
  undo();
  expect(openSongNow().kit).toMatchObject({ character: 'big' });
  await kits.forgetKept(renamed);
  expect(await kept('quay hall')).toBeUndefined();
});

test('a kit without a name is not kept', async () => {
  const before = (await keptKits()).length;
  await kits.keepThisKit('   ');
  expect(said()).toMatch(/name first/);
  expect(await keptKits()).toHaveLength(before);
});

test('a kit goes out as a file and comes back under a free name', async () => {
  await kits.keepThisKit('harbour');
  const { kit } = await kept('harbour');
  await kits.saveKitFile(kit);
  const { content, name } = saved.at(-1)!;
  expect(name).toBe('harbour.loomkit.zip');
  expect(kits.isKitFile(name)).toBe(true);
  expect(kits.isKitFile('harbour.loomkit (1).zip')).toBe(true);
  expect(kits.isKitFile('grooves.zip')).toBe(false);
  await kits.receiveKit(new File([content as Uint8Array<ArrayBuffer>], name));
  expect(await kept('harbour 2')).toMatchObject({ kit: { pieces: kit.pieces } });
  await kits.receiveKit(new File([Uint8Array.of(1, 2)], 'torn.loomkit.zip'));
  expect(said()).toMatch(/“torn.loomkit.zip” is no kit file/);
});

test('the drums of a SoundFont are kept as kits, with their sounds', async () => {
  const pcm = { left: Float32Array.of(0.5, -0.5) };
  const comesTo = (result: Promise<unknown>) =>
    (readFontAside as jest.Mock).mockReturnValue({ result, cancel: jest.fn() });
  const fonts = [
    { name: 'Shed', sounds: [{ note: 38, name: 'snare', velocities: [1, 127], pcm }] },
    { name: 'Nothing', sounds: [] },
  ];
  comesTo(Promise.resolve({ name: 'Barn', kits: fonts, left: 3 }));
  await kits.receiveKit(new File(['x'], 'shed.sf2'));
  const { kit } = await kept('Shed, Barn');
  const hash = await hashOfSound(pcm);
  expect(samplesOf(kit)).toEqual([hash]);
  expect((await readSamples([hash])).get(hash)).toEqual(pcm);
  expect(await kept('Nothing, Barn')).toBeUndefined();
  expect(said()).toMatch(/3 sounds of “shed.sf2” are left out/);
  comesTo(Promise.resolve('has no drum kit: nothing is in its bank 128.'));
  await kits.receiveKit(new File(['x'], 'flute.sf2'));
  expect(said()).toMatch(/^“flute.sf2” has no drum kit/);
  comesTo(Promise.reject(new Ended('')));
  await kits.receiveKit(new File(['x'], 'flute.sf2'));
  expect(said()).toMatch(/^“flute.sf2” is not read: that was cancelled/);
  comesTo(Promise.reject(new Error('The worker died.')));
  await kits.receiveKit(new File(['x'], 'flute.sf2'));
  expect(said()).toMatch(/^“flute.sf2” could not be read to its end/);
});

test('how a track is mixed is kept by name, and used on another track and on all drums', async () => {
  edit({ type: 'set strip', track: 'snare', level: 0.5, pan: 0.2 });
  edit({ type: 'set chain', track: 'snare', drive: 0.4 });
  await presets.keepAsPreset('cracked', 'snare');
  const [cracked] = await keptPresets();
  expect(cracked.name).toBe('cracked');
  presets.applyPreset(cracked, 'kick');
  expect(stripOf(openSongNow(), 'kick')).toMatchObject({ level: 0.5, pan: 0.2, drive: 0.4 });
  const before = drumsOf(openSongNow());
  presets.applyPreset(cracked);
  const { level, ceiling } = before;
  expect(drumsOf(openSongNow())).toEqual({ ...(level && { level }), ceiling, drive: 0.4 });
  // One step of undo.
  undo();
  expect(drumsOf(openSongNow())).toEqual(before);
  await presets.keepAsPreset('cracked');
  expect(await keptPresets()).toHaveLength(1);
  await presets.forgetKeptPreset(cracked);
  expect(await keptPresets()).toEqual([]);
});
