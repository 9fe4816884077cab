import { writeMidi, type MidiEvent } from 'midi-file';
import {
  findPattern,
  layoutByPiece,
  noteOf,
  trackOf,
  type Guide,
  type NoteMap,
  type Song,
  type TrackLayout,
} from '../model';
import {
  barNumber,
  DRUM_CHANNEL,
  PPQ,
  sameMeter,
  type Channel,
  type Meter,
  type NoteNumber,
  type TempoChange,
  type Ticks,
  type Velocity,
} from '../time';
import {
  guideStart,
  laidPlaces,
  songOfPattern,
  songTicks,
  tempoOfSong,
  temposOfSong,
  timeline,
  type TimedHit,
} from '../weave';

export interface ExportOptions {
  /** Pulses per quarter note of the file, 1 to 32767. Default 960. */
  ppq?: number;
  /**
   * `one`: a type 0 file. `pieces`: a type 1 file with one named track for each kit piece that is
   * struck. A layout: a type 1 file with its tracks. Default `one`.
   */
  layout?: 'one' | 'pieces' | TrackLayout;
  /** Notes by `piece/articulation`; what it leaves out is General MIDI. Default: the song's. */
  noteMap?: NoteMap | ReadonlyMap<string, NoteNumber>;
  /** Only this pattern, once, instead of the whole song. */
  pattern?: string;
  /**
   * The guides of the song too, each on a channel of its own, and in a track of its own where each kit
   * piece has one. Default: drums alone. A pattern by itself has none.
   */
  guides?: boolean;
}

/** A guide as a file holds it. */
export interface GuidePart {
  guide: Guide;
  channel: Channel;
  /** Its notes that begin before the song is over, in ticks of the song. */
  notes: { on: Ticks; off: Ticks; note: NoteNumber; velocity: Velocity }[];
}

/** What is written of the guides with these options. */
export function guideParts(song: Song, { guides, pattern }: ExportOptions): GuidePart[] {
  if (!guides || pattern !== undefined) return [];
  const end = songTicks(song);
  return song.guides.map((guide, i) => ({
    guide,
    // Channel 10 is for drums: guides have the others, and share them when they are more than fifteen.
    channel: (i % 15) + (i % 15 >= DRUM_CHANNEL ? 1 : 0),
    notes: guide.notes
      .map(({ at, length, note, velocity }) => ({
        on: guideStart(song, guide) + at,
        off: Math.min(end, guideStart(song, guide) + at + length),
        note,
        velocity,
      }))
      .filter(({ on }) => on >= 0 && on < end),
  }));
}

/** How long a drum note is held when its hit does not say: a 32nd note. */
const SHORT: Ticks = PPQ / 8;

/**
 * Writes the song as a Standard MIDI File, with tempo, time signatures, and section names as
 * markers. At the resolution a song was imported at, every note has the tick, velocity, duration
 * and channel it came with.
 * @throws RangeError when `ppq` is not a whole number from 1 to 32767
 */
export function exportMidi(song: Song, options: ExportOptions = {}): Uint8Array {
  const { ppq = PPQ } = options;
  if (!Number.isInteger(ppq) || ppq < 1 || ppq > 32767) {
    throw new RangeError(`A MIDI file counts 1 to 32767 ticks a quarter note, not ${ppq}`);
  }
  const source = writtenSong(song, options);
  const scale = (tick: Ticks) => Math.round((tick * ppq) / PPQ);
  const end = scale(songTicks(source));
  const conductor = conductorEvents(source, scale);
  const noteOfHit = notesOf(song, options);
  const notes = (list: readonly TimedHit[]) => noteEvents(list, scale, noteOfHit);
  const guides = guideParts(song, options);
  const parts = drumTracks(source, options);
  const one = isOneTrack(options);
  const tracks = one
    ? [
        trackOfEvents(
          source.name,
          [
            ...conductor,
            ...parts.flatMap(({ hits }) => notes(hits)),
            ...guides.flatMap((part) => guideEvents(part, scale)),
          ],
          end,
        ),
      ]
    : [
        trackOfEvents(source.name, conductor, end),
        ...parts.map(({ name, hits }) => trackOfEvents(name, notes(hits), end)),
        ...guides.map((part) => trackOfEvents(part.guide.name, guideEvents(part, scale), end)),
      ];
  const header = {
    format: one ? (0 as const) : (1 as const),
    numTracks: tracks.length,
    ticksPerBeat: ppq,
  };
  return Uint8Array.from(writeMidi({ header, tracks }));
}

/** The song that is written: the whole one, or a pattern as one. */
export function writtenSong(song: Song, { pattern: id }: ExportOptions): Song {
  const pattern = id === undefined ? undefined : findPattern(song, id);
  return pattern ? songOfPattern(song, pattern) : song;
}

/** Whether all is written into one track: a file of type 0. */
export function isOneTrack({ layout = 'one' }: ExportOptions): boolean {
  return layout === 'one';
}

/** One drum track of a file. */
export interface DrumTrack {
  name: string;
  hits: TimedHit[];
}

/** The hits of a song by the tracks they are written to; a track without hits is not written. */
export function drumTracks(source: Song, { layout = 'one' }: ExportOptions): DrumTrack[] {
  const hits = timeline(source);
  if (layout === 'one') return [{ name: source.name, hits }];
  const pieces = new Set(hits.map(({ piece }) => piece));
  const by = layout === 'pieces' ? layoutByPiece(source.kit, [...pieces]) : layout;
  const tracks = new Map(by.tracks.map(({ id, name }) => [id, { name, hits: [] as TimedHit[] }]));
  for (const hit of hits) tracks.get(trackOf(by, routed(hit)))!.hits.push(hit);
  return [...tracks.values()].filter((track) => track.hits.length > 0);
}

function routed({ piece, articulation, channel }: TimedHit) {
  return { piece, articulation, source: channel };
}

/** How strokes become notes with these options. */
export function notesOf(
  song: Song,
  { noteMap = song.noteMap }: ExportOptions,
): (hit: Pick<TimedHit, 'piece' | 'articulation'>) => NoteNumber {
  const map: NoteMap =
    noteMap instanceof Map
      ? { name: 'given', notes: Object.fromEntries(noteMap) }
      : (noteMap as NoteMap);
  return ({ piece, articulation }) => noteOf(piece, articulation, map, song.kit);
}

/** An event at its tick; at one tick, lower ranks come first. */
interface Timed {
  tick: number;
  rank: number;
  event: MidiEvent;
}

const RANK = { conductor: 0, off: 1, on: 2, offAtOnce: 3 };

function trackOfEvents(name: string, events: Timed[], end: number): MidiEvent[] {
  events.sort((a, b) => a.tick - b.tick || a.rank - b.rank);
  const track: MidiEvent[] = [
    { deltaTime: 0, meta: true, type: 'trackName', text: utf8AsLatin1(name) },
  ];
  let now = 0;
  for (const { tick, event } of events) {
    event.deltaTime = tick - now;
    now = tick;
    track.push(event);
  }
  track.push({ deltaTime: Math.max(0, end - now), meta: true, type: 'endOfTrack' });
  return track;
}

function conductorEvents(song: Song, scale: (tick: Ticks) => number): Timed[] {
  const events: Timed[] = steppedTempos(song).map(({ at, bpm }) => ({
    tick: scale(at),
    rank: RANK.conductor,
    event: {
      deltaTime: 0,
      meta: true,
      type: 'setTempo',
      microsecondsPerBeat: Math.min(0xffffff, Math.round(60e6 / bpm)),
    },
  }));
  let before: Meter | undefined;
  for (const { section, start } of laidPlaces(song)) {
    for (const { bar, meter } of section.meters) {
      if (bar >= section.bars) break;
      const line = barNumber(section.meters, bar).start;
      if (!before || !sameMeter(before, meter)) {
        events.push({
          tick: scale(start + line),
          rank: RANK.conductor,
          event: {
            deltaTime: 0,
            meta: true,
            type: 'timeSignature',
            numerator: meter.beats,
            denominator: meter.unit,
            metronome: 24,
            thirtyseconds: 8,
          },
        });
      }
      before = meter;
    }
    events.push({
      tick: scale(start),
      rank: RANK.conductor,
      event: { deltaTime: 0, meta: true, type: 'marker', text: utf8AsLatin1(section.name) },
    });
  }
  return events;
}

/** A file has no glides: they are written as a tempo each sixteenth note. */
function steppedTempos(song: Song): TempoChange[] {
  const tempos = temposOfSong(song);
  const map = tempoOfSong(song);
  return tempos.flatMap((change, i) => {
    const next = tempos[i + 1];
    if (!change.glide || !next) return [change];
    const steps = Math.max(1, Math.ceil((next.at - change.at) / (PPQ / 4)));
    return Array.from({ length: steps }, (_, step) => {
      const at = change.at + (step * PPQ) / 4;
      return { at, bpm: map.bpmAt(at) };
    });
  });
}

function noteEvents(
  hits: readonly TimedHit[],
  scale: (tick: Ticks) => number,
  noteOfHit: (hit: TimedHit) => NoteNumber,
): Timed[] {
  const noteNumbers = hits.map(noteOfHit);
  const lengths = heldTicks(hits, noteNumbers, scale);
  return hits.flatMap(({ tick, velocity, channel }, i) => {
    const on = scale(tick);
    const note = { deltaTime: 0, channel, noteNumber: noteNumbers[i] };
    return [
      { tick: on, rank: RANK.on, event: { ...note, type: 'noteOn', velocity } as MidiEvent },
      {
        tick: on + lengths[i],
        rank: lengths[i] === 0 ? RANK.offAtOnce : RANK.off,
        event: { ...note, type: 'noteOff', velocity: 0 } as MidiEvent,
      },
    ];
  });
}

function guideEvents({ channel, notes }: GuidePart, scale: (tick: Ticks) => number): Timed[] {
  return notes.flatMap(({ on, off, note: noteNumber, velocity }) => {
    const from = scale(on);
    const note = { deltaTime: 0, channel, noteNumber };
    return [
      { tick: from, rank: RANK.on, event: { ...note, type: 'noteOn', velocity } as MidiEvent },
      {
        tick: Math.max(from + 1, scale(off)),
        rank: RANK.off,
        event: { ...note, type: 'noteOff', velocity: 0 } as MidiEvent,
      },
    ];
  });
}

/** How long each note is held, in ticks of the file: as the hit says, or short of the next stroke. */
function heldTicks(
  hits: readonly TimedHit[],
  noteNumbers: readonly NoteNumber[],
  scale: (tick: Ticks) => number,
): number[] {
  const next = new Map<number, number>();
  const held = new Array<number>(hits.length);
  for (let i = hits.length - 1; i >= 0; i--) {
    const { tick, channel, touch } = hits[i];
    // A choke has no message in General MIDI: the note ends where the sound is stopped.
    const length = touch?.choke ?? hits[i].length;
    const on = scale(tick);
    const key = channel * 128 + noteNumbers[i];
    const room = (next.get(key) ?? Infinity) - on;
    held[i] = length === undefined ? Math.max(1, Math.min(scale(SHORT), room)) : scale(length);
    next.set(key, on);
  }
  return held;
}

/** `midi-file` writes one byte a character: the UTF-8 bytes of a text as such characters. */
function utf8AsLatin1(text: string): string {
  return Array.from(new TextEncoder().encode(text), (byte) => String.fromCharCode(byte)).join('');
}
