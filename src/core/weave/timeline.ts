import type { Channel, Ticks, Velocity } from '../time/units';
import { DRUM_CHANNEL } from '../time/units';
import type { PieceId } from '../model/pieces';
import type { Hit, Pattern, Song, Span } from '../model/song';
import { laidPlaces, type LaidPlace } from './sections';

/** A hit where it sounds in the song. */
export interface TimedHit {
  /** When it sounds, in ticks from the start of the song; at least 0. */
  tick: Ticks;
  /** The step it belongs to, in ticks from the start of the song. */
  home: Ticks;
  piece: PieceId;
  articulation: string;
  velocity: Velocity;
  /** How long its MIDI note is held; absent means "as short as a drum note is". */
  length: Ticks | undefined;
  channel: Channel;
  /** The hit, pattern and place it comes from. */
  hit: string;
  pattern: string;
  place: string;
}

interface OrderedHit {
  piece: PieceId;
  hit: Hit;
}

const orderedCache = new WeakMap<Pattern, OrderedHit[]>();

/** The hits of a pattern in the order they sound, over all strands. */
function orderedHits(pattern: Pattern): OrderedHit[] {
  let ordered = orderedCache.get(pattern);
  if (!ordered) {
    ordered = [];
    for (const { piece, hits } of pattern.strands) {
      for (const hit of hits) ordered.push({ piece, hit });
    }
    ordered.sort((a, b) => a.hit.at + a.hit.push - (b.hit.at + b.hit.push));
    orderedCache.set(pattern, ordered);
  }
  return ordered;
}

/** What a block was computed from; while all of it is the same, the block is too. */
interface Block {
  section: LaidPlace['section'];
  start: Ticks;
  patterns: (Pattern | undefined)[];
  hits: TimedHit[];
}

const blockCache = new WeakMap<LaidPlace['place'], Block>();

function blockOf(laid: LaidPlace, patterns: ReadonlyMap<string, Pattern>): TimedHit[] {
  const { place, section, start } = laid;
  const spans = place.overlay.length ? [...section.spans, ...place.overlay] : section.spans;
  const cached = blockCache.get(place);
  if (
    cached?.section === section &&
    cached.start === start &&
    spans.every((span, i) => cached.patterns[i] === patterns.get(span.pattern))
  ) {
    return cached.hits;
  }
  const hits: TimedHit[] = [];
  spans.forEach((span, i) => {
    const pattern = patterns.get(span.pattern);
    if (pattern) layHits(hits, pattern, span, spans.slice(i + 1), laid);
  });
  sortByTick(hits);
  blockCache.set(place, {
    section,
    start,
    patterns: spans.map((span) => patterns.get(span.pattern)),
    hits,
  });
  return hits;
}

/** Lays the hits of one span, but for those that a span further up replaces. */
function layHits(
  out: TimedHit[],
  pattern: Pattern,
  span: Span,
  above: readonly Span[],
  { place, start }: LaidPlace,
): void {
  const covering = above.filter(
    (other) => other.mode === 'replace' && other.from < span.to && other.to > span.from,
  );
  const wanted = span.pieces === 'all' ? undefined : new Set(span.pieces);
  const ordered = orderedHits(pattern);
  let round = span.from - (span.offset % pattern.length);
  for (; round < span.to; round += pattern.length) {
    for (const { piece, hit } of ordered) {
      const home = round + hit.at;
      if (home < span.from || home >= span.to) continue;
      if (wanted && !wanted.has(piece)) continue;
      if (covering.length > 0 && covering.some((other) => covers(other, piece, home))) continue;
      out.push({
        tick: Math.max(0, start + home + hit.push),
        home: start + home,
        piece,
        articulation: hit.articulation,
        velocity: hit.velocity,
        length: hit.length,
        channel: hit.channel ?? DRUM_CHANNEL,
        hit: hit.id,
        pattern: pattern.id,
        place: place.id,
      });
    }
  }
}

export function covers(span: Span, piece: PieceId, at: Ticks): boolean {
  return at >= span.from && at < span.to && (span.pieces === 'all' || span.pieces.includes(piece));
}

/** Stable, and linear for the nearly ordered lists that blocks and their joins are. */
function sortByTick(hits: TimedHit[]): void {
  let late = 0;
  for (let i = 1; i < hits.length; i++) if (hits[i].tick < hits[i - 1].tick) late++;
  if (late === 0) return;
  if (late > 32) {
    hits.sort((a, b) => a.tick - b.tick);
    return;
  }
  for (let i = 1; i < hits.length; i++) {
    const hit = hits[i];
    let j = i - 1;
    while (j >= 0 && hits[j].tick > hit.tick) {
      hits[j + 1] = hits[j];
      j--;
    }
    hits[j + 1] = hit;
  }
}

const timelineCache = new WeakMap<Song, TimedHit[]>();

/**
 * Every hit of the song in the order it sounds: the stacks of spans resolved, overlays on top.
 * A hit belongs to a span by its step, so one that is played early goes with its own bar.
 * Places that an edit did not touch are not computed again.
 */
export function timeline(song: Song): TimedHit[] {
  const cached = timelineCache.get(song);
  if (cached) return cached;
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const blocks = laidPlaces(song).map((laid) => blockOf(laid, patterns));
  const hits = ([] as TimedHit[]).concat(...blocks);
  sortByTick(hits);
  timelineCache.set(song, hits);
  return hits;
}
