import fc from 'fast-check';
import { laidPlaces, positionAt, songBars, tickOfBar } from '@/core/weave';
import { demoSongs } from '@/demo';
import { useWorkbench } from '../store';
import { openBench } from '../testing';
import { goalsOf, jump } from './goingTo';
import * as transport from './transport';

jest.mock('@/storage/songs');
jest.mock('@/workers');
jest.mock('./transport', () => ({
  ...jest.requireActual<typeof transport>('./transport'),
  locate: jest.fn(),
  playhead: jest.fn(() => 0),
}));

const [song] = demoSongs();
const located = jest.mocked(transport.locate);
const playhead = jest.mocked(transport.playhead);

beforeEach(() => {
  located.mockClear();
  openBench(song, { stage: 'weave', hear: 'song' });
});

const names = (words: string) => goalsOf(words).map(({ name }) => name);
const wentTo = () => located.mock.lastCall?.[0];

test('every bar and beat of the song is gone to by its number, and no other', () => {
  fc.assert(
    fc.property(fc.integer({ min: -3, max: 80 }), fc.integer({ min: 1, max: 4 }), (bar, beat) => {
      const goals = goalsOf(`${bar}.${beat}`);
      expect(goals).toHaveLength(bar >= 1 && bar <= songBars(song) ? 1 : 0);
      goals[0]?.go();
      if (goals[0]) expect(positionAt(song, wentTo()!)).toMatchObject({ bar, beat, ticks: 0 });
    }),
  );
  goalsOf('bar 25')[0].go();
  expect(wentTo()).toBe(tickOfBar(song, 25));
});

test('a section is gone to by its name, or the beginning of it', () => {
  expect(names('chorus 2')).toEqual([expect.stringMatching(/^chorus 2, bar \d+$/)]);
  expect(names('chor').length).toBe(
    laidPlaces(song).filter(({ section }) => section.name === 'chorus').length,
  );
  const place = laidPlaces(song).filter(({ section }) => section.name === 'chorus')[1];
  goalsOf('Chorus 2')[0].go();
  expect([wentTo(), useWorkbench.getState().placeId]).toEqual([place.start, place.place.id]);
  expect(names('nowhere')).toEqual([]);
});

test('where the pattern is heard, numbers are its bars and the cursor goes along', () => {
  const pattern = song.patterns.find(({ length }) => length === 2 * 3840)!;
  openBench(song, { stage: 'shape', hear: 'pattern', patternId: pattern.id });
  expect(names('3')).toEqual([]);
  goalsOf('2.3')[0].go();
  expect(wentTo()).toBe(3840 + 2 * 960);
  expect(useWorkbench.getState().cursor.at).toBe(3840 + 2 * 960);
});

test('jumps go from line to line: of beats and bars, and stop at the ends', () => {
  playhead.mockReturnValue(tickOfBar(song, 5) + 1000);
  jump(1, 'beat');
  expect(positionAt(song, wentTo()!)).toMatchObject({ bar: 5, beat: 3, ticks: 0 });
  jump(-1, 'beat');
  expect(positionAt(song, wentTo()!)).toMatchObject({ bar: 5, beat: 2, ticks: 0 });
  jump(1, 'bar');
  expect(wentTo()).toBe(tickOfBar(song, 6));
  jump(-1, 'bar');
  expect(wentTo()).toBe(tickOfBar(song, 5));
  playhead.mockReturnValue(0);
  jump(-1, 'bar');
  jump(-1, 'beat');
  expect(wentTo()).toBe(0);
  openBench(song, { stage: 'shape', cursor: { piece: 'snare', at: 480 } });
  jump(1, 'beat');
  expect(useWorkbench.getState().cursor.at).toBe(960);
  jump(-1, 'bar');
  expect(useWorkbench.getState().cursor.at).toBe(0);
});
