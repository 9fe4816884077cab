import { byStaffOrder, pieceOfNote, type PieceId } from '../model/pieces';
import {
  DYE_COUNT,
  SECTION_KINDS,
  SONG_FORMAT,
  type Hit,
  type Origin,
  type Pattern,
  type Section,
  type SectionKind,
  type Song,
  type Span,
} from '../model/song';
import { barTicks, meterName } from '../time/meter';
import { STEP_RATES } from '../time/steps';
import { MAX_BPM, MIN_BPM, type TempoChange } from '../time/tempo';
import { DRUM_CHANNEL, PPQ, type Ticks } from '../time/units';
import { count, readFrame } from './chunks';
import { stretchesOf, type Stretch } from './layout';
import { emptyReport, type DrumSource, type ImportReport } from './report';
import { readTrack, type SourceNote, type SourceTrack } from './track';

export interface ImportOptions {
  /** Ids of the sources to take, from the report of an earlier reading. Absent: the likely drums. */
  sources?: readonly string[];
}

/** A song read from a file, or no song and a report whose `error` says why. */
export interface Imported {
  song?: Song;
  report: ImportReport;
}

/** Hits further into a song are left out: a damaged wait between two events can claim millions. */
const MAX_QUARTERS = 40_000;

/** Longer stretches are written as several patterns of this many bars. */
const LONG_STRETCH_BARS = 16;
const PATTERN_BARS = 8;

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
  const tracks = frame.tracks.map(readTrack);
  tracks.forEach((track, i) => reportTrack(track, i, frame.ppq, report));
  report.sources = sourcesOf(tracks, options.sources);
  const notes = takenNotes(tracks, report.sources);
  if (notes.length === 0) {
    const any = report.sources.length > 0;
    report.error = any
      ? `No part of “${name}” was chosen; choose at least one to take its hits.`
      : `“${name}” holds no notes${report.repaired.length ? ' that could be read' : ''}: there are no hits to take.`;
    return { report };
  }
  const song = songOf(tracks, notes, frame.ppq, name, report);
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
  if (track.ignored > 0) {
    report.leftOut.push(`${what}: ${count(track.ignored, 'event')} that are not hits.`);
  }
}

/** All tracks and channels with notes; the likely drums are preselected. */
function sourcesOf(tracks: readonly SourceTrack[], wanted?: readonly string[]): DrumSource[] {
  const sources = tracks.flatMap((track, index) => {
    const counts = new Array<number>(16).fill(0);
    for (const { channel } of track.notes) counts[channel]++;
    return counts.flatMap((hits, channel) =>
      hits === 0
        ? []
        : [
            {
              id: `${index}:${channel}`,
              trackName: track.name,
              track: index + 1,
              channel,
              hits,
              preselected: false,
              taken: false,
            },
          ],
    );
  });
  const onTen = sources.filter(({ channel }) => channel === DRUM_CHANNEL);
  const named = sources.filter(({ trackName }) => /drum|perc|\bkit\b/i.test(trackName));
  const likely = new Set([onTen, named, sources].find((list) => list.length > 0));
  return sources.map((source) => ({
    ...source,
    preselected: likely.has(source),
    taken: wanted ? wanted.includes(source.id) : likely.has(source),
  }));
}

function takenNotes(tracks: readonly SourceTrack[], sources: readonly DrumSource[]): SourceNote[] {
  const taken = new Set(sources.filter((s) => s.taken).map((s) => s.id));
  const notes = tracks.flatMap((track, index) => {
    const channels = sources.filter((s) => s.track === index + 1);
    if (channels.every((s) => s.taken)) return track.notes;
    return track.notes.filter((note) => taken.has(`${index}:${note.channel}`));
  });
  return notes.sort((a, b) => a.tick - b.tick);
}

function songOf(
  tracks: readonly SourceTrack[],
  allNotes: SourceNote[],
  ppq: number,
  file: string,
  report: ImportReport,
): Song {
  const scale = PPQ / ppq;
  const limit = MAX_QUARTERS * ppq;
  const notes =
    allNotes[allNotes.length - 1].tick < limit
      ? allNotes
      : allNotes.filter(({ tick }) => tick < limit);
  if (notes.length < allNotes.length) {
    report.leftOut.push(
      `${count(allNotes.length - notes.length, 'hit')} more than ${MAX_QUARTERS.toLocaleString('en')} quarter notes into the song.`,
    );
  }
  report.hits = notes.length;
  const step = stepOf(notes, scale);
  const lastHit = (notes.at(-1)?.tick ?? 0) * scale;
  const stretches = stretchesOf(tracks, ppq, lastHit, report.repaired);
  const origin: Origin = { file, ppq };
  const loom = new Loom(origin, step, scale);
  for (const stretch of stretches) loom.add(stretch);
  loom.layNotes(notes);
  const tempo = temposOf(tracks, scale, report);
  const titled = songName(file);
  const { patterns, sections, places } = loom.woven(titled);
  reportUnderstood(report, stretches, notes, tempo);
  return {
    format: SONG_FORMAT,
    id: 'imported',
    name: titled,
    tempo,
    places,
    sections,
    patterns,
    origin,
  };
}

function songName(file: string): string {
  return file.replace(/^.*[\\/]/, '').replace(/\.(midi?|smf|rmi|kar)$/i, '') || 'Imported song';
}

/**
 * The step rate the notes were most likely written at: the coarsest of the common ones that most
 * notes are near to and on which no drum is struck twice in a step.
 */
function stepOf(notes: readonly SourceNote[], scale: number): Ticks {
  const rates = ['1/16', '1/8 triplet', '1/16 triplet', '1/32', '1/32 triplet'];
  let best = { step: 240, cost: Infinity };
  for (const name of rates) {
    const step = STEP_RATES.find((rate) => rate.name === name)!.ticks;
    const last = new Float64Array(128).fill(-1);
    let off = 0;
    let doubled = 0;
    for (const { tick, note } of notes) {
      const home = Math.round((tick * scale) / step);
      off += Math.abs(tick * scale - home * step);
      if (last[note] === home) doubled++;
      last[note] = home;
    }
    const cost = off / notes.length / step + (3 * doubled) / notes.length;
    // A tenth of a step is what hands stray by; a finer rate has to be clearly better than that.
    if (cost < 0.1) return step;
    if (cost < best.cost) best = { step, cost };
  }
  return best.step;
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
  stretches: readonly Stretch[],
  notes: readonly SourceNote[],
  tempo: readonly TempoChange[],
): void {
  const bars = stretches.reduce((sum, { bars: n }) => sum + n, 0);
  const meters = [...new Set(stretches.map(({ meter }) => meterName(meter)))].join(', ');
  report.understood.push(`${count(notes.length, 'hit')} in ${count(bars, 'bar')} of ${meters}.`);
  report.understood.push(
    tempo.length === 1
      ? `Tempo ${Number(tempo[0].bpm.toFixed(2))}.`
      : `${count(tempo.length, 'tempo')}, from ${Number(tempo[0].bpm.toFixed(2))} on.`,
  );
  const other = new Set(
    notes.map(({ note }) => pieceOfNote(note).piece).filter((p) => p.family === 'other'),
  );
  if (other.size > 0) {
    const names = [...other].map((piece) => piece.name).sort();
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

/** A pattern in the making: its strands by note, and where it lies in the song. */
interface Warp {
  start: Ticks;
  end: Ticks;
  stretch: number;
  strands: Map<PieceId, Hit[]>;
}

/** Turns stretches and notes into patterns, sections and places. */
class Loom {
  private readonly warps: Warp[] = [];
  private readonly stretches: Stretch[] = [];

  constructor(
    private readonly origin: Origin,
    private readonly step: Ticks,
    private readonly scale: number,
  ) {}

  add(stretch: Stretch): void {
    const index = this.stretches.push(stretch) - 1;
    const bar = barTicks(stretch.meter);
    const piece = stretch.bars > LONG_STRETCH_BARS ? PATTERN_BARS : stretch.bars;
    for (let from = 0; from < stretch.bars; from += piece) {
      const start = stretch.start + from * bar;
      const end = Math.min(stretch.end, start + piece * bar);
      this.warps.push({ start, end, stretch: index, strands: new Map() });
    }
  }

  /** @param notes ordered by tick */
  layNotes(notes: readonly SourceNote[]): void {
    let index = 0;
    notes.forEach(({ tick, note, velocity, duration, channel }, i) => {
      const sounds = tick * this.scale;
      while (index + 1 < this.warps.length && sounds >= this.warps[index + 1].start) index++;
      let warp = this.warps[index];
      let at = Math.round((sounds - warp.start) / this.step) * this.step;
      if (warp.start + at >= warp.end) {
        // Played a little before the bar line: it belongs to the bar after it, if there is one.
        const next = this.warps[index + 1];
        if (next) {
          warp = next;
          at = 0;
        } else {
          at = (Math.ceil((warp.end - warp.start) / this.step) - 1) * this.step;
        }
      }
      const { piece, articulation } = pieceOfNote(note);
      const hit: Hit = {
        id: `h${i}`,
        at,
        push: sounds - (warp.start + at),
        velocity,
        articulation: articulation.id,
        length: duration * this.scale,
      };
      if (channel !== DRUM_CHANNEL) hit.channel = channel;
      const hits = warp.strands.get(piece.id);
      if (hits) hits.push(hit);
      else warp.strands.set(piece.id, [hit]);
    });
  }

  /** Stretches that are alike in name and hits become one section in several places. */
  woven(title: string): Pick<Song, 'patterns' | 'sections' | 'places'> {
    const patterns: Pattern[] = [];
    const sections: Section[] = [];
    const places: Song['places'] = [];
    const patternByHits = new Map<number, Pattern[]>();
    this.stretches.forEach((stretch, index) => {
      const name = stretch.name ?? (this.stretches.length > 1 ? `Part ${index + 1}` : title);
      const warps = this.warps.filter((warp) => warp.stretch === index);
      const spans = warps.flatMap((warp, part): Span[] => {
        if (warp.strands.size === 0) return [];
        const made = this.patternOf(
          warp,
          warps.length > 1 ? `${name}, ${part + 1}` : name,
          patterns.length,
          stretch,
        );
        const key = hashOf(made);
        const alike = patternByHits.get(key) ?? [];
        let pattern = alike.find((other) => sameHits(other, made));
        if (!pattern) {
          pattern = made;
          patterns.push(made);
          patternByHits.set(key, [...alike, made]);
        }
        const from = warp.start - stretch.start;
        return [
          {
            pieces: 'all',
            from,
            to: from + (warp.end - warp.start),
            pattern: pattern.id,
            offset: 0,
            mode: 'replace',
          },
        ];
      });
      const { meter, bars } = stretch;
      const twin = sections.find(
        (section) =>
          section.name === name &&
          section.bars === bars &&
          meterName(section.meter) === meterName(meter) &&
          section.spans.length === spans.length &&
          section.spans.every((span, i) => span.pattern === spans[i].pattern),
      );
      const section: Section = twin ?? {
        id: `s${sections.length + 1}`,
        name,
        kind: kindOf(name),
        meter,
        bars,
        spans,
      };
      if (!twin) sections.push(section);
      places.push({ id: `p${index + 1}`, section: section.id, overlay: [] });
    });
    return { patterns, sections, places };
  }

  private patternOf(warp: Warp, name: string, index: number, { meter }: Stretch): Pattern {
    const strands = [...warp.strands].map(([piece, hits]) => ({
      piece,
      // A hit can belong to an earlier step than one that sounds before it; order by step.
      hits: hits.every((hit, i) => i === 0 || hits[i - 1].at <= hit.at)
        ? hits
        : [...hits].sort((a, b) => a.at - b.at),
    }));
    strands.sort((a, b) => byStaffOrder(a.piece, b.piece));
    return {
      id: `m${index + 1}`,
      name,
      kind: 'groove',
      meter,
      length: warp.end - warp.start,
      step: this.step,
      strands,
      dye: index % DYE_COUNT,
      origin: this.origin,
    };
  }
}

/** The kind a section's name speaks of; a plain part when it speaks of none. */
function kindOf(name: string): SectionKind {
  const lower = name.toLowerCase();
  return SECTION_KINDS.find((kind) => lower.includes(kind)) ?? 'part';
}

/** A number that patterns with the same hits share. */
function hashOf(pattern: Pattern): number {
  let hash = pattern.length;
  for (const { hits } of pattern.strands) {
    for (const { at, velocity } of hits) hash = (Math.imul(hash, 31) + at * 128 + velocity) | 0;
  }
  return hash;
}

function sameHits(a: Pattern, b: Pattern): boolean {
  return (
    a.length === b.length &&
    meterName(a.meter) === meterName(b.meter) &&
    a.strands.length === b.strands.length &&
    a.strands.every(({ piece, hits }, s) => {
      const other = b.strands[s];
      return (
        piece === other.piece &&
        hits.length === other.hits.length &&
        hits.every((hit, i) => sameHit(hit, other.hits[i]))
      );
    })
  );
}

function sameHit(a: Hit, b: Hit): boolean {
  return (
    a.at === b.at &&
    a.push === b.push &&
    a.velocity === b.velocity &&
    a.articulation === b.articulation &&
    a.length === b.length &&
    a.channel === b.channel
  );
}
