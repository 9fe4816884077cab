import {
  endOfPart,
  importMidi,
  MAX_QUARTERS,
  readFrame,
  meterAtStart,
  drumParts,
  guessNoteMap,
  readingOf,
  type NoteMapChoice,
  readTrack,
  type SourceTrack,
  SourceNotes,
} from '../midi';
import {
  emptyPattern,
  findPattern,
  MAX_BARS,
  placeOfSpan,
  songWith,
  type Pattern,
  type Section,
  type Song,
} from '../model';
import { joinPatterns, musicKey, whyNotJoined } from '../pattern';
import { readTab } from '../tab';
import {
  barAt,
  barNumber,
  barTicks,
  MAX_BPM,
  MIN_BPM,
  CHANNELS,
  type Channel,
  PPQ,
  ticksOfBars,
  type Ticks,
} from '../time';
import { readFamily } from './family';
import { grooveOfPattern, grooveOfStrokes, type Groove } from './groove';
import { PIECE_OF_NOTE, type Strokes } from './strokes';

/** A file as the library sees it: a groove, or a sentence that says why it is none. */
export type FileRead =
  | { groove: Groove }
  /** @property undrummed it has notes, and which of them are drums can be chosen */
  | { reason: string; undrummed?: true };

const TEXT = /\.(tab|txt)$/i;
const MIDI = /\.(midi?|smf|rmi|kar)$/i;

/** Whether a file is looked into at all, by its name. */
export function isGrooveFile(path: string): boolean {
  return MIDI.test(path) || TEXT.test(path);
}

/** The folder a file lies in is its family, the last part of its path its name. */
export function namesOf(path: string): { name: string; family: string } {
  const parts = path.split(/[\\/]+/).filter(Boolean);
  const name = (parts.at(-1) ?? path).replace(MIDI, '').replace(TEXT, '');
  return { name: name || path, family: parts.at(-2) ?? 'loose files' };
}

/**
 * Reads what the library lists of a file. Its notes are measured as they stand in the tracks, without
 * making hits of them. Never throws.
 * @param path where the file lies: its name and family are taken from it
 * @param choice how it is read; absent finds its drums and the note map that fits them best
 */
export function readGrooveFile(
  bytes: Uint8Array,
  path: string,
  id: string,
  choice?: NoteMapChoice,
): FileRead {
  const { name, family } = namesOf(path);
  if (TEXT.test(path)) return readText(new TextDecoder().decode(bytes), { id, name, family });
  const frame = readFrame(bytes, name);
  if ('error' in frame) return { reason: frame.error };
  const tracks = frame.tracks.map((chunk, i) => readTrack(chunk, roomFor(i, chunk.data.length)));
  const found = drumNotes(tracks, choice?.channel);
  const limit = MAX_QUARTERS * frame.ppq;
  const late = found.length > 0 && found.ticks[found.length - 1] >= limit;
  const notes = late ? found.before(limit) : found;
  if (notes.length === 0) {
    const damaged = tracks.some(({ damagedFrom }) => damagedFrom !== undefined);
    const any = tracks.some((track) => track.notes.length > 0);
    if (any) return { reason: NO_DRUMS, undrummed: true };
    return { reason: damaged ? 'It is damaged before its first note.' : 'It holds no notes.' };
  }
  const through = choice ?? { map: guessNoteMap(notes.counts(counts)) };
  if (through.map !== 'gm' || through.changes) notes.readAs(readingOf(through));
  const strokes = strokesOf(tracks, notes, { ppq: frame.ppq, name });
  const groove = grooveOfStrokes(strokes, { id, name, family, ppq: frame.ppq });
  if (through.map !== 'gm' || through.changes || choice) groove.through = through;
  const last = notes.ticks[notes.length - 1];
  const { beats, unit } = groove.meter;
  const others = tracks.some(({ meters }) =>
    meters.some((one) => one.tick <= last && (one.beats !== beats || one.unit !== unit)),
  );
  if (others) groove.otherMeters = true;
  return { groove };
}

const NO_DRUMS =
  'It has notes, but none of them are drums: no part is on channel 10, and none is named like drums.';

/** How often a file strikes each of the 128 notes: on the parts that are found to be its drums, and on each channel. */
export interface NotesOfFile {
  drums: Uint32Array;
  channels: Uint32Array[];
}

/** Counts the notes of a file; a text has none. */
export function notesOfFile(bytes: Uint8Array, path: string): NotesOfFile {
  const frame = TEXT.test(path) ? undefined : readFrame(bytes, path);
  const tracks = frame && !('error' in frame) ? frame.tracks.map((chunk) => readTrack(chunk)) : [];
  const channels = CHANNELS.map(() => new Uint32Array(128));
  for (const { notes } of tracks) {
    for (let i = 0; i < notes.length; i++) channels[notes.channels[i]][notes.notes[i]]++;
  }
  return { drums: drumNotes(tracks).counts(), channels };
}

/** Room for the notes of a file, counted. */
const counts = new Uint32Array(128);

/** Room that the tracks of one file after another are read into: they are measured at once. */
const rooms: SourceNotes[] = [];

function roomFor(track: number, bytes: number): SourceNotes {
  const needed = Math.ceil(bytes / 3);
  const room = rooms[track];
  // What is unusually large is not held on to.
  if (track >= MOST_ROOMS || needed > MOST_ROOM) return new SourceNotes(needed);
  if (!room || room.ticks.length < needed) return (rooms[track] = new SourceNotes(2 * needed));
  return room;
}

const MOST_ROOMS = 32;
const MOST_ROOM = 65_536;

function readText(text: string, head: { id: string; name: string; family: string }): FileRead {
  const { pattern, report } = readTab(text, { id: head.id, name: head.name });
  if (!pattern) return { reason: report[0] };
  return { groove: grooveOfPattern(pattern, 120, head) };
}

function drumNotes(tracks: readonly SourceTrack[], chosen?: Channel): SourceNotes {
  const areDrums = drumParts(tracks, chosen);
  const filled = [...tracks.keys()].filter((track) => tracks[track].notes.length > 0);
  if (filled.length === 1) {
    // Of most files all notes are taken: they need not be put together.
    const [{ notes }, track] = [tracks[filled[0]], filled[0]];
    let all = true;
    for (let i = 0; all && i < notes.length; i++) all = areDrums(track, notes.channels[i]);
    if (all) return notes;
  }
  return SourceNotes.merged(
    tracks.map(({ notes }) => notes),
    (track, i) => areDrums(track, tracks[track].notes.channels[i]),
  );
}

let ticks = new Float64Array(1024);
let pieces = new Uint8Array(1024);

/** The strokes of some notes, good until the next file is read. */
function strokesOf(
  tracks: readonly SourceTrack[],
  notes: SourceNotes,
  { ppq, name }: { ppq: number; name: string },
): Strokes {
  const scale = PPQ / ppq;
  const last = notes.ticks[notes.length - 1] * scale;
  const meter = meterAtStart(tracks);
  const bar = barTicks(meter);
  let first = { tick: Infinity, microseconds: 500_000 };
  for (const { tempos } of tracks) if (tempos[0]?.tick < first.tick) [first] = tempos;
  const bpm = 60e6 / first.microseconds;
  if (ticks.length < notes.length) {
    ticks = new Float64Array(2 * notes.length);
    pieces = new Uint8Array(2 * notes.length);
  }
  for (let i = 0; i < notes.length; i++) {
    ticks[i] = notes.ticks[i] * scale;
    pieces[i] = PIECE_OF_NOTE[notes.notes[i]];
  }
  return {
    count: notes.length,
    at: ticks,
    piece: pieces,
    velocity: notes.velocities,
    // A downbeat that is played a little early, at the end, begins no bar of its own.
    length:
      endOfPart(tracks, notes, scale, { name, meter }) ??
      Math.max(1, Math.ceil((last + 1 - PPQ / 8) / bar)) * bar,
    meter,
    bpm: Math.round(Math.max(MIN_BPM, Math.min(MAX_BPM, bpm)) * 100) / 100,
  };
}

/** The parts of a file as patterns: its sections, or the whole of it where it has but one; each once. */
export interface FileParts {
  song: Song;
  parts: Pattern[];
}

/**
 * Reads a groove file's hits.
 * @param choice how it is read; absent finds its drums and the note map that fits them best
 * @returns undefined when nothing could be read
 */
export function partsOfFile(
  bytes: Uint8Array,
  path: string,
  id: string,
  choice?: NoteMapChoice,
): FileParts | undefined {
  const { name } = namesOf(path);
  if (TEXT.test(path)) {
    const { pattern } = readTab(new TextDecoder().decode(bytes), { id, name });
    return pattern && { song: songWith(pattern, [pattern]), parts: [pattern] };
  }
  const { song } = importMidi(bytes, name, { notes: choice ?? 'guess' });
  if (!song) return undefined;
  const named = (section: Section) =>
    song.sections.length > 1 ? `${name}: ${section.name}` : name;
  const parts: Pattern[] = [];
  const known = new Set<string>();
  const names = new Map<string, number>();
  for (const section of song.sections) {
    for (const part of partsOfSection(song, section, named(section))) {
      const music = musicKey(part);
      if (known.has(music)) continue;
      known.add(music);
      const twins = (names.get(part.name) ?? 0) + 1;
      names.set(part.name, twins);
      parts.push({
        ...part,
        id: `${id}#${parts.length}`,
        name: twins > 1 ? `${part.name} (${twins})` : part.name,
        origin: song.origin,
      });
    }
  }
  return { song, parts };
}

/**
 * All of a section that was read, silence too: one pattern, or several where it is too long for one or
 * changes its meter.
 */
function partsOfSection(song: Song, section: Section, name: string): Pattern[] {
  const length = ticksOfBars(section.meters, section.bars);
  const laid = section.spans
    .flatMap((span) => {
      const lies = placeOfSpan(span, length);
      const pattern = findPattern(song, span.pattern);
      return lies && pattern ? [{ ...lies, pattern }] : [];
    })
    .sort((a, b) => a.from - b.from);
  const pieces: Pattern[] = [];
  let end = 0;
  for (const { from, pattern } of laid) {
    pieces.push(...silences(section, name, end, from));
    pieces.push(pattern);
    end = Math.max(end, from + pattern.length);
  }
  // What is less than a bar, as a fill of two beats, is no more than that.
  const part = pieces.length === 1 && end < barTicks(pieces[0].meter);
  if (!part) pieces.push(...silences(section, name, end, length));
  return joined(pieces, name);
}

/** Patterns without a hit from one tick of a section to another, each in one meter. */
function silences({ meters }: Section, name: string, from: Ticks, to: Ticks): Pattern[] {
  const silent: Pattern[] = [];
  for (let at = from; at < to - 1e-6;) {
    const { bar, meter } = barAt(meters, at);
    const change = meters.find((next) => next.bar > bar);
    const until = Math.min(to, change ? barNumber(meters, change.bar).start : to);
    const length = Math.min(until - at, MAX_BARS * barTicks(meter));
    silent.push({ ...emptyPattern({ id: `silence-${at}`, name, meter }), length });
    at += length;
  }
  return silent;
}

/** Patterns end to end, in as few as can hold them, named after their bars where they are several. */
function joined(pieces: readonly Pattern[], name: string): Pattern[] {
  const groups: Pattern[][] = [];
  for (const piece of pieces) {
    const last = groups.at(-1);
    if (last && !whyNotJoined([...last, piece])) last.push(piece);
    else groups.push([piece]);
  }
  let bar = 0;
  return groups.map((group): Pattern => {
    const from = Math.round(bar) + 1;
    bar += group.reduce((sum, { length, meter }) => sum + length / barTicks(meter), 0);
    const said = groups.length > 1 ? `${name}, bars ${from} to ${Math.round(bar)}` : name;
    const head = { id: 'part', name: said, dye: 0 };
    if (group.length === 1) return { ...group[0], ...head };
    const { joined: _, ...whole } = joinPatterns(group, head) ?? { ...group[0], ...head };
    return whole;
  });
}

/** A shipped family's grooves and their rows, read together. */
export function readShippedFamily(
  text: string,
  id: string,
): { family: string; about: string; grooves: Groove[]; patterns: Pattern[] } {
  const { family, about, also, bpm, patterns } = readFamily(text, id);
  return {
    family,
    about,
    patterns,
    grooves: patterns.map((pattern) => ({
      ...grooveOfPattern(pattern, bpm, { id: pattern.id, family }),
      ...(also && { also }),
    })),
  };
}
