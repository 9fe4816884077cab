import { importMidi } from './import';
import { timeline, laidPlaces } from '../weave';

/** A type 0 file of these track bytes, at 96 ticks a quarter note unless said otherwise. */
function file(track: number[], division = [0, 96]): Uint8Array {
  const header = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, ...division];
  const { length } = track;
  const size = [length >> 24, (length >> 16) & 255, (length >> 8) & 255, length & 255];
  return Uint8Array.from([...header, 0x4d, 0x54, 0x72, 0x6b, ...size, ...track]);
}

const END = [0, 0xff, 0x2f, 0];
const SNARE = [0x99, 38, 90];

function read(track: number[], division?: number[]) {
  const { song, report } = importMidi(file(track, division), 'wild.mid');
  if (!song) throw new Error(report.error);
  return { song, report, hits: timeline(song) };
}

describe('events as they are met in the wild', () => {
  test('running status, and note-on with velocity 0 for note-off', () => {
    const { hits } = read([0, ...SNARE, 24, 38, 0, 72, 38, 70, 24, 38, 0, ...END]);
    expect(hits.map((h) => [h.tick, h.velocity, h.length])).toEqual([
      [0, 90, 240],
      [960, 70, 240],
    ]);
  });

  test('overlapping notes of one pitch: the first struck is the first to end', () => {
    const off = [0x89, 38, 0];
    const { hits } = read([0, ...SNARE, 10, 0x99, 38, 50, 10, ...off, 10, ...off, ...END]);
    expect(hits.map((h) => [h.tick, h.velocity, h.length])).toEqual([
      [0, 90, 200],
      [100, 50, 200],
    ]);
  });

  test('controllers, programs, bends, pressure and system messages are passed over and counted', () => {
    const others = [
      ...[0, 0xb9, 7, 100, 0, 0xc9, 12, 0, 0xe9, 0, 64, 0, 0xd9, 3, 0, 0xa9, 38, 2],
      ...[0, 0xf0, 3, 1, 2, 0xf7, 0, 0xff, 5, 2, 104, 105],
    ];
    const { hits, report } = read([...others, 0, ...SNARE, 12, 38, 0, ...END]);
    expect(hits).toHaveLength(1);
    expect(report.leftOut).toEqual(['Track 1: 7 events that are not hits.']);
  });

  test('a meta event of odd length loses only itself', () => {
    const { hits } = read([0, 0xff, 0x59, 3, 0, 0, 0, 0, ...SNARE, 12, 38, 0, ...END]);
    expect(hits).toHaveLength(1);
  });

  test('what comes after the end mark is not read', () => {
    const { hits } = read([0, ...SNARE, 12, 38, 0, ...END, 0, ...SNARE]);
    expect(hits).toHaveLength(1);
  });

  test.each<[string, number[]]>([
    ['a value above 127', [10, 0x99, 200, 90]],
    ['a status of the wire', [10, 0xf8]],
    ['a wait of five bytes', [0x81, 0x81, 0x81, 0x81, 1, ...SNARE]],
    ['a text that runs out of the file', [10, 0xff, 1, 120, 65]],
  ])('%s ends the reading there; what came before is kept', (_, damage) => {
    const { hits, report } = read([0, ...SNARE, 12, 38, 0, 84, ...SNARE, 12, 38, 0, ...damage]);
    expect(hits).toHaveLength(2);
    expect(report.repaired.join()).toContain('damaged or cut off at quarter note 2');
  });
});

describe('time as it is met in the wild', () => {
  const meter = (delta: number, beats: number, power: number) => [
    ...[delta, 0xff, 0x58, 4, beats, power, 24, 8],
  ];

  test('a time signature that changes inside a bar leaves a short bar before it', () => {
    // Two beats of 4/4, then 3/4 from there on.
    const wait = [0x81, 0x40];
    const track = [
      0,
      ...SNARE,
      0,
      38,
      0,
      ...wait,
      ...meter(0, 3, 2).slice(1),
      0,
      ...SNARE,
      0,
      38,
      0,
    ];
    const { song, report } = read([...track, ...END]);
    expect(
      laidPlaces(song).map(({ section, start }) => [section.meters[0].meter.beats, start]),
    ).toEqual([
      [2, 0],
      [3, 1920],
    ]);
    expect(report.repaired.join()).toContain('counted as 2/4');
  });

  test('a time signature that cannot be counted is passed over', () => {
    const { song, report } = read([...meter(0, 0, 2), 0, ...SNARE, 12, 38, 0, ...END]);
    expect(song.sections[0].meters[0].meter).toEqual({ beats: 4, unit: 4 });
    expect(report.repaired.join()).toContain('0/4 cannot be counted');
  });

  test('film frames are laid out so that hits keep their moments', () => {
    // 25 frames of 40 ticks: a tick is a millisecond, and half a second is a quarter note.
    const { hits, song } = read([0x83, 0x74, ...SNARE, 12, 38, 0, ...END], [0xe7, 40]);
    expect(song.bpm).toBe(120);
    expect(hits[0].tick).toBe(960);
  });

  test('a tempo of nothing is brought within bounds, and said', () => {
    const tempo = [0, 0xff, 0x51, 3, 0, 0, 0];
    const { song, report } = read([...tempo, 0, ...SNARE, 12, 38, 0, ...END]);
    expect(song.bpm).toBe(2000);
    expect(report.repaired.join()).toContain('1 tempo outside');
  });

  test('a wait of millions of bars leaves out what lies behind it, and says so', () => {
    const track = [0, ...SNARE, 12, 38, 0, 0xff, 0xff, 0xff, 0x7f, ...SNARE, 12, 38, 0, ...END];
    const { hits, report } = read(track);
    expect(hits).toHaveLength(1);
    expect(report.leftOut.join()).toContain('1 hit more than 40,000 quarter notes');
  });
});
