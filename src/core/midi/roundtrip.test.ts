import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { checkSong, emptyPattern, songWith, type Pattern } from '../model';
import { placeHits } from '../pattern';
import { PPQ } from '../time';
import { timeline } from '../weave';
import {
  anyMeter,
  anyNotes,
  anyResolution,
  fileOf,
  sortedNotes,
  type FileNote,
} from '../testing/arbitraries';
import { exportMidi } from './export';
import { importMidi } from './import';

/** The notes of a file by a reader of its own: `midi-file`, first struck ends first. */
function notesOf(bytes: Uint8Array): FileNote[] {
  const notes: FileNote[] = [];
  for (const track of parseMidi(bytes).tracks) {
    const open = new Map<number, FileNote[]>();
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type !== 'noteOn' && event.type !== 'noteOff') continue;
      const { channel, noteNumber: note, velocity } = event;
      const key = channel * 128 + note;
      if (event.type === 'noteOn') {
        const struck = { tick, note, velocity, duration: 0, channel };
        notes.push(struck);
        open.set(key, [...(open.get(key) ?? []), struck]);
      } else {
        const struck = open.get(key)?.shift();
        if (struck) struck.duration = tick - struck.tick;
      }
    }
  }
  return notes;
}

function imported(bytes: Uint8Array) {
  const { song, report } = importMidi(bytes, 'file.mid');
  if (!song) throw new Error(report.error);
  return { song, report };
}

describe('a MIDI file that comes in and goes out again', () => {
  test('has every drum note unchanged, at any resolution, meter and note number', () => {
    fc.assert(
      fc.property(anyNotes(), anyResolution, anyMeter, fc.boolean(), (notes, ppq, meter, terse) => {
        const { song } = imported(fileOf(notes, { ppq, meter, terse }));
        expect(checkSong(song)).toEqual([]);
        expect(sortedNotes(notesOf(exportMidi(song, { ppq })))).toEqual(sortedNotes(notes));
      }),
    );
  });

  test('keeps the channel of drums that are not on channel 10', () => {
    fc.assert(
      fc.property(anyNotes(fc.integer({ min: 0, max: 8 })), anyResolution, (notes, ppq) => {
        const bytes = fileOf(notes, { ppq });
        const sources = importMidi(bytes, 'x.mid').report.sources.map(({ id }) => id);
        const { song } = importMidi(bytes, 'x.mid', { sources });
        expect(sortedNotes(notesOf(exportMidi(song!, { ppq })))).toEqual(sortedNotes(notes));
      }),
    );
  });

  test('is the same after it was split into one track a piece and joined again', () => {
    fc.assert(
      fc.property(anyNotes(), anyResolution, (notes, ppq) => {
        const { song } = imported(fileOf(notes, { ppq }));
        const split = exportMidi(song, { ppq, layout: 'pieces' });
        const joined = exportMidi(imported(split).song, { ppq });
        expect(sortedNotes(notesOf(split))).toEqual(sortedNotes(notes));
        expect(sortedNotes(notesOf(joined))).toEqual(sortedNotes(notes));
      }),
    );
  });

  test('keeps tempo changes to the microsecond, meters and section names', () => {
    const notes = Array.from({ length: 40 }, (_, i) => ({
      tick: i * 100,
      note: 36 + (i % 3),
      velocity: 80,
      duration: 10,
      channel: 9,
    }));
    const tempos = [
      { tick: 0, microseconds: 576_923 },
      { tick: 1001, microseconds: 333_333 },
      { tick: 1600, microseconds: 1_200_007 },
    ];
    const markers = [
      { tick: 0, text: 'intro' },
      { tick: 4 * 3.5 * 100, text: 'verse' },
    ];
    const meter = { beats: 7, unit: 8 };
    const bytes = fileOf(notes, { ppq: 100, meter, tempos, markers });
    const out = parseMidi(exportMidi(imported(bytes).song, { ppq: 100 }));
    const found: unknown[] = [];
    let tick = 0;
    for (const event of out.tracks[0]) {
      tick += event.deltaTime;
      if (event.type === 'setTempo') found.push([tick, event.microsecondsPerBeat]);
      if (event.type === 'marker') found.push([tick, event.text]);
      if (event.type === 'timeSignature') found.push([tick, event.numerator, event.denominator]);
    }
    expect(found).toEqual(
      expect.arrayContaining([
        ...tempos.map((t) => [t.tick, t.microseconds]),
        ...markers.map((m) => [m.tick, m.text]),
        [0, 7, 8],
      ]),
    );
    expect(found.filter((row) => (row as unknown[]).length === 3)).toHaveLength(1);
  });
});

describe('what the reader makes of files met in the wild', () => {
  const beat = (channel: number, note = 38): FileNote[] =>
    [0, 96, 192].map((tick) => ({ tick, note, velocity: 90, duration: 12, channel }));

  test('of two channels it takes channel 10 and names the other as left out', () => {
    const { song, report } = imported(
      fileOf([...beat(9), ...beat(2, 60)], { ppq: 96, track: (n) => (n.channel === 9 ? 1 : 0) }),
    );
    expect(report.sources.map((s) => [s.channel, s.hits, s.preselected])).toEqual([
      [2, 3, false],
      [9, 3, true],
    ]);
    expect(song.patterns[0].strands.map((s) => s.piece)).toEqual(['snare']);
    expect(report.leftOut.join()).toContain('channel 3');
  });

  test('without a drum channel nothing is taken by itself, and that is said', () => {
    const bytes = fileOf([...beat(2, 60), ...beat(3, 40)], { ppq: 96 });
    const { song, report } = importMidi(bytes, 'x.mid');
    expect(song).toBeUndefined();
    expect(report.error).toMatch(/drum channel \(10\), and none is named like drums\. Choose/);
    expect(report.sources.map(({ taken }) => taken)).toEqual([false, false]);
  });

  test('a chosen source is taken instead', () => {
    const bytes = fileOf([...beat(9), ...beat(2, 60)], { ppq: 96 });
    const { song } = importMidi(bytes, 'x.mid', { sources: ['0:2'] });
    expect(song?.patterns[0].strands.map((s) => s.piece)).toEqual(['bongos']);
    expect(importMidi(bytes, 'x.mid', { sources: [] }).report.error).toContain('choose at least');
  });

  test('a note that never ends lasts to the end of the track, and the report says so', () => {
    const bytes = fileOf(beat(9), { ppq: 96 });
    // Turn the last note-off (0x89 38 00) into a controller.
    const at = bytes.lastIndexOf(0x89);
    bytes[at] = 0xb9;
    const { report } = imported(bytes);
    expect(report.repaired.join()).toContain('1 note without an end');
  });

  test('a chorus that comes twice unchanged becomes one section in two places', () => {
    const bar = 4 * 96;
    const chorus = (from: number) => beat(9).map((n) => ({ ...n, tick: n.tick + from }));
    const notes = [
      ...chorus(0),
      ...beat(9, 36).map((n) => ({ ...n, tick: n.tick + bar })),
      ...chorus(2 * bar),
    ];
    const markers = ['chorus', 'verse', 'chorus'].map((text, i) => ({ tick: i * bar, text }));
    const { song } = imported(fileOf(notes, { ppq: 96, markers }));
    expect(song.places.map((p) => p.section)).toEqual(['s1', 's2', 's1']);
    expect(song.sections.map((s) => s.kind)).toEqual(['chorus', 'verse']);
  });

  test('a hit just before the bar line of a next section belongs to that section', () => {
    const markers = [
      { tick: 0, text: 'verse' },
      { tick: 384, text: 'chorus' },
    ];
    const notes = [0, 380].map((tick) => ({
      tick,
      note: 49,
      velocity: 99,
      duration: 4,
      channel: 9,
    }));
    const { song } = imported(fileOf(notes, { ppq: 96, markers }));
    const [, chorus] = song.patterns;
    expect(chorus.strands[0].hits[0]).toMatchObject({ at: 0, push: -40 });
  });

  test('a meter that changes inside a bar leaves a short bar before it', () => {
    const bytes = fileOf([...beat(9), { ...beat(9)[0], tick: 96 * 9 }], { ppq: 96 });
    const { song } = imported(bytes);
    expect(song.sections).toHaveLength(1);
    expect(song.sections[0].bars).toBe(3);
  });
});

test('a fill of a part of a bar comes back as long as it was, and is played once', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 7 }), fc.nat(6), (halfBeats, at) => {
      const length = halfBeats * 480;
      const pattern: Pattern = {
        ...placeHits(emptyPattern({ id: 'f', name: 'f', kind: 'fill' }), [
          {
            piece: 'snare',
            hit: {
              id: 'a',
              at: (at % halfBeats) * 480,
              push: 0,
              velocity: 90,
              articulation: 'centre',
            },
          },
        ]),
        length,
      };
      const song = songWith({ id: 's', name: 's', bpm: 120 }, [pattern]);
      const back = imported(exportMidi(song, { pattern: 'f' })).song;
      expect(back.patterns.map((one) => one.length)).toEqual([length]);
      expect(timeline(back)).toHaveLength(1);
    }),
  );
});

test.each([
  ['a fill whose end was not set and that is over in two beats', 'tom fill.mid', 6, 'x', 2],
  ['a fill that goes on after two beats', 'tom fill.mid', 9, 'x', 4],
  ['a fill whose end was set', 'tom fill.mid', 6, 'set', 4],
  ['a groove', 'verse.mid', 6, 'x', 4],
])('%s is as long as it is meant', (_, name, steps, end, beats) => {
  const notes = Array.from({ length: steps }, (__, i): FileNote => ({
    tick: i * 24,
    note: 45,
    velocity: 90,
    duration: 24,
    channel: 9,
  }));
  // A marker at the end of the bar sets an end without a stroke.
  const markers = end === 'set' ? [{ tick: 4 * 96, text: '' }] : [];
  const { song } = importMidi(fileOf(notes, { ppq: 96, markers }), name);
  expect(song!.patterns.map(({ length }) => length / PPQ)).toEqual([beats]);
});

describe('the parts of a file', () => {
  const hat = (bar: number, beats = 4, unit = 96): FileNote[] =>
    Array.from({ length: beats }, (_, i) => ({
      tick: bar + i * unit,
      note: 42,
      velocity: 90,
      duration: 12,
      channel: 9,
    }));
  const bar = 4 * 96;

  test('go from marker to marker, whatever the meter does in them', () => {
    const meters = [
      { tick: 0, beats: 4, unit: 4 },
      { tick: 2 * bar, beats: 3, unit: 4 },
      { tick: 2 * bar + 288, beats: 4, unit: 4 },
    ];
    const markers = [
      { tick: 0, text: 'verse' },
      { tick: 4 * bar + 288, text: 'chorus' },
    ];
    const notes = [0, 1, 2, 3, 4, 5].flatMap((n) => hat(n * bar, 3));
    const { song } = imported(fileOf(notes, { ppq: 96, markers, meters }));
    expect(
      song.sections.map(({ name, bars, meters: counted }) => [name, bars, counted.length]),
    ).toEqual([
      ['verse', 5, 3],
      ['chorus', 1, 1],
    ]);
  });

  test('are cut at a lasting change of meter, and not at a stray bar, where there are no markers', () => {
    const meters = [
      { tick: 0, beats: 4, unit: 4 },
      { tick: 4 * bar, beats: 2, unit: 4 },
      { tick: 4.5 * bar, beats: 4, unit: 4 },
      { tick: 8.5 * bar, beats: 7, unit: 8 },
    ];
    const notes = Array.from({ length: 12 }, (_, n) => hat(n * bar, 2)).flat();
    const { song } = imported(fileOf(notes, { ppq: 96, meters }));
    expect(song.sections.map(({ bars }) => bars)).toEqual([9, 4]);
  });

  test('that repeat are found without markers, and cut only when that is asked for', () => {
    // Eight bars of one beat, eight of another, the first again: fills stand at the end of each.
    const beat = (n: number, note: number): FileNote[] =>
      hat(n * bar).flatMap((one, i) => (i % 2 ? [one, { ...one, note }] : [one]));
    const fill = (n: number) => hat(n * bar, 8, 48).map((one) => ({ ...one, note: 47 }));
    const form = [...Array(8).fill(38), ...Array(8).fill(56), ...Array(8).fill(38)] as number[];
    const notes = form.flatMap((note, n) => (n % 8 === 7 ? fill(n) : beat(n, note)));
    const bytes = fileOf(notes, { ppq: 96 });
    const plain = importMidi(bytes, 'x.mid', { repeats: 'find' });
    expect(plain.report.repeats).toEqual({ parts: 3, kinds: 2 });
    expect(plain.song!.sections).toHaveLength(1);
    const { song } = importMidi(bytes, 'x.mid', { repeats: 'cut' });
    expect(song!.sections.map(({ name, bars }) => [name, bars])).toEqual([
      ['A', 8],
      ['B', 8],
    ]);
    expect(song!.places.map(({ section }) => section)).toEqual(['s1', 's2', 's1']);
    expect(timeline(song!).map(({ tick }) => tick)).toEqual(
      timeline(plain.song!).map(({ tick }) => tick),
    );
  });

  test('are of two letters where only kick and snare differ, however much the hats have in common', () => {
    // Sixteenths on the hats throughout: the verse on the backbeat, the chorus in half time.
    const beat = (n: number, kicks: number[], snares: number[]): FileNote[] => {
      const note = (step: number, key: number, velocity: number) => ({
        ...hat(n * bar, 16, 24)[step],
        note: key,
        velocity,
      });
      return [
        ...[...Array(16).keys()].map((step) => note(step, 42, 80)),
        ...kicks.map((step) => note(step, 36, 100)),
        ...snares.map((step) => note(step, 38, 110)),
        // Ghosts wander; they make no groove another one.
        note(1 + 2 * (n % 3), 38, 20),
      ];
    };
    const verse = (n: number) => beat(n, [0, 8], [4, 12]);
    const chorus = (n: number) => beat(n, [0, 10], [8]);
    const notes = [...Array(32).keys()].flatMap((n) => (n % 16 < 8 ? verse(n) : chorus(n)));
    const { song } = importMidi(fileOf(notes, { ppq: 96 }), 'x.mid', { repeats: 'cut' });
    const played = song!.places.map(
      ({ section }) => song!.sections.find(({ id }) => id === section)!.name,
    );
    expect(played).toEqual(['A', 'B', 'A', 'B']);
    const names = song!.patterns.map(({ name }) => name);
    expect(new Set(names).size).toBe(names.length);
  });

  test('are not looked for where there are markers, or where all is one beat', () => {
    const notes = Array.from({ length: 40 }, (_, n) => hat(n * bar)).flat();
    const markers = [{ tick: 8 * bar, text: 'x' }];
    const repeats = (bytes: Uint8Array) =>
      importMidi(bytes, 'x.mid', { repeats: 'find' }).report.repeats;
    expect(repeats(fileOf(notes, { ppq: 96, markers }))).toBeUndefined();
    expect(repeats(fileOf(notes.slice(0, 16 * 4), { ppq: 96 }))).toBeUndefined();
  });
});
