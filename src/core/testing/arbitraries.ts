import fc from 'fast-check';
import { writeMidi, type MidiEvent } from 'midi-file';
import { DEFAULT_KIT, emptyPattern, sectionOf, songWith, type Pattern, type Song } from '../model';
import { FITS, placeHits, TAKE_MODES } from '../pattern';

/** A note as a file says it. */
export interface FileNote {
  tick: number;
  note: number;
  velocity: number;
  duration: number;
  channel: number;
}

export const meters = [
  { beats: 4, unit: 4 },
  { beats: 7, unit: 4 },
  { beats: 5, unit: 4 },
  { beats: 10, unit: 4 },
  { beats: 7, unit: 8 },
  { beats: 12, unit: 8 },
  { beats: 15, unit: 16 },
];

export const anyMeter = fc.constantFrom(...meters);
export const anyResolution = fc.oneof(
  fc.constantFrom(24, 48, 89, 96, 120, 192, 480, 960, 15360),
  fc.integer({ min: 24, max: 15360 }),
);

/** Notes that may overlap, but of one pitch and channel in the order they began. */
export const anyNotes = (channel: fc.Arbitrary<number> = fc.constant(9)) =>
  fc
    .array(
      fc.record({
        tick: fc.integer({ min: 0, max: 40_000 }),
        note: fc.integer({ min: 0, max: 127 }),
        velocity: fc.integer({ min: 1, max: 127 }),
        duration: fc.integer({ min: 0, max: 900 }),
        channel,
      }),
      { minLength: 1, maxLength: 120 },
    )
    .map(firstEndsFirst);

/** A file cannot say which of two equal sounding notes ends: the first one does. */
function firstEndsFirst(notes: FileNote[]): FileNote[] {
  const sorted = [...notes].sort((a, b) => a.tick - b.tick);
  const ends = new Map<number, number>();
  return sorted.map((note) => {
    const key = note.channel * 128 + note.note;
    const end = Math.max(note.tick + note.duration, ends.get(key) ?? 0);
    ends.set(key, end);
    return { ...note, duration: end - note.tick };
  });
}

export interface FileOptions {
  ppq: number;
  meter?: { beats: number; unit: number };
  /** Meters from some ticks on. */
  meters?: { tick: number; beats: number; unit: number }[];
  tempos?: { tick: number; microseconds: number }[];
  markers?: { tick: number; text: string }[];
  /** Note-on with velocity 0 for note-off, and running status. */
  terse?: boolean;
  /** Which track each note goes to, from 0. */
  track?: (note: FileNote) => number;
}

/** Writes notes as another program would: the file the reader is tested with. */
export function fileOf(notes: readonly FileNote[], options: FileOptions): Uint8Array {
  const {
    ppq,
    meter,
    meters = [],
    tempos = [],
    markers = [],
    terse = false,
    track = () => 0,
  } = options;
  const count = 1 + Math.max(0, ...notes.map(track));
  const tracks = Array.from({ length: count }, (_, index) => {
    type Timed = { tick: number; rank: number; event: object };
    const events: Timed[] = [];
    const meta = (tick: number, event: object) =>
      events.push({ tick, rank: 0, event: { meta: true, ...event } });
    if (index === 0) {
      for (const { tick, beats, unit } of meter ? [{ tick: 0, ...meter }, ...meters] : meters) {
        const rest = { metronome: 24, thirtyseconds: 8 };
        meta(tick, { type: 'timeSignature', numerator: beats, denominator: unit, ...rest });
      }
      for (const { tick, microseconds } of tempos) {
        meta(tick, { type: 'setTempo', microsecondsPerBeat: microseconds });
      }
      for (const { tick, text } of markers) meta(tick, { type: 'marker', text });
    }
    for (const note of notes.filter((n) => track(n) === index)) {
      const { tick, duration, velocity, channel, note: noteNumber } = note;
      const base = { channel, noteNumber };
      events.push({ tick, rank: 2, event: { ...base, type: 'noteOn', velocity } });
      events.push({
        tick: tick + duration,
        rank: duration === 0 ? 3 : 1,
        event: { ...base, type: 'noteOff', velocity: 0 },
      });
    }
    events.sort((a, b) => a.tick - b.tick || a.rank - b.rank);
    let now = 0;
    const written = events.map(({ tick, event }) => {
      const deltaTime = tick - now;
      now = tick;
      return { ...event, deltaTime } as MidiEvent;
    });
    return [...written, { deltaTime: 0, meta: true, type: 'endOfTrack' } as MidiEvent];
  });
  const header = {
    format: count > 1 ? (1 as const) : (0 as const),
    numTracks: count,
    ticksPerBeat: ppq,
  };
  return Uint8Array.from(
    writeMidi({ header, tracks }, { running: terse, useByte9ForNoteOff: terse }),
  );
}

/** The notes as a sorted list of comparable rows. */
export function sortedNotes(notes: readonly FileNote[]): string[] {
  return notes
    .map(({ tick, note, velocity, duration, channel }) =>
      [tick, note, velocity, duration, channel].join(' '),
    )
    .sort();
}

export const anyPiece = fc.constantFrom(
  ...DEFAULT_KIT.pieces.map((piece) => piece.id),
  'note-28',
  'note-100',
);

/** A pattern of one to three bars with hits on and off the grid. */
export const anyPattern = (id = 'p1'): fc.Arbitrary<Pattern> =>
  fc
    .record({
      meter: anyMeter,
      bars: fc.integer({ min: 1, max: 3 }),
      hits: fc.array(
        fc.record({
          piece: anyPiece,
          step: fc.nat(60),
          push: fc.integer({ min: -100, max: 100 }),
          velocity: fc.integer({ min: 1, max: 127 }),
        }),
        { maxLength: 30 },
      ),
    })
    .map(({ meter, bars, hits }) =>
      placeHits(
        emptyPattern({ id, name: id, meter, bars }),
        hits.map(({ piece, step, push, velocity }, i) => ({
          piece,
          hit: { id: `${id}-${i}`, at: step * 240, push, velocity, articulation: 'any' },
        })),
      ),
    );

/** A song of two or three patterns, each laid out as a section, some of them twice. */
export const anySong: fc.Arbitrary<Song> = fc
  .record({
    patterns: fc.tuple(anyPattern('a'), anyPattern('b'), anyPattern('c')),
    order: fc.array(fc.nat(2), { minLength: 1, maxLength: 6 }),
    bpm: fc.integer({ min: 30, max: 300 }),
  })
  .map(({ patterns, order, bpm }) => ({
    ...songWith({ id: 'song', name: 'Song', bpm }, patterns),
    sections: patterns.map((pattern) =>
      sectionOf(pattern, { id: `s-${pattern.id}`, name: pattern.name, kind: 'verse' }),
    ),
    places: order.map((index, i) => ({
      id: `at-${i}`,
      section: `s-${patterns[index].id}`,
      overlay: [],
    })),
  }));

/** How a strand is taken. */
export const anyTakeWay = fc.record({
  mode: fc.constantFrom(...TAKE_MODES),
  fit: fc.constantFrom(...FITS),
});
