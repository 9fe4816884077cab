import type { Channel, Ticks, Velocity } from '../time/units';
import { DRUM_CHANNEL, PPQ } from '../time/units';
import type { PieceId } from '../model/pieces';
import type { Hit, Pattern, Song, Span } from '../model/song';
import { soundsOn } from '../pattern/cycle';
import { isFigure, strokesOf, type Stroke } from '../pattern/figure';
import { swungBy } from '../pattern/swing';
import { tempoMapOf } from '../time/tempo';
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
  /** What is done to its sound; absent for most. */
  touch: Touch | undefined;
  /** The hit, pattern and place it comes from. */
  hit: string;
  pattern: string;
  place: string;
}

/** What is done to the sound of a stroke, in the units of `Hit`. */
export type Touch = Readonly<Pick<Hit, 'choke' | 'pan' | 'tune' | 'reverse' | 'room' | 'echo'>>;

interface OrderedHit {
  piece: PieceId;
  hit: Hit;
  /** From its step to where it sounds, swing included; not for strands with their own loop. */
  offset: Ticks;
  touch: Touch | undefined;
  figure: boolean;
}

/** Strands that come round after the same time. */
interface Round {
  period: Ticks;
  /** Whether the period is a strand's own. */
  own: boolean;
  hits: OrderedHit[];
}

const roundsCache = new WeakMap<Pattern, Round[]>();

/** The hits of a pattern in the order they sound, by how soon they come round. */
function roundsOf(pattern: Pattern): Round[] {
  const cached = roundsCache.get(pattern);
  if (cached) return cached;
  const byPeriod = new Map<Ticks, OrderedHit[]>();
  for (const { piece, hits, loopTicks = pattern.length } of pattern.strands) {
    if (hits.length === 0) continue;
    let list = byPeriod.get(loopTicks);
    if (!list) byPeriod.set(loopTicks, (list = []));
    for (const hit of hits) {
      const offset = hit.push + swungBy(hit.at, pattern.swing);
      list.push({ piece, hit, offset, touch: touchOf(hit), figure: isFigure(hit) });
    }
  }
  const rounds = [...byPeriod].map(([period, hits]) => {
    hits.sort((a, b) => a.hit.at + a.offset - (b.hit.at + b.offset));
    return { period, own: period !== pattern.length, hits };
  });
  roundsCache.set(pattern, rounds);
  return rounds;
}

function touchOf({ choke, pan, tune, reverse, room, echo }: Hit): Touch | undefined {
  return choke || pan || tune || reverse || room || echo
    ? { choke, pan, tune, reverse, room, echo }
    : undefined;
}

/** What a block was computed from; while all of it is the same, the block is too. */
interface Block {
  section: LaidPlace['section'];
  start: Ticks;
  patterns: (Pattern | undefined)[];
  /** Set where figures last so many milliseconds whatever the tempo. */
  tempo: Song['tempo'] | undefined;
  hits: TimedHit[];
}

const blockCache = new WeakMap<LaidPlace['place'], Block>();

function blockOf(
  laid: LaidPlace,
  patterns: ReadonlyMap<string, Pattern>,
  tempo: Song['tempo'],
): TimedHit[] {
  const { place, section, start } = laid;
  const spans = place.overlay.length ? [...section.spans, ...place.overlay] : section.spans;
  const cached = blockCache.get(place);
  if (
    cached?.section === section &&
    cached.start === start &&
    (cached.tempo === undefined || cached.tempo === tempo) &&
    spans.every((span, i) => cached.patterns[i] === patterns.get(span.pattern))
  ) {
    return cached.hits;
  }
  const hits: TimedHit[] = [];
  let figures = false;
  const ticksPerMs = (tick: Ticks) => {
    figures = true;
    return (tempoMapOf(tempo).bpmAt(tick) * PPQ) / 60_000;
  };
  spans.forEach((span, i) => {
    const pattern = patterns.get(span.pattern);
    if (pattern) layHits(hits, pattern, span, spans.slice(i + 1), laid, ticksPerMs);
  });
  sortByTick(hits);
  blockCache.set(place, {
    section,
    start,
    patterns: spans.map((span) => patterns.get(span.pattern)),
    tempo: figures ? tempo : undefined,
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
  ticksPerMs: (tick: Ticks) => number,
): void {
  const covering = above.filter(
    (other) => other.mode === 'replace' && other.from < span.to && other.to > span.from,
  );
  const wanted = span.pieces === 'all' ? undefined : new Set(span.pieces);
  for (const { period, own, hits } of roundsOf(pattern)) {
    let round = span.from - (span.offset % period);
    for (; round < span.to; round += period) {
      for (const { piece, hit, offset, touch, figure } of hits) {
        const home = round + hit.at;
        if (home < span.from || home >= span.to) continue;
        if (wanted && !wanted.has(piece)) continue;
        if (covering.length > 0 && covering.some((other) => covers(other, piece, home))) continue;
        const inPass = home - span.from + span.offset;
        if (hit.cycle && !soundsOn(hit, Math.floor(inPass / pattern.length))) continue;
        const by = own ? hit.push + swungBy(inPass % pattern.length, pattern.swing) : offset;
        const timed: TimedHit = {
          tick: Math.max(0, start + home + by),
          home: start + home,
          piece,
          articulation: hit.articulation,
          velocity: hit.velocity,
          length: hit.length,
          channel: hit.channel ?? DRUM_CHANNEL,
          touch,
          hit: hit.id,
          pattern: pattern.id,
          place: place.id,
        };
        if (figure) out.push(...playedAs(timed, strokesOf(hit, ticksPerMs(timed.home))));
        else out.push(timed);
      }
    }
  }
}

/** A figure as the strokes it is played as; a choke stops the last of them. */
function playedAs(timed: TimedHit, strokes: readonly Stroke[]): TimedHit[] {
  const { touch } = timed;
  return strokes.map(({ by, velocity }, i) => {
    const tick = Math.max(0, timed.tick + by);
    const length = by < 0 || strokes.length - 1 > i ? undefined : timed.length;
    if (!touch?.choke) return { ...timed, tick, velocity, length };
    const choke = i === strokes.length - 1 ? Math.max(1, touch.choke - by) : undefined;
    return { ...timed, tick, velocity, length, touch: { ...touch, choke } };
  });
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
  const blocks = laidPlaces(song).map((laid) => blockOf(laid, patterns, song.tempo));
  const hits = ([] as TimedHit[]).concat(...blocks);
  sortByTick(hits);
  timelineCache.set(song, hits);
  return hits;
}
