import { sectionOf, type Pattern, type PieceId, type Song } from '../model';
import { passesOf } from '../pattern';
import { barTicks, type Ticks } from '../time';
import { auditioned, type Candidate } from './audition';
import { guideStart } from './guideStart';
import { laidPlaces } from './sections';
import type { Opened } from './inPlace';
import { editAt } from './reach';
import { firstStartOf } from './where';
import { WOVEN } from './woven';

/**
 * The whole song as it would be if it were nothing but one pattern, at the song's tempo.
 * @param passes how often it is played
 * @param at where in the song it is heard: the guides are those from there on; absent is without guides
 */
export function songOfPattern(song: Song, pattern: Pattern, passes = 1, at?: Ticks): Song {
  const length = pattern.length * passes;
  const bars = Math.max(1, Math.ceil(length / barTicks(pattern.meter)));
  const section = sectionOf(pattern, { id: 'whole', name: pattern.name, kind: 'part', bars });
  const [whole] = section.spans;
  return {
    ...song,
    name: pattern.name,
    sections: [{ ...section, spans: [{ ...whole, anchor: 'start', from: 0, to: length }] }],
    places: [{ id: 'whole', section: 'whole', overlay: [] }],
    patterns: [pattern],
    guides: at === undefined ? [] : guidesFrom(song, at),
    offcuts: [],
    origin: pattern.origin ?? song.origin,
  };
}

/** The guides as they are heard from a tick of the song on. */
function guidesFrom(song: Song, tick: Ticks): Song['guides'] {
  return song.guides.map((guide) => {
    const { place: _, ...rest } = guide;
    const start = guideStart(song, guide);
    const notes = guide.notes
      .map((note) => ({ ...note, at: start + note.at - tick }))
      .filter(({ at }) => at >= 0);
    return { ...rest, at: 0, notes };
  });
}

/** The longest loop of a pattern whose passes differ, in bars. */
const LONGEST_BARS = 512;

/** Passes of a pattern until everything in it was heard, as far as a loop may be long. */
export function heardPasses(pattern: Pattern): number {
  const most = Math.max(1, Math.floor((LONGEST_BARS * barTicks(pattern.meter)) / pattern.length));
  return Math.min(most, passesOf(pattern));
}

/** Strands that are not heard, or heard alone, while they are worked on. */
export interface Hushed {
  muted: readonly PieceId[];
  soloed: readonly PieceId[];
}

/** The strands of a pattern that are not heard. */
export function silentRows(pattern: Pattern, { muted, soloed }: Hushed): ReadonlySet<PieceId> {
  const pieces = pattern.strands.map((strand) => strand.piece);
  const alone = pieces.filter((piece) => soloed.includes(piece));
  return new Set(
    pieces.filter((piece) => muted.includes(piece) || (alone.length > 0 && !alone.includes(piece))),
  );
}

/** The pattern without the strands that are muted, or not soloed. */
export function heardStrands(pattern: Pattern, hushed: Hushed): Pattern {
  const silent = silentRows(pattern, hushed);
  if (silent.size === 0) return pattern;
  const strands = pattern.strands.map((s) => (silent.has(s.piece) ? { ...s, hits: [] } : s));
  return { ...pattern, strands };
}

/** A stretch of time, in ticks. */
export interface Range {
  from: Ticks;
  to: Ticks;
}

/** What someone listens to. */
export interface Listening extends Hushed {
  hear: 'pattern' | 'song';
  /** The pattern that is looked at. */
  pattern?: Pattern;
  /** Where in the song it was opened. */
  opened?: Opened;
  candidate?: Candidate;
  /** The place that is chosen. */
  place?: string;
  /** Loops of the song and of the pattern; a pattern without one loops whole. */
  songLoop?: Range;
  patternLoop?: Range;
}

/** Where a candidate is tried: the loop of the song, or else the place that is chosen. */
export function auditionRegion(song: Song, { songLoop, place }: Listening): Range | undefined {
  if (songLoop) return songLoop;
  const laid = laidPlaces(song);
  const here = laid.find((one) => one.place.id === place) ?? laid[0];
  return here && { from: here.start, to: here.end };
}

/** Where in the song what is looked at begins: where it was opened, or where it is first played. */
export function startOf(song: Song, pattern: Pattern, opened: Opened | undefined): Ticks {
  const laid = opened && laidPlaces(song).find(({ place }) => place.id === opened.place);
  return laid && opened ? laid.start + opened.from : firstStartOf(song, pattern.id);
}

/** What is heard: the song, one pattern of it, or either with a candidate in its place. */
export function heardSong(song: Song, listening: Listening): Song {
  const { hear, pattern, candidate } = listening;
  if (candidate) {
    const region = auditionRegion(song, listening);
    if (hear === 'song' && region) return auditioned(song, candidate, region.from, region.to);
    const { pieces } = candidate;
    const strands = candidate.pattern.strands.filter((s) => !pieces || pieces.includes(s.piece));
    return songOfPattern(song, { ...candidate.pattern, strands }, heardPasses(candidate.pattern));
  }
  if (!pattern) return song;
  const heard = heardStrands(pattern, listening);
  if (hear === 'pattern') {
    return songOfPattern(
      song,
      heard,
      heardPasses(pattern),
      startOf(song, pattern, listening.opened),
    );
  }
  if (heard === pattern) return song;
  if (pattern.id === WOVEN && listening.opened) {
    const muted = editAt(song, listening.opened, 'place', () => heard);
    return typeof muted === 'string' ? song : muted;
  }
  return { ...song, patterns: song.patterns.map((p) => (p === pattern ? heard : p)) };
}

/** The loop that holds for what is heard; a pattern always loops. */
export function heardLoop(song: Song, listening: Listening): Range | undefined {
  const { hear, pattern, candidate, songLoop, patternLoop } = listening;
  const whole = (of: Pattern) => ({ from: 0, to: of.length * heardPasses(of) });
  if (candidate) {
    return hear === 'song' ? auditionRegion(song, listening) : whole(candidate.pattern);
  }
  if (hear === 'song') return songLoop;
  if (!pattern) return undefined;
  if (patternLoop && patternLoop.from < pattern.length) {
    return { from: patternLoop.from, to: Math.min(patternLoop.to, pattern.length) };
  }
  return whole(pattern);
}
