import { fileOf } from '@/core/testing/arbitraries';
import { demoSongs } from '@/demo';
import { undo } from './edit';
import * as guides from './guides';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';

const [song] = demoSongs();
const notice = () => useWorkbench.getState().notices.at(-1)?.message;
const waiting = () => guides.useComingGuide.getState();

beforeEach(() => {
  guides.dropComingGuide();
  openBench(song);
});

const riff = (name = 'riff.mid') => {
  const notes = [0, 48, 96].map((tick) => ({
    tick,
    note: 45,
    velocity: 80,
    duration: 40,
    channel: 2,
  }));
  return new File([fileOf(notes, { ppq: 96 }) as BlobPart], name);
};

test('a part of a file waits until it is chosen, and then plays from its bar on', async () => {
  await guides.readGuideFile(riff());
  expect(waiting().name).toBe('riff.mid');
  const [source] = waiting().read!.sources;
  const before = openSongNow().guides.length;
  guides.takeGuide(source.id, 'riff', 3840);
  const added = openSongNow().guides.at(-1)!;
  expect([openSongNow().guides.length, added.name, added.at]).toEqual([before + 1, 'riff', 3840]);
  expect(added.notes.map(({ at }) => at)).toEqual([0, 480, 960]);
  expect(waiting().read).toBeUndefined();
  undo();
  expect(openSongNow()).toEqual(song);
});

test('what is no MIDI file, or too large, is said in words and changes nothing', async () => {
  await guides.readGuideFile(new File(['dear diary'], 'diary.mid'));
  expect(notice()).toMatch(/diary\.mid.*not a MIDI file.*Nothing was changed/);
  await guides.readGuideFile({ name: 'huge.mid', size: 50 * 1024 * 1024 } as File);
  expect(notice()).toMatch(/huge\.mid” is 50 MB/);
  const moved = { name: 'gone.mid', size: 9, arrayBuffer: () => Promise.reject(new Error('gone')) };
  await guides.readGuideFile(moved as unknown as File);
  expect(notice()).toMatch(/gone\.mid” could not be read/);
  expect([waiting().read, openSongNow()]).toEqual([undefined, song]);
});
