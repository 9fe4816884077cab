import { emptySong } from '@/core/model';
import { enterStage } from './entering';
import { addressOf, songPath } from './routes';
import { openSongNow } from './store';
import { openBench } from './testing';
import { preview } from './session/edit';
import { useWorkbench } from './store';

jest.mock('@/storage/songs');
jest.mock('@/workers');

test('an address leads to the songs, to a stage of a song, or nowhere', () => {
  expect(addressOf('/')).toEqual({ page: 'songs' });
  expect(addressOf('/song/kelp/weave')).toEqual({ page: 'song', id: 'kelp', stage: 'weave' });
  expect(addressOf('/song/kelp')).toEqual({ page: 'song', id: 'kelp', stage: 'shape' });
  for (const id of ['a b', 'ü/%', '%ff', '..']) {
    expect(addressOf(songPath(id, 'gather'))).toEqual({ page: 'song', id, stage: 'gather' });
  }
  expect(addressOf('/song/%ff/shape')).toMatchObject({ id: '%ff' });
  for (const path of ['/nowhere', '/song', '/song/kelp/nowhere', '/song/kelp/shape/more']) {
    expect(addressOf(path)).toBeUndefined();
  }
});

test('what is only tried out is taken back when the stage is left', () => {
  openBench(emptySong('s', 'Song', 'p'), { stage: 'shape', tool: { name: 'set bpm' } as never });
  const before = openSongNow();
  preview([{ type: 'rename song', name: 'Tried' }], 'try');
  expect(openSongNow().name).toBe('Tried');
  enterStage('deliver');
  expect(openSongNow()).toEqual(before);
  expect(useWorkbench.getState()).toMatchObject({ gesture: undefined, tool: undefined });
});
