import { FITS, type TakeMode } from '../pattern/take';
import fc from 'fast-check';
import { writeMidi, type MidiEvent } from 'midi-file';
import type { Command } from '../commands/apply';
import { KIT_PIECES } from '../model/pieces';
import { emptyPattern, sectionOf } from '../model/make';
import { PATTERN_KINDS, SECTION_KINDS, SONG_FORMAT, type Pattern, type Song } from '../model/song';
import { workByHand, type HandCommand, type HandName, type OptionsOf } from '../commands/hands';
import { TURNS } from '../pattern/grow';
import { LANES, type LaneId } from '../pattern/lanes';
import { placeHits } from '../pattern/place';
import { allIds } from '../pattern/strands';

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
  tempos?: { tick: number; microseconds: number }[];
  markers?: { tick: number; text: string }[];
  /** Note-on with velocity 0 for note-off, and running status. */
  terse?: boolean;
  /** Which track each note goes to, from 0. */
  track?: (note: FileNote) => number;
}

/** Writes notes as another program would: the file the reader is tested with. */
export function fileOf(notes: readonly FileNote[], options: FileOptions): Uint8Array {
  const { ppq, meter, tempos = [], markers = [], terse = false, track = () => 0 } = options;
  const count = 1 + Math.max(0, ...notes.map(track));
  const tracks = Array.from({ length: count }, (_, index) => {
    type Timed = { tick: number; rank: number; event: object };
    const events: Timed[] = [];
    const meta = (tick: number, event: object) =>
      events.push({ tick, rank: 0, event: { meta: true, ...event } });
    if (index === 0) {
      if (meter) {
        const { beats: numerator, unit: denominator } = meter;
        const rest = { metronome: 24, thirtyseconds: 8 };
        meta(0, { type: 'timeSignature', numerator, denominator, ...rest });
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
  ...KIT_PIECES.map((piece) => piece.id),
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
    format: SONG_FORMAT,
    id: 'song',
    name: 'Song',
    tempo: [{ at: 0, bpm }],
    patterns,
    sections: patterns.map((pattern) =>
      sectionOf(pattern, { id: `s-${pattern.id}`, name: pattern.name, kind: 'verse' }),
    ),
    places: order.map((index, i) => ({
      id: `at-${i}`,
      section: `s-${patterns[index].id}`,
      overlay: [],
    })),
  }));

const anyLane = fc.constantFrom(...(Object.keys(LANES) as LaneId[]));

/** The hands with options in and out of their limits. */
export const anyHand: fc.Arbitrary<{ type: HandName; options: never }> = (() => {
  const percent = fc.integer({ min: -20, max: 220 });
  const velocity = fc.integer({ min: -3, max: 130 });
  const seed = fc.nat(1000);
  const of = <K extends HandName>(
    type: K,
    fields: { [F in keyof OptionsOf<K>]: fc.Arbitrary<OptionsOf<K>[F]> },
  ) =>
    fc.record({ type: fc.constant(type), options: fc.record(fields) }) as unknown as fc.Arbitrary<{
      type: HandName;
      options: never;
    }>;
  const none = {} as never;
  return fc.oneof(
    of('set velocity to', { velocity }),
    of('scale velocity', { percent }),
    of('ramp velocity', { from: velocity, to: velocity }),
    of('level velocity', { percent }),
    of('spread velocity', { percent }),
    of('random velocity', { low: velocity, high: velocity, seed }),
    of('alternate hands', { softer: percent, lead: fc.constantFrom('strong', 'weak') }),
    of('accent steps', {
      steps: fc.constantFrom('x..', 'xx', '...', 'no'),
      louder: velocity,
      softer: velocity,
    }),
    of('ghost the off-beats', { velocity }),
    of('quantize', {
      strength: percent,
      grid: fc.constantFrom(0, 120, 160, 240, 960),
      swing: fc.integer({ min: 45, max: 80 }),
      window: fc.constantFrom(0, 30, 200),
    }),
    of('humanize', {
      timing: fc.nat(500),
      velocity: fc.nat(70),
      bias: fc.integer({ min: -110, max: 110 }),
      seed,
    }),
    of('push or lay back', { by: fc.integer({ min: -1000, max: 1000 }) }),
    of('straighten', { percent }),
    of('revoice', { piece: anyPiece, articulation: fc.constantFrom('open', 'rim', '') }),
    of('alternate articulations', { first: fc.constant('open'), second: fc.constant('closed') }),
    of('rotate', { steps: fc.integer({ min: -40, max: 40 }) }),
    of('reverse', none),
    of('mirror', none),
    of('half time', none),
    of('double time', none),
    of('thin to every n-th', { every: fc.integer({ min: 0, max: 5 }) }),
    of('thin out the softest', { percent }),
    of('fill the gaps', { percent }),
    of('flam', {
      strokes: fc.constantFrom(1 as const, 2 as const),
      lead: fc.integer({ min: 0, max: 130 }),
      softness: fc.constantFrom(0, 0.5, 1, 1.5),
    }),
    of('burst', { strokes: fc.nat(9), slope: fc.constantFrom(-1, -0.4, 0, 1) }),
    of('choke', { after: fc.nat(900) }),
    of('reverse the sound', none),
    of('take ornaments off', { of: fc.constantFrom('flam', 'burst', 'choke', 'cycle', 'all') }),
    of('cycle', { of: fc.nat(17), on: fc.array(fc.nat(6), { maxLength: 4 }) }),
    of('random values', {
      lane: anyLane,
      low: fc.integer({ min: -50, max: 50 }),
      high: fc.integer({ min: -50, max: 50 }),
      seed,
    }),
  );
})();

/** A pattern to which hands have done several things. */
export const anyWorkedPattern: fc.Arbitrary<Pattern> = fc
  .tuple(anyPattern(), fc.array(fc.tuple(anyHand, fc.nat(4)), { maxLength: 6 }))
  .map(([pattern, hands]) =>
    hands.reduce((now, [hand, every]) => {
      const ids = [...allIds(now)].filter((_, i) => i % (every + 1) === 0);
      return workByHand(now, { ...hand, ids } as HandCommand);
    }, pattern),
  );

/** How a strand is taken. */
export const anyTakeWay = fc.record({
  mode: fc.constantFrom<TakeMode>('replace', 'add'),
  fit: fc.constantFrom(...FITS),
});

/** Commands of every sort; some of them name things that are not there. */
export const anyCommand: fc.Arbitrary<Command> = (() => {
  const pattern = fc.constantFrom('a', 'b', 'c', 'gone');
  const place = fc.constantFrom('at-0', 'at-1', 'at-2', 'new-1', 'gone');
  const section = fc.constantFrom('s-a', 's-b', 's-c', 'gone');
  const ids = fc.array(
    fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.nat(12)).map(([p, i]) => `${p}-${i}`),
    { maxLength: 8 },
  );
  const of = <T extends object>(type: string, fields: { [K in keyof T]: fc.Arbitrary<T[K]> }) =>
    fc.record({ type: fc.constant(type), ...fields }) as unknown as fc.Arbitrary<Command>;
  const shift = fc.record({
    by: fc.integer({ min: -20, max: 20 }).map((n) => n * 240),
    rows: fc.integer({ min: -3, max: 3 }),
  });
  const span = fc.record({
    pieces: fc.oneof(fc.constant('all' as const), fc.array(anyPiece, { maxLength: 3 })),
    from: fc.constant(0),
    to: fc.constantFrom(960, 1920),
    pattern: fc.constantFrom('a', 'b', 'c'),
    offset: fc.constantFrom(0, 480),
    mode: fc.constantFrom('replace' as const, 'add' as const),
  });
  return fc.oneof(
    of('place hits', {
      pattern,
      hits: fc.array(
        fc.record({
          piece: anyPiece,
          hit: fc.record({
            id: fc.uuid(),
            at: fc.nat(80).map((n) => n * 120),
            push: fc.constant(0),
            velocity: fc.integer({ min: 1, max: 127 }),
            articulation: fc.constant('any'),
          }),
        }),
        { maxLength: 4 },
      ),
    }),
    of('remove hits', { pattern, ids }),
    of('move hits', { pattern, ids, shift }),
    of('copy hits', { pattern, ids, shift, seed: fc.uuid() }),
    of('add velocity', { pattern, ids, by: fc.integer({ min: -60, max: 60 }) }),
    of('set push', { pattern, ids, push: fc.integer({ min: -200, max: 200 }) }),
    of('turn articulation', { pattern, ids }),
    of('set articulation', { pattern, ids, articulation: fc.constantFrom('open', 'rim', 'no') }),
    of('add strand', { pattern, piece: anyPiece }),
    of('remove strand', { pattern, piece: anyPiece }),
    of('set length', { pattern, length: fc.integer({ min: -1, max: 9 }).map((n) => n * 960) }),
    of('set meter', { pattern, meter: anyMeter }),
    of('set step', { pattern, step: fc.constantFrom(0, 120, 320) }),
    of('set pattern kind', { pattern, kind: fc.constantFrom(...PATTERN_KINDS) }),
    of('set strand step', { pattern, piece: anyPiece, step: fc.constantFrom(0, 160, 240) }),
    of('set strand loop', { pattern, piece: anyPiece, loop: fc.constantFrom(0, 1200, 9e9) }),
    of('insert bars', { pattern, before: fc.nat(3), count: fc.integer({ min: -1, max: 3 }) }),
    of('remove bars', { pattern, from: fc.nat(2), to: fc.nat(3) }),
    of('repeat bars', { pattern, from: fc.nat(2), to: fc.nat(3) }),
    of('crop to bars', { pattern, from: fc.nat(2), to: fc.nat(3) }),
    of('set swing', {
      pattern,
      swing: fc.record({ percent: fc.constantFrom(50, 58, 90), unit: fc.constantFrom(240, 480) }),
    }),
    of('write swing into the hits', { pattern }),
    of('take swing out of the hits', { pattern, unit: fc.constantFrom(240, 480) }),
    of('write cycles out', { pattern }),
    of('swap strands', { pattern, one: anyPiece, other: anyPiece }),
    of('copy strand', { pattern, from: anyPiece, to: anyPiece }),
    of('copy values', { pattern, lane: anyLane, from: anyPiece, to: anyPiece }),
    of('draw values', {
      pattern,
      lane: anyLane,
      values: fc.array(
        fc.tuple(fc.constantFrom('a-1', 'b-2'), fc.integer({ min: -999, max: 999 })),
      ),
    }),
    of('write a roll', {
      pattern,
      roll: fc.record({
        piece: anyPiece,
        articulation: fc.constant(''),
        from: fc.integer({ min: -240, max: 9000 }),
        to: fc.nat(9000),
        rate: fc.constantFrom(0, 80, 240),
        first: fc.integer({ min: -5, max: 140 }),
        last: fc.integer({ min: -5, max: 140 }),
        seed: fc.constant('roll'),
      }),
    }),
    of('grow', { pattern }),
    of('take a turn', { pattern, kind: fc.constantFrom(...TURNS), seed: fc.nat(9) }),
    of('move row', { pattern, piece: anyPiece, by: fc.integer({ min: -3, max: 3 }) }),
    of('fill', { pattern, ids, to: fc.nat(20_000) }),
    fc
      .tuple(pattern, ids, anyHand)
      .map(([named, chosen, hand]) => ({ ...hand, pattern: named, ids: chosen }) as Command),
    of('as it came', { pattern, piece: anyPiece }),
    of('clear strand', { pattern, piece: anyPiece }),
    fc.tuple(pattern, anySong, fc.array(anyPiece, { maxLength: 3 }), anyTakeWay).map(
      ([named, { patterns }, pieces, way]) =>
        ({
          type: 'take strands',
          pattern: named,
          taking: { source: patterns[0], pieces, ...way },
        }) as Command,
    ),
    of('remark pattern', {
      id: pattern,
      remark: fc.record({ notes: fc.string(), stars: fc.integer({ min: 0, max: 9 }) }),
    }),
    of('move pattern', { id: pattern, to: fc.integer({ min: -1, max: 5 }) }),
    of('set aside', { id: pattern }),
    of('recover', { id: fc.constantFrom('removed-a', 'removed-b', 'gone') }),
    of('empty offcuts', {}),
    of('split pattern', {
      id: pattern,
      at: fc.constantFrom(0, 960, 1920),
      ids: fc.tuple(fc.uuid(), fc.uuid()),
    }),
    of('join patterns', {
      ids: fc.array(pattern, { minLength: 1, maxLength: 3 }),
      newId: fc.uuid(),
      name: fc.string(),
    }),
    of('take apart', { id: pattern }),
    of('add guide', {
      guide: fc.record({
        id: fc.constantFrom('bass', 'riff'),
        name: fc.string(),
        at: fc.constantFrom(0, 3840),
        notes: fc.constant([{ at: 0, length: 240, note: 40, velocity: 90 }]),
        level: fc.constantFrom(0, 0.5),
      }),
    }),
    of('change guide', {
      id: fc.constantFrom('bass', 'gone'),
      change: fc.record({ level: fc.constantFrom(-1, 0.4), muted: fc.boolean() }),
    }),
    of('remove guide', { id: fc.constantFrom('bass', 'gone') }),
    of('rename song', { name: fc.string() }),
    of('set tempo', { at: fc.constantFrom(0, 3840), bpm: fc.integer({ min: 0, max: 400 }) }),
    of('remove tempo', { at: fc.constantFrom(0, 3840) }),
    of('remove pattern', { id: pattern }),
    of('repeat place', { place, newId: fc.uuid() }),
    of('move place', { place, to: fc.integer({ min: -1, max: 8 }) }),
    of('remove place', { place }),
    of('change section', { section, name: fc.string(), kind: fc.constantFrom(...SECTION_KINDS) }),
    of('set section bars', { section, bars: fc.integer({ min: 0, max: 6 }) }),
    of('set section meter', { section, meter: anyMeter }),
    of('add overlay', { place, span }),
    of('remove overlay', { place, index: fc.nat(2) }),
    of('add span', { section, span }),
    of('remove span', { section, index: fc.nat(2) }),
  );
})();
