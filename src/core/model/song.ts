import type { Meter } from '../time/meter';
import type { TempoChange } from '../time/tempo';
import type { Channel, Ticks, Velocity } from '../time/units';
import type { Turn } from '../pattern/grow';
import type { PieceId } from './pieces';

/** The form of a stored song. A newer form needs an upgrade in `storage/`. */
export const SONG_FORMAT = 3;

/** Grace strokes before a hit: one makes a flam, two make a drag. */
export interface Flam {
  strokes: 1 | 2;
  /** Milliseconds from the first grace stroke to the hit, 5 to 120. */
  lead: number;
  /** How much softer the grace strokes are: 0 as loud as the hit, 1 as soft as can be. */
  softness: number;
}

/** Several quick strokes in the room of one step, the first on the hit itself. */
export interface Burst {
  /** 2 to 8. */
  strokes: number;
  /** From the first stroke to where the next one after the last would be. */
  room: Ticks;
  /** 1 rises from silence to the hit's velocity, -1 falls from it, 0 is level. */
  slope: number;
}

/** Sounds only on some passes of its pattern. */
export interface Cycle {
  /** After so many passes it starts again, 2 to 16. */
  of: number;
  /** The passes it sounds on, counted from 1, in order; never empty. */
  on: readonly number[];
}

/** One stroke on a kit piece, or a figure that is played as one. */
export interface Hit {
  /** Unique within its pattern. */
  id: string;
  /** The step it belongs to, in ticks from the start of the pattern. */
  at: Ticks;
  /** How far off its step it is played: negative early, positive late; may be fractional. */
  push: Ticks;
  velocity: Velocity;
  articulation: string;
  /** How long the MIDI note is held; absent means "as short as a drum note is". */
  length?: Ticks;
  /** MIDI channel from 0; absent means channel 10. */
  channel?: Channel;
  flam?: Flam;
  burst?: Burst;
  cycle?: Cycle;
  /** The sound is stopped by hand so long after the stroke. */
  choke?: Ticks;
  /** Left (-1) to right (1) of where its piece stands. */
  pan?: number;
  /** Cents above (positive) or below the piece's own pitch. */
  tune?: number;
  /** The sound runs backwards: it swells into its stroke. */
  reverse?: true;
  /** Share that is sent to the room, 0 to 1. */
  room?: number;
  /** Share that is sent to the echo, 0 to 1. */
  echo?: number;
}

/** Where a strand was taken from, and how it came: it can be had back so. */
export interface Taken {
  /** The groove it was part of. */
  name: string;
  dye: number;
  hits: readonly Hit[];
}

/** The hits of one kit piece in a pattern, ordered by step. */
export interface Strand {
  piece: PieceId;
  hits: Hit[];
  /** A step rate of its own; absent is the pattern's. */
  stepTicks?: Ticks;
  /** Loops at its own length, running on over the ends of the pattern; absent is the pattern's. */
  loopTicks?: Ticks;
  /** Set where it was taken from another groove. */
  from?: Taken;
}

/** The second of each pair of equal notes comes late. */
export interface Swing {
  /** Where in the pair the second note falls: 50 is straight, 66.7 a triplet, at most 75. */
  percent: number;
  /** Length of the notes that swing: 480 for eighths, 240 for sixteenths. */
  unit: Ticks;
}

/** How the rows of a pattern are shown. It changes nothing that sounds. */
export interface RowView {
  /** Pieces from top to bottom; what is not named follows in staff order. */
  order?: readonly PieceId[];
  hidden?: readonly PieceId[];
  /** Rows at full height, and rows that are but a line. */
  open?: readonly PieceId[];
  folded?: readonly PieceId[];
}

export const PATTERN_KINDS = ['groove', 'fill', 'intro', 'ending'] as const;
export type PatternKind = (typeof PATTERN_KINDS)[number];

/** Where a pattern or song was read from, so that it can go back at the same resolution. */
export interface Origin {
  file: string;
  /** Pulses per quarter note of the source. */
  ppq: number;
}

/** How many dyes there are; a pattern's dye is a number below this. */
export const DYE_COUNT = 12;

export interface Pattern {
  id: string;
  name: string;
  kind: PatternKind;
  meter: Meter;
  length: Ticks;
  /** The step rate it is written at. Changing it never moves a hit. */
  step: Ticks;
  /** In staff order, one strand a piece. */
  strands: Strand[];
  dye: number;
  /** Shifts what sounds; hits stay on their steps. Absent is straight. */
  swing?: Swing;
  view?: RowView;
  /** Changes that were made at the ends of its phrases as it grew. */
  turns?: readonly Turn[];
  origin?: Origin;
  /** What was noted when it was kept: "no snare: use as the drop". */
  notes?: string;
  /** 1 to 5; absent is none. */
  stars?: number;
  tags?: readonly string[];
  /** The groove of the library it was kept from. */
  groove?: GrooveRef;
  /** What it was joined from, end to end; it can be taken apart again. */
  joined?: readonly Pattern[];
}

/** A groove of the library, by name. */
export interface GrooveRef {
  id: string;
  name: string;
  family: string;
}

/** Something that was passed over or removed. It is kept until the offcuts are emptied by hand. */
export interface Offcut {
  id: string;
  why: 'passed' | 'removed';
  /** The groove that was passed over; it is still in the library. */
  groove?: GrooveRef;
  /** The pattern that was removed. */
  pattern?: Pattern;
}

/** One note of a part that is not drums. */
export interface GuideNote {
  /** Ticks from the start of the guide. */
  at: Ticks;
  length: Ticks;
  /** MIDI note number. */
  note: number;
  velocity: Velocity;
}

/** A reference part for playing against: a bass line, a riff. It is heard, and never a drum. */
export interface Guide {
  id: string;
  name: string;
  /** Where in the song it starts. */
  at: Ticks;
  notes: readonly GuideNote[];
  /** 0 to 1. */
  level: number;
  muted?: boolean;
}

/** One moment of a feel: how a stroke at this step is played. */
export interface FeelPoint {
  piece: PieceId;
  at: Ticks;
  push: Ticks;
  velocity: Velocity;
}

/** Timing and velocity taken from a pattern, to be given to another. */
export interface Feel {
  id: string;
  name: string;
  length: Ticks;
  points: readonly FeelPoint[];
}

/** A stretch of a section that plays a pattern, or some pieces of it, over and over. */
export interface Span {
  pieces: 'all' | PieceId[];
  /** Ticks from the start of the section, `to` not included. */
  from: Ticks;
  to: Ticks;
  pattern: string;
  /** Where in the pattern the span starts. */
  offset: Ticks;
  /** `replace` silences the same pieces in what lies below; `add` does not. */
  mode: 'replace' | 'add';
}

export const SECTION_KINDS = [
  'intro',
  'verse',
  'chorus',
  'bridge',
  'break',
  'solo',
  'outro',
  'part',
] as const;
export type SectionKind = (typeof SECTION_KINDS)[number];

/** A part of the song: a stack of spans, later ones on top. */
export interface Section {
  id: string;
  name: string;
  kind: SectionKind;
  meter: Meter;
  bars: number;
  spans: Span[];
}

/** One appearance of a section in the song, with what is laid over it only here. */
export interface Place {
  id: string;
  section: string;
  overlay: Span[];
}

/** The whole song as a value. Everything heard, drawn or written is computed from it. */
export interface Song {
  format: typeof SONG_FORMAT;
  id: string;
  name: string;
  tempo: TempoChange[];
  places: Place[];
  sections: Section[];
  patterns: Pattern[];
  /** Feels that were kept by name. */
  feels?: Feel[];
  guides?: Guide[];
  offcuts?: Offcut[];
  origin?: Origin;
}

export function findPattern(song: Song, id: string): Pattern | undefined {
  return song.patterns.find((pattern) => pattern.id === id);
}

export function findSection(song: Song, id: string): Section | undefined {
  return song.sections.find((section) => section.id === id);
}

export function findPlace(song: Song, id: string): Place | undefined {
  return song.places.find((place) => place.id === id);
}

export function findStrand(pattern: Pattern, piece: PieceId): Strand | undefined {
  return pattern.strands.find((strand) => strand.piece === piece);
}
