import { pieceOfNote, songWith, spreadTempos, type Origin, type Song } from '../model';
import {
  barTicks,
  meterName,
  type Meter,
  MAX_BPM,
  MIN_BPM,
  type TempoChange,
  type Channel,
  PPQ,
  type Ticks,
} from '../time';
import { count, readFrame } from './chunks';
import { partsOf, type Part, type Stretch } from './layout';
import { Loom } from './loom';
import { drumParts } from './drumParts';
import { guessNoteMap, readingOf, type NoteMapChoice } from './noteReading';
import { emptyReport, fewerTempos, type DrumSource, type ImportReport } from './report';
import { SourceNotes } from './notes';
import { repeatingParts } from './repeats';
import { stepsOf } from './steps';
import { readTrack, type SourceTrack } from './track';

export interface ImportOptions {
  /** Ids of the sources to take, from the report of an earlier reading. Absent: the likely drums. */
  sources?: readonly string[];
  /** The note map that notes are read through, or the one that fits them best; absent is General MIDI. */
  notes?: NoteMapChoice | 'guess';
  /**
   * Looks for parts that repeat in a source without markers, for the report, and cuts it into them if that is
   * wanted. Absent does not look.
   */
  repeats?: 'find' | 'cut';
}

/** A song read from a file, or no song and a report whose `error` says why. */
export interface Imported {
  song?: Song;
  report: ImportReport;
}

/** Hits further into a song are left out: a damaged wait between two events can claim millions. */
export const MAX_QUARTERS = 40_000;

/**
 * Reads a Standard MIDI File into a song. Every drum note keeps its tick, velocity, duration and
 * channel: exporting at the resolution of the source gives them back unchanged. Markers and
 * changes of meter become sections. Never throws for any bytes; the report says what was
 * understood, what was repaired, and what was left out.
 * @param bytes the file's content
 * @param name the file's name, for the report and the song
 */
export function importMidi(bytes: Uint8Array, name: string, options: ImportOptions = {}): Imported {
  const report = emptyReport(name);
  const frame = readFrame(bytes, name);
  if ('error' in frame) return { report: { ...report, error: frame.error } };
  report.format = frame.format;
  report.ppq = frame.ppq;
  report.repaired.push(...frame.repaired);
  const tracks = frame.tracks.map((chunk) => readTrack(chunk));
  tracks.forEach((track, i) => reportTrack(track, i, frame.ppq, report));
  const channel = options.notes === 'guess' ? undefined : options.notes?.channel;
  report.sources = sourcesOf(tracks, options.sources, channel);
  const notes = takenNotes(tracks, report.sources);
  if (notes.length === 0) {
    const any = report.sources.length > 0;
    report.error = any
      ? options.sources
        ? `No part of “${name}” was chosen; choose at least one to take its hits.`
        : `No part of “${name}” is on the drum channel (10), and none is named like drums. Choose what its drums are.`
      : `“${name}” holds no notes${report.repaired.length ? ' that could be read' : ''}: there are no hits to take.`;
    return { report };
  }
  if (options.notes) {
    const through =
      options.notes === 'guess' ? { map: guessNoteMap(notes.counts()) } : options.notes;
    notes.readAs(readingOf(through));
    report.through = through;
  }
  const song = songOf(tracks, notes, { ppq: frame.ppq, file: name, report, ...options });
  return { song, report };
}

function reportTrack(track: SourceTrack, index: number, ppq: number, report: ImportReport): void {
  const what = track.name ? `Track ${index + 1}, “${track.name}”,` : `Track ${index + 1}`;
  if (track.damagedFrom !== undefined) {
    const beat = Math.floor(track.damagedFrom / ppq) + 1;
    report.repaired.push(
      `${what} is damaged or cut off at quarter note ${beat}; it was kept up to there (${count(track.notes.length, 'note')}).`,
    );
  }
  if (track.hanging > 0) {
    report.repaired.push(
      `${what} has ${count(track.hanging, 'note')} without an end; they were ended with the track.`,
    );
  }
  if (track.orphans > 0) {
    report.repaired.push(
      `${what} ends ${count(track.orphans, 'note')} that never began; what began them may be lost.`,
    );
  }
  if (track.endless)
    report.repaired.push(`${what} has no end mark; something after it may be lost.`);
  if (track.surplus > 0) {
    report.leftOut.push(`${what}: ${count(track.surplus, 'byte')} after its end mark.`);
  }
  if (track.ignored > 0) {
    report.leftOut.push(`${what}: ${count(track.ignored, 'event')} that are not hits.`);
  }
}

/** All tracks and channels with notes; those that are most likely drums are preselected. */
function sourcesOf(
  tracks: readonly SourceTrack[],
  wanted?: readonly string[],
  chosen?: Channel,
): DrumSource[] {
  const areDrums = drumParts(tracks, chosen);
  return tracks.flatMap((track, index) => {
    const counts = new Array<number>(16).fill(0);
    for (let i = 0; i < track.notes.length; i++) counts[track.notes.channels[i]]++;
    return counts.flatMap((hits, channel) =>
      hits === 0 ? [] : [sourceOf(track, index, channel, hits)],
    );
  });

  function sourceOf(track: SourceTrack, index: number, channel: Channel, hits: number): DrumSource {
    const id = `${index}:${channel}`;
    const preselected = areDrums(index, channel);
    const taken = wanted ? wanted.includes(id) : preselected;
    return { id, trackName: track.name, track: index + 1, channel, hits, preselected, taken };
  }
}

/** The notes of the taken sources in order of time; of equal times in order of tracks. */
function takenNotes(tracks: readonly SourceTrack[], sources: readonly DrumSource[]): SourceNotes {
  const filled = tracks.filter((track) => track.notes.length > 0).map((track) => track.notes);
  // A track is in order already; only several, or a part of one, have to be put together.
  if (filled.length === 1 && sources.every((source) => source.taken)) return filled[0];
  const taken = new Set(sources.filter((s) => s.taken).map((s) => s.id));
  return SourceNotes.merged(
    tracks.map((track) => track.notes),
    (track, i) => taken.has(`${track}:${tracks[track].notes.channels[i]}`),
  );
}

interface Reading extends Pick<ImportOptions, 'repeats'> {
  ppq: number;
  file: string;
  report: ImportReport;
}

function songOf(
  tracks: readonly SourceTrack[],
  found: SourceNotes,
  { ppq, file, report, repeats: wanted }: Reading,
): Song {
  const scale = PPQ / ppq;
  const limit = MAX_QUARTERS * ppq;
  const notes = (found.ticks[found.length - 1] ?? 0) < limit ? found : found.before(limit);
  if (notes.length < found.length) {
    report.leftOut.push(
      `${count(found.length - notes.length, 'hit')} more than ${MAX_QUARTERS.toLocaleString('en')} quarter notes into the song.`,
    );
  }
  report.hits = notes.length;
  const cut = notes.lastAtMost(limit);
  if (cut > 0) {
    report.repaired.push(
      `${count(cut, 'note')} longer than a song can be: cut to ${MAX_QUARTERS.toLocaleString('en')} quarter notes.`,
    );
  }
  const lastHit = (notes.ticks[notes.length - 1] ?? 0) * scale;
  const plain = partsOf(tracks, ppq, lastHit, report.repaired);
  const marked = plain.some(({ name }) => name !== undefined);
  const repeats = marked || !wanted ? [] : repeatingParts(plain, notes, scale);
  const parts =
    wanted === 'cut' && repeats.length > 0 ? partsOf(tracks, ppq, lastHit, [], repeats) : plain;
  if (repeats.length > 0) {
    const { length } = repeats;
    report.repeats = { parts: length, kinds: new Set(repeats.map(({ name }) => name)).size };
  }
  const origin: Origin = { file, ppq };
  const tempo = temposOf(tracks, scale, report);
  const stretched = parts.flatMap(({ stretches }) => stretches);
  const homes = homesIn(stretched, notes, scale, tempo);
  const loom = new Loom(origin, scale);
  const [stretch, ...others] = stretched;
  const oneBar = others.length === 0 && stretch.bars === 1;
  const end = oneBar
    ? endOfPart(tracks, notes, scale, { name: file, meter: stretch.meter })
    : undefined;
  for (const part of parts) loom.add(part, end);
  loom.layNotes(notes, homes);
  const titled = songName(file);
  const { patterns, sections, places } = loom.woven(titled);
  reportUnderstood(report, parts, notes, tempo);
  const song = songWith({ id: 'imported', name: titled, bpm: tempo[0].bpm }, patterns);
  return spreadTempos({ ...song, places, sections, origin }, tempo, fewerTempos(sections, report));
}

/**
 * Where a source ends that is less than a bar, as a fill of two beats. Its own end counts where it lies behind
 * its last note, so that it was set and did not just come with that note, and on a half beat. Where it was
 * not set, what is named a fill and begins no stroke in the second half of its bar is half a bar.
 * @param scale ticks of a song a tick of the source
 * @returns nothing where it lasts for whole bars
 */
export function endOfPart(
  tracks: readonly SourceTrack[],
  notes: SourceNotes,
  scale: number,
  { name, meter }: { name: string; meter: Meter },
): Ticks | undefined {
  const bar = barTicks(meter);
  let [end, sounds] = [0, 0];
  for (const track of tracks) end = Math.max(end, track.end);
  for (let i = 0; i < notes.length; i++) {
    sounds = Math.max(sounds, notes.ticks[i] + notes.durations[i]);
  }
  if (end > sounds) {
    const halfBeats = (end * scale) / (PPQ / 2);
    const isOnOne = Math.abs(halfBeats - Math.round(halfBeats)) <= 1e-6;
    return isOnOne && end * scale < bar ? end * scale : undefined;
  }
  const last = notes.ticks[notes.length - 1] * scale;
  const isHalf = /fill/i.test(name) && meter.beats % 2 === 0 && last < bar / 2 - PPQ / 8;
  return isHalf ? bar / 2 : undefined;
}

function songName(file: string): string {
  return file.replace(/^.*[\\/]/, '').replace(/\.(midi?|smf|rmi|kar)$/i, '') || 'Imported song';
}

/**
 * The step of each note in ticks of the song, found stretch by stretch: see `stepsOf`. Notes how each
 * stretch swings in it.
 */
function homesIn(
  stretches: readonly Stretch[],
  notes: SourceNotes,
  scale: number,
  tempos: readonly TempoChange[],
): Float64Array {
  const homes = new Float64Array(notes.length);
  const ticks = new Float64Array(notes.length);
  for (let i = 0; i < notes.length; i++) ticks[i] = notes.ticks[i] * scale;
  const played = { ticks, notes: notes.notes };
  let from = 0;
  let tempo = 0;
  stretches.forEach((stretch, index) => {
    const last = index === stretches.length - 1;
    let to = from;
    while (to < notes.length && (last || ticks[to] < stretch.end)) to++;
    while (tempo + 1 < tempos.length && tempos[tempo + 1].at <= stretch.start) tempo++;
    const found = stepsOf(played, { from, to }, stretch, tempos[tempo].bpm);
    homes.set(found.homes, from);
    if (found.swing) stretch.swing = found.swing;
    from = to;
  });
  return homes;
}

function temposOf(
  tracks: readonly SourceTrack[],
  scale: number,
  report: ImportReport,
): TempoChange[] {
  const byTick = new Map<Ticks, number>([[0, 120]]);
  let bounded = 0;
  const sorted = tracks.flatMap((t) => t.tempos).sort((a, b) => a.tick - b.tick);
  for (const { tick, microseconds } of sorted) {
    const bpm = 60e6 / microseconds;
    const kept = Math.max(MIN_BPM, Math.min(MAX_BPM, bpm));
    if (kept !== bpm) bounded++;
    byTick.set(tick * scale, kept);
  }
  if (bounded > 0) {
    report.repaired.push(
      `${count(bounded, 'tempo')} outside ${MIN_BPM} to ${MAX_BPM} beats a minute brought within.`,
    );
  }
  return [...byTick].map(([at, bpm]) => ({ at, bpm }));
}

function reportUnderstood(
  report: ImportReport,
  parts: readonly Part[],
  notes: SourceNotes,
  tempo: readonly TempoChange[],
): void {
  const stretches = parts.flatMap((part) => part.stretches);
  const bars = stretches.reduce((sum, { bars: n }) => sum + n, 0);
  const meters = [...new Set(stretches.map(({ meter }) => meterName(meter)))].join(', ');
  report.understood.push(`${count(notes.length, 'hit')} in ${count(bars, 'bar')} of ${meters}.`);
  report.understood.push(
    tempo.length === 1
      ? `Tempo ${Number(tempo[0].bpm.toFixed(2))}.`
      : `${count(tempo.length, 'tempo')}, from ${Number(tempo[0].bpm.toFixed(2))} on.`,
  );
  const used: boolean[] = [];
  for (let i = 0; i < notes.length; i++) used[notes.notes[i]] = true;
  const other = Object.keys(used)
    .map((note) => pieceOfNote(Number(note)).piece)
    .filter((piece) => piece.family === 'other');
  if (other.length > 0) {
    const names = other.map((piece) => piece.name).sort();
    report.understood.push(
      `Outside General MIDI, kept as pieces of their own: ${names.join(', ')}.`,
    );
  }
  const untaken = report.sources.filter((source) => !source.taken);
  for (const { track, trackName, channel, hits } of untaken) {
    const what = trackName ? `Track ${track}, “${trackName}”` : `Track ${track}`;
    report.leftOut.push(`${what}, channel ${channel + 1}: ${count(hits, 'note')} not chosen.`);
  }
}
