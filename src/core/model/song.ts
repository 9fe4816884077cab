import type { Bpm, MeterChange, TempoChange, Ticks, Velocity } from '../time';
import type { DraftWishes, EnergyPoint } from './draft';
import type { Drummer } from './drummer';
import type { Kit } from './kit';
import type { TrackLayout } from './layout';
import type { Mix, SectionMix } from './mix';
import type { NoteMap } from './noteMap';
import type { GrooveRef, Origin } from './origin';
import type { Feel, Pattern } from './pattern';
import type { Span } from './span';

/** The form of a stored song. A newer form needs an upgrade in `upgrade.ts`. */
export const SONG_FORMAT = 4;

/** Something that was passed over or removed. It is kept until the offcuts are emptied by hand. */
export interface Offcut {
  id: string;
  why: 'passed' | 'removed';
  /** The groove that was passed over; it is still in the library. */
  groove?: GrooveRef;
  /** The pattern that was removed. */
  pattern?: Pattern;
  /** What played it: it is played there again when it is recovered. */
  uses?: Use[];
}

/** A span that was taken out of a section or the overlay of a place, and where in the stack it lay. */
export interface Use {
  of: 'section' | 'place';
  /** The section or place. */
  id: string;
  index: number;
  span: Span;
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
  /** The place it starts in and goes along with; absent is the song's start. */
  place?: string;
  /** Where it starts, in ticks from the start of its place, or of the song. */
  at: Ticks;
  notes: readonly GuideNote[];
  /** 0 to 1. */
  level: number;
  muted?: boolean;
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
  bars: number;
  /** How its bars are counted, the first entry at bar 0. */
  meters: readonly MeterChange[];
  /** Its tempos in ticks from its start; none is the tempo of the song. */
  tempos: readonly TempoChange[];
  spans: Span[];
  /** Kept from change. */
  locked?: true;
  /** What is mixed otherwise while it plays. */
  mix?: SectionMix;
  /** What is asked of a draft here otherwise than for the song. */
  wishes?: Partial<DraftWishes>;
}

/** One appearance of a section in the song, with what is laid over it only here. */
export interface Place {
  id: string;
  section: string;
  overlay: Span[];
  /** Tempos of its own, instead of those of its section. */
  tempos?: readonly TempoChange[];
  /** Kept from change. */
  locked?: true;
  /** Is the same as another place on purpose. */
  meant?: true;
  /** The line that a draft follows here; absent where none was drawn. */
  energy?: readonly EnergyPoint[];
  /** The spans a draft laid over it: what is missing of them was taken out by hand. */
  drafted?: readonly string[];
}

/** The whole song as a value. Everything heard, drawn or written is computed from it. */
export interface Song {
  format: typeof SONG_FORMAT;
  id: string;
  name: string;
  /** The tempo wherever no section or place has its own. */
  bpm: Bpm;
  places: Place[];
  sections: Section[];
  patterns: Pattern[];
  kit: Kit;
  noteMap: NoteMap;
  layouts: readonly TrackLayout[];
  /** The layout that is in use. */
  layout: string;
  /** One a layout, by the id of the layout. */
  mixes: readonly Mix[];
  /** Feels that were kept by name. */
  feels: Feel[];
  guides: Guide[];
  offcuts: Offcut[];
  /** Who is to play it, where that is not the usual drummer. */
  drummer?: Drummer;
  /** What is asked of a draft, where it is not the usual. */
  draft?: DraftWishes;
  /** Kept from change. */
  locked?: true;
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
