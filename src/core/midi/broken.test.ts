import fc from 'fast-check';
import { checkSong } from '../model';
import { anyNotes, fileOf } from '../testing/arbitraries';
import { importMidi } from './import';

const text = (content: string) => new TextEncoder().encode(content);
const good = fileOf(
  Array.from({ length: 200 }, (_, i) => ({
    tick: i * 24,
    note: 42,
    velocity: 90,
    duration: 6,
    channel: 9,
  })),
  { ppq: 96, meter: { beats: 4, unit: 4 } },
);

describe('a file that cannot be read', () => {
  test.each([
    ['an empty file', new Uint8Array(0), /empty/],
    ['a text file', text('Dear drummer, here is the song.'), /not a MIDI file.*text/],
    ['a zip archive', text('PK\x03\x04 and so on'), /zip archive/],
    ['a picture with a wrong name', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 1, 2]), /picture/],
    ['a header without tracks', good.slice(0, 14), /without any track/],
    ['half a header', good.slice(0, 9), /ends inside its header/],
    ['50 MB', new Uint8Array(50 * 1024 * 1024), /50 MB/],
  ])('%s is refused in one sentence that names it', (_, bytes, sentence) => {
    const { song, report } = importMidi(bytes, 'gift.mid');
    expect(song).toBeUndefined();
    expect(report.error).toMatch(sentence);
    expect(report.error).toContain('gift.mid');
  });

  test('a file cut in the middle is kept up to the cut, and the report says so', () => {
    const { song, report } = importMidi(good.slice(0, good.length >> 1), 'cut.mid');
    expect(song && checkSong(song)).toEqual([]);
    expect(report.hits).toBeGreaterThan(80);
    expect(report.repaired.join()).toMatch(/cut off at quarter note \d+; it was kept up to there/);
  });

  test('a file wrapped in RIFF and one with an unknown chunk are read', () => {
    const le = (n: number) => [n & 255, (n >> 8) & 255, (n >> 16) & 255, n >> 24];
    const riff = [
      ...text('RIFF'),
      ...le(good.length + 12),
      ...text('RMIDdata'),
      ...le(good.length),
    ];
    expect(importMidi(Uint8Array.from([...riff, ...good]), 'x.rmi').report.hits).toBe(200);
    const extra = [...good.slice(0, 14), ...text('XFIH'), 0, 0, 0, 2, 9, 9, ...good.slice(14)];
    const { report } = importMidi(Uint8Array.from(extra), 'x.mid');
    expect([report.hits, report.repaired]).toEqual([200, ['1 chunk of an unknown kind skipped.']]);
  });
});

describe('whatever the bytes are', () => {
  /** Cuts, flips, and puts bytes in; bounded so that a run cannot grow. */
  const mangled = fc
    .tuple(
      anyNotes(),
      fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.nat(255)), {
        maxLength: 12,
      }),
      fc.double({ min: 0, max: 1, noNaN: true }),
    )
    .map(([notes, flips, keep]) => {
      const bytes = fileOf(notes, { ppq: 96, meter: { beats: 4, unit: 4 } });
      for (const [where, value] of flips) bytes[Math.floor(where * (bytes.length - 1))] = value;
      return bytes.slice(0, Math.ceil(keep * bytes.length));
    });

  test('the reader gives a sound song or a reason, and never throws', () => {
    fc.assert(
      fc.property(fc.oneof(mangled, fc.uint8Array({ maxLength: 400 })), (bytes) => {
        const { song, report } = importMidi(bytes, 'x.mid');
        if (song) expect(checkSong(song)).toEqual([]);
        else expect(report.error).toMatch(/“x\.mid”.*\.$/);
      }),
      { numRuns: 500, interruptAfterTimeLimit: 60_000 },
    );
  });
});
