import type { Meter } from '../time/meter';
import type { TempoChange } from '../time/tempo';
import type { Channel, Ticks, Velocity } from '../time/units';
import type { PieceId } from './pieces';

/** The form of a stored song. A newer form needs an upgrade in `storage/`. */
export const SONG_FORMAT = 1;

/** One stroke on a kit piece. */
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
}

/** The hits of one kit piece in a pattern, ordered by step. */
export interface Strand {
  piece: PieceId;
  hits: Hit[];
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
  origin?: Origin;
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
