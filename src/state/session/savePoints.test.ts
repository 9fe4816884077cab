import { demoSongs } from '@/demo';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { leaveTrying, preview } from './edit';
import { numberAfter } from './savePoints';

jest.mock('@/storage/songs');
jest.mock('@/workers');

test('a save point has the number after the highest there is, however many were renamed or taken away', () => {
  expect(numberAfter([])).toBe(1);
  expect(numberAfter(['Save point 1', 'before the bridge', 'Save point 3'])).toBe(4);
});

test('what was tried out can be had after all in its song, and in no other', () => {
  const [demo] = demoSongs();
  openBench(demo);
  const trying = () => preview([{ type: 'set tempo', bpm: 77 }], 'tempo', { trying: true });
  const keepIt = () => {
    const { message, action } = useWorkbench.getState().notices.at(-1)!;
    expect(message).toMatch(/not kept: tempo/);
    return action!;
  };
  trying();
  leaveTrying();
  expect(openSongNow().bpm).toBe(demo.bpm);
  keepIt().run();
  expect(openSongNow().bpm).toBe(77);

  openBench(demo);
  trying();
  leaveTrying();
  const later = keepIt();
  openBench({ ...demo, id: 'another' });
  later.run();
  expect(openSongNow().bpm).toBe(demo.bpm);
});
