import fc from 'fast-check';
import { checkSong } from '../model';
import { fileOf } from '../testing/arbitraries';
import { tempoOfSong, timeline } from '../weave';
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

describe('what is lost is said', () => {
  const parts = fileOf(
    Array.from({ length: 60 }, (_, i) => ({
      tick: i * 24,
      note: 36 + (i % 3) * 2,
      velocity: 90,
      duration: 6,
      channel: 9,
    })),
    { ppq: 96, track: ({ note }) => (note - 36) / 2 },
  );
  const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset);
  /** Where the length of each track stands in the file. */
  const lengths = Array.from(parts.keys()).filter(
    (at) => new TextDecoder().decode(parts.slice(at - 4, at)) === 'MTrk',
  );
  const said = ({ repaired, leftOut }: { repaired: string[]; leftOut: string[] }) =>
    [...repaired, ...leftOut].join(' ');

  test('whatever the header and the tracks state of themselves, no hit is lost without a word', () => {
    const states = fc.tuple(
      fc.option(fc.nat(9)),
      fc.array(fc.tuple(fc.nat(lengths.length - 1), fc.oneof(fc.nat(400), fc.nat(2 ** 31))), {
        maxLength: 3,
      }),
    );
    fc.assert(
      fc.property(states, ([tracks, wrong]) => {
        const bytes = parts.slice();
        if (tracks !== null) view(bytes).setUint16(10, tracks);
        for (const [track, length] of wrong) view(bytes).setUint32(lengths[track], length);
        const { report } = importMidi(bytes, 'x.mid');
        if (report.hits < 60) expect(said(report)).not.toBe('');
      }),
    );
  });

  test('a track that states a wrong length does not take the next one with it', () => {
    for (const length of [3, 11, 0x7fffffff]) {
      const bytes = parts.slice();
      view(bytes).setUint32(lengths[0], length);
      const { report } = importMidi(bytes, 'x.mid');
      expect(report.hits).toBe(60);
      expect(said(report)).toMatch(/Track 1 states a wrong length/);
    }
  });

  test('tracks that are promised and missing, and those after the last that is read', () => {
    const fewer = importMidi(parts.slice(0, lengths[2] - 4), 'x.mid').report;
    expect(said(fewer)).toMatch(/promises 3 tracks; 2 could be found/);
    const empty = [...text('MTrk'), 0, 0, 0, 4, 0, 0xff, 0x2f, 0];
    const many = Uint8Array.from([...parts, ...Array(4100).fill(empty).flat()]);
    expect(said(importMidi(many, 'x.mid').report)).toMatch(
      /7 tracks after the first 4,096 left out/,
    );
  });

  test('ends of notes that never began, a missing end mark, and what follows one', () => {
    const bytes = parts.slice();
    const first = bytes.indexOf(0x99);
    // The first stroke becomes a pressure on its key: only its end is left.
    bytes[first] = 0xa9;
    expect(said(importMidi(bytes, 'x.mid').report)).toMatch(/ends 1 note that never began/);
    const endless = good.slice(0, -4);
    view(endless).setUint32(18, endless.length - 22);
    expect(said(importMidi(endless, 'x.mid').report)).toMatch(/no end mark/);
    const longer = Uint8Array.from([...good, 1, 2, 3]);
    view(longer).setUint32(18, longer.length - 22);
    expect(said(importMidi(longer, 'x.mid').report)).toMatch(/3 bytes after its end mark/);
  });

  test('a file cut at more places than any song has sections gives a sound song', () => {
    const markers = Array.from({ length: 4000 }, (_, i) => ({ tick: i * 384, text: `m${i}` }));
    const notes = markers.map(({ tick }, i) => ({
      tick,
      note: 36 + (i % 40),
      velocity: 90,
      duration: 9,
      channel: 9,
    }));
    const { song, report } = importMidi(fileOf(notes, { ppq: 96, markers }), 'x.mid');
    expect(song && checkSong(song)).toEqual([]);
    expect(report.hits).toBe(4000);
    expect(said(report)).toMatch(
      /1,000 markers and time signatures after the first 3,000 left out/,
    );
  });

  test('a note that lasts longer than a song is cut, and tempos that are too many take as long as before', () => {
    const note = { note: 38, velocity: 90, channel: 9 };
    const long = fileOf([{ ...note, tick: 0, duration: 2 ** 27 }], { ppq: 24 });
    const read = importMidi(long, 'x.mid');
    expect(checkSong(read.song!)).toEqual([]);
    expect(said(read.report)).toMatch(/note longer than a song can be/);
    const tempos = Array.from({ length: 5000 }, (_, i) => ({
      tick: i * 3,
      microseconds: 400_000 + 5000 * (i % 90),
    }));
    const ends = { ...note, tick: 15_000, duration: 9 };
    const rushed = importMidi(
      fileOf([{ ...note, tick: 0, duration: 9 }, ends], { ppq: 96, tempos }),
      'x',
    );
    expect(checkSong(rushed.song!)).toEqual([]);
    expect(said(rushed.report)).toMatch(/5,000 tempos in “.*” are more than a section can hold/);
    const seconds = tempos.reduce((sum, one) => sum + ((3 / 96) * one.microseconds) / 1e6, 0);
    const at = tempoOfSong(rushed.song!).secondsAt(timeline(rushed.song!).at(-1)!.tick);
    expect(at).toBeCloseTo(seconds, 2);
  });
});
