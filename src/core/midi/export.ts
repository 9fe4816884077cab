import {
  findPattern,
  layoutByPiece,
  noteOf,
  trackOfHit,
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
  type Ticks,
  type Velocity,
} from '../time';
import {
  guideStart,
  laidPlaces,
  heardPasses,
  placeName,
  songOfPattern,
  songTicks,
  steppedTempos,
  timeline,
  type TimedHit,
} from '../weave';
import { PendingEnds } from './pending';
import { TrackBytes } from './trackBytes';

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
  /** Only this pattern instead of the whole song. */
  pattern?: string;
  /**
   * How often that pattern is played, from 1. Default: until everything in it was heard (its cycles and
   * the strands that loop at their own length), as far as 512 bars go.
   */
  passes?: number;
  /**
   * The guides of the song too, each on a channel of its own, and in a track of its own where each kit
   * piece has one. Default: drums alone. A pattern by itself has none.
   */
  guides?: boolean;
  /** Hits that are written; absent is all of them. */
  heard?: (hit: TimedHit) => boolean;
  /** What tracks of a layout have of their own, by their ids: a channel from 0, a note map. */
  tracks?: Readonly<Record<string, TrackWish>>;
  /**
   * How long notes are held: as their hits say and else as short as drums are (`played`), up to the next of
   * the same pitch (`next`), or so many ticks, but never into the next. Default `played`.
   */
  lengths?: 'played' | 'next' | Ticks;
  /** Ticks from one tempo to the next where the tempo glides, 1 or more. Default a sixteenth note. */
  glideStep?: Ticks;
  /** Said in the file: whose it is, and whatever else. */
  copyright?: string;
  text?: string;
}

/** What one track of a file has of its own. */
export interface TrackWish {
  channel?: Channel;
  noteMap?: NoteMap;
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
  return song.guides.map((guide, i) => {
    const start = guideStart(song, guide);
    return {
      guide,
      // Channel 10 is for drums: guides have the others, and share them when they are more than fifteen.
      channel: (i % 15) + (i % 15 >= DRUM_CHANNEL ? 1 : 0),
      notes: guide.notes
        .map(({ at, length, note, velocity }) => ({
          on: start + at,
          off: Math.min(end, start + at + length),
          note,
          velocity,
        }))
        .filter(({ on }) => on >= 0 && on < end),
    };
  });
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
  const scale = scaleOf(options);
  const end = scale(endOfMusic(song, source, options));
  const conductor = [...saidAtStart(options), ...conductorEvents(source, scale, options)];
  const one = isOneTrack(options);
  const drums = writtenTracks(song, source, options);
  const guides = guideParts(song, options).map((part) => ({
    name: part.guide.name,
    notes: notesOfGuide(part, scale),
  }));
  const parts = [...drums, ...guides];
  const tracks = one
    ? [trackChunk(source.name, conductor, inOrder(parts.map(({ notes }) => notes)), end)]
    : [
        trackChunk(source.name, conductor, [], end),
        ...parts.map(({ name, notes }) => trackChunk(name, [], inOrder([notes]), end)),
      ];
  return fileOfTracks(tracks, one ? 0 : 1, ppq);
}

/** A track of drums as a file has it. Of a track whose strokes overlap there are several. */
export interface WrittenTrack {
  /** The track of the layout; absent where there is none. */
  id?: string;
  name: string;
  notes: readonly Note[];
}

/** The tracks of drums that a file has, with their notes in its ticks. */
export function writtenTracks(song: Song, source: Song, options: ExportOptions): WrittenTrack[] {
  const scale = scaleOf(options);
  const end = scale(endOfMusic(song, source, options));
  return drumTracks(source, options).flatMap(({ hits, ...track }) => {
    const sayAs = saidAs(song, options, track.id);
    const notes = notesOfHits(hits, { ...sayAs, scale, end, lengths: options.lengths });
    const lanes = isOneTrack(options) ? [notes] : lanesOf(notes);
    return lanes.map((lane): WrittenTrack => ({ ...track, notes: lane }));
  });
}

const scaleOf =
  ({ ppq = PPQ }: ExportOptions) =>
  (tick: Ticks) =>
    Math.round((tick * ppq) / PPQ);

/** Where the file ends: with its last bar, or with a pattern that is less than that. */
function endOfMusic(song: Song, source: Song, { pattern }: ExportOptions): Ticks {
  const whole = songTicks(source);
  const alone = pattern !== undefined && findPattern(song, pattern) !== undefined;
  return alone ? Math.min(whole, source.sections[0].spans[0].to) : whole;
}

function fileOfTracks(tracks: readonly Uint8Array[], format: 0 | 1, ppq: number): Uint8Array {
  const header = 14;
  const bytes = new Uint8Array(tracks.reduce((sum, { length }) => sum + length, header));
  const view = new DataView(bytes.buffer);
  bytes.set([0x4d, 0x54, 0x68, 0x64]);
  view.setUint32(4, 6);
  view.setUint16(8, format);
  view.setUint16(10, tracks.length);
  view.setUint16(12, ppq);
  let at = header;
  for (const track of tracks) {
    bytes.set(track, at);
    at += track.length;
  }
  return bytes;
}

/** The song that is written: the whole one, or a pattern as one. */
export function writtenSong(song: Song, { pattern: id, passes }: ExportOptions): Song {
  const pattern = id === undefined ? undefined : findPattern(song, id);
  return pattern ? songOfPattern(song, pattern, passes ?? heardPasses(pattern)) : song;
}

/** Whether all is written into one track: a file of type 0. */
export function isOneTrack({ layout = 'one' }: ExportOptions): boolean {
  return layout === 'one';
}

/** One drum track of a file. */
export interface DrumTrack {
  /** Of the layout; absent where there is none. */
  id?: string;
  name: string;
  hits: TimedHit[];
}

/** The hits of a song by the tracks they are written to; a track without hits is not written. */
export function drumTracks(
  source: Song,
  { layout = 'one', heard }: Pick<ExportOptions, 'layout' | 'heard'>,
): DrumTrack[] {
  const all = timeline(source);
  const hits = heard ? all.filter(heard) : all;
  const by = layoutFor(source, layout, hits);
  if (!by) return [{ name: source.name, hits }];
  const tracks = new Map(
    by.tracks.map(({ id, name }) => [id, { id, name, hits: [] as TimedHit[] }]),
  );
  for (const hit of hits) tracks.get(trackOfHit(by, source.kit, hit))!.hits.push(hit);
  return [...tracks.values()].filter((track) => track.hits.length > 0);
}

/** Which hits of a song are on a track, of those that are written at all. */
export function onDrumTrack(
  source: Song,
  { layout, heard }: Pick<ExportOptions, 'layout' | 'heard'>,
  track: string,
): (hit: TimedHit) => boolean {
  const by = layoutFor(source, layout, timeline(source));
  return (hit) =>
    (heard?.(hit) ?? true) && by !== undefined && trackOfHit(by, source.kit, hit) === track;
}

/** The layout by which hits are written; none where all of them are one track. */
function layoutFor(
  source: Song,
  layout: ExportOptions['layout'],
  hits: readonly TimedHit[],
): TrackLayout | undefined {
  if (layout === undefined || layout === 'one') return undefined;
  if (layout !== 'pieces') return layout;
  return layoutByPiece(source.kit, [...new Set(hits.map(({ piece }) => piece))]);
}

/** How a stroke is said on a track: by which note, on which channel. */
export interface SaidAs {
  noteOfHit: (hit: Pick<TimedHit, 'piece' | 'articulation'>) => NoteNumber;
  channelOf: (hit: Pick<TimedHit, 'channel'>) => Channel;
}

/** How strokes are said on a track with these options. */
export function saidAs(song: Song, options: ExportOptions, track: string | undefined): SaidAs {
  const own = track === undefined ? undefined : options.tracks?.[track];
  const noteMap = own?.noteMap ?? options.noteMap;
  return {
    noteOfHit: notesOf(song, { ...options, noteMap }),
    channelOf: ({ channel }) => own?.channel ?? channel,
  };
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
  const known = new Map<string, Map<string, NoteNumber>>();
  return ({ piece, articulation }) => {
    let notes = known.get(piece);
    if (!notes) known.set(piece, (notes = new Map()));
    let note = notes.get(articulation);
    if (note === undefined) {
      notes.set(articulation, (note = noteOf(piece, articulation, map, song.kit)));
    }
    return note;
  };
}

/** What is said about the music at a tick. */
interface Said {
  tick: number;
  kind: number;
  content: Uint8Array;
}

/** Numbers of the things that can be said. Source: Standard MIDI Files 1.0, "Meta-Events". */
const META = {
  text: 0x01,
  copyright: 0x02,
  trackName: 0x03,
  marker: 0x06,
  tempo: 0x51,
  meter: 0x58,
};

/** A note as a file has it, in the file's ticks. */
export interface Note {
  on: number;
  off: number;
  channel: Channel;
  note: NoteNumber;
  velocity: Velocity;
  /** When its sound is stopped by hand. */
  choked?: number;
}

/**
 * Notes shared out so that none begins while another of its pitch and channel still sounds and ends at another
 * time: a track cannot say which of two ends first. Nearly always that is one list, the same.
 */
function lanesOf(notes: readonly Note[]): (readonly Note[])[] {
  const ends: Float64Array[] = [];
  const lanes: Note[][] = [];
  for (const note of notes) {
    const key = note.channel * 128 + note.note;
    let lane = 0;
    const sounds = () => ends[lane][key] > note.on && ends[lane][key] !== note.off;
    while (lane < ends.length && sounds()) lane++;
    ends[lane] ??= new Float64Array(16 * 128).fill(-1);
    ends[lane][key] = note.off;
    (lanes[lane] ??= []).push(note);
  }
  return lanes.length > 1 ? lanes : [notes];
}

/** Notes of several parts in the order they begin; of one moment in the order of the parts. */
function inOrder(parts: readonly (readonly Note[])[]): readonly Note[] {
  const notes = parts.length === 1 ? parts[0] : parts.flat();
  for (let i = 1; i < notes.length; i++) {
    if (notes[i].on < notes[i - 1].on) return [...notes].sort((a, b) => a.on - b.on);
  }
  return notes;
}

/**
 * At one tick comes first what is said, then what ends, then what begins.
 * @param said, notes each in the order of time
 */
function trackChunk(
  name: string,
  said: readonly Said[],
  notes: readonly Note[],
  end: number,
): Uint8Array {
  const track = new TrackBytes();
  track.text(0, META.trackName, name);
  const pending = new PendingEnds();
  const endUpTo = (tick: number) => {
    while (pending.next <= tick) {
      const at = pending.next;
      const key = pending.take();
      const [status, note] = [key >> 7, key & 127];
      // A hand on a cymbal is full key pressure, and none once it is gone.
      if (status >= 0xa0) track.message(at, status, note, 127);
      track.message(at, status, note, 0);
    }
  };
  let next = 0;
  const sayUpTo = (tick: number) => {
    for (; next < said.length && said[next].tick <= tick; next++) {
      endUpTo(said[next].tick - 1);
      track.meta(said[next].tick, said[next].kind, said[next].content);
    }
  };
  for (const { on, off, channel, note, velocity, choked } of notes) {
    if (next < said.length) sayUpTo(on);
    endUpTo(on);
    track.message(on, 0x90 | channel, note, velocity);
    if (choked !== undefined) pending.add(choked, ((0xa0 | channel) << 7) | note);
    pending.add(off, ((0x80 | channel) << 7) | note);
  }
  sayUpTo(Infinity);
  endUpTo(Number.MAX_VALUE);
  return track.chunk(end);
}

function saidAtStart({ copyright, text }: ExportOptions): Said[] {
  const said = (kind: number, words = ''): Said[] =>
    words === '' ? [] : [{ tick: 0, kind, content: new TextEncoder().encode(words) }];
  return [...said(META.copyright, copyright), ...said(META.text, text)];
}

function conductorEvents(
  song: Song,
  scale: (tick: Ticks) => number,
  { glideStep = PPQ / 4 }: ExportOptions,
): Said[] {
  const events: Said[] = steppedTempos(song, Math.max(1, glideStep)).map(({ at, bpm }) => {
    const microseconds = Math.min(0xffffff, Math.round(60e6 / bpm));
    const bytes = [microseconds >> 16, microseconds >> 8, microseconds];
    return { tick: scale(at), kind: META.tempo, content: Uint8Array.from(bytes, (b) => b & 255) };
  });
  let before: Meter | undefined;
  for (const laid of laidPlaces(song)) {
    const { section, start } = laid;
    for (const { bar, meter } of section.meters) {
      if (bar >= section.bars) break;
      const line = barNumber(section.meters, bar).start;
      if (!before || !sameMeter(before, meter)) {
        events.push({
          tick: scale(start + line),
          kind: META.meter,
          // The clocks of a click and the 32nds of a quarter note are the usual ones.
          content: Uint8Array.of(meter.beats, Math.log2(meter.unit), 24, 8),
        });
      }
      before = meter;
    }
    const content = new TextEncoder().encode(placeName(song, laid));
    events.push({ tick: scale(start), kind: META.marker, content });
  }
  return events.sort((a, b) => a.tick - b.tick);
}

export interface Holding extends SaidAs {
  scale: (tick: Ticks) => number;
  /** Where the music ends, in ticks of the file. */
  end: number;
  lengths: ExportOptions['lengths'];
}

/** Hits as notes: each held as is wished, or short of the next stroke. */
export function notesOfHits(
  hits: readonly TimedHit[],
  { scale, noteOfHit, channelOf, end, lengths = 'played' }: Holding,
): Note[] {
  const next = new Float64Array(16 * 128).fill(Infinity);
  const notes = new Array<Note>(hits.length);
  for (let i = hits.length - 1; i >= 0; i--) {
    const hit = hits[i];
    const [note, channel] = [noteOfHit(hit), channelOf(hit)];
    const on = scale(hit.tick);
    const key = channel * 128 + note;
    const room = next[key] - on;
    next[key] = on;
    const choke = hit.touch?.choke;
    // Most receivers know no choke: the note ends where the sound is stopped, too.
    const length = choke ?? (lengths === 'played' ? hit.length : undefined);
    const short = scale(typeof lengths === 'number' ? lengths : SHORT);
    const held =
      length !== undefined
        ? scale(length)
        : lengths === 'next'
          ? Math.max(1, Math.min(room, Math.max(1, end - on)))
          : Math.max(1, Math.min(short, room));
    notes[i] = { on, off: on + held, channel, note, velocity: hit.velocity };
    // Pressure behind the next stroke would be taken for that one's.
    if (choke !== undefined && held > 0 && held <= room) notes[i].choked = on + held;
  }
  return notes;
}

function notesOfGuide({ channel, notes }: GuidePart, scale: (tick: Ticks) => number): Note[] {
  return notes.map(({ on: begins, off, note, velocity }) => {
    const on = scale(begins);
    return { on, off: Math.max(on + 1, scale(off)), channel, note, velocity };
  });
}
