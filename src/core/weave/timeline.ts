import type { Hit, Pattern, PieceId, Song } from '../model';
import { Latest } from '../memo';
import { isFigure, soundsOn, strokesOf, swingOf, type Stroke } from '../pattern';
import { DRUM_CHANNEL, pushOfMs, type Channel, type Ticks, type Velocity } from '../time';
import { covers, laidPlaces, stackOf, type LaidPlace, type LaidSpan } from './sections';
import { tempoKey, tempoOfSong } from './tempo';

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
  /** One motion of a hand together with the next stroke of its hit, as the grace strokes of a drag are. */
  bounced?: true;
  /** The hit, pattern and place it comes from. */
  hit: string;
  pattern: string;
  place: string;
}

/** What is done to the sound of a stroke, in the units of `Hit`. */
export type Touch = Readonly<
  Pick<Hit, 'choke' | 'pan' | 'tune' | 'reverse' | 'swell' | 'room' | 'echo'>
>;

interface OrderedHit {
  piece: PieceId;
  articulation: string;
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

/**
 * What was computed of the patterns and places that were heard last, by their ids: undo keeps earlier
 * values alive, and must not keep what can be computed of them.
 */
const rounds = new Latest<Pattern, Round[]>(2, 2048);
const blocks = new Latest<Block, TimedHit[]>(3, 16_384);

/** The hits of a pattern in the order they sound, by how soon they come round. */
function roundsOf(pattern: Pattern): Round[] {
  return rounds.of(
    pattern.id,
    (known) => known === pattern,
    pattern,
    () => computeRounds(pattern),
  );
}

function computeRounds(pattern: Pattern): Round[] {
  const byPeriod = new Map<Ticks, OrderedHit[]>();
  for (const { piece, hits, loopTicks = pattern.length } of pattern.strands) {
    if (hits.length === 0) continue;
    let list = byPeriod.get(loopTicks);
    if (!list) byPeriod.set(loopTicks, (list = []));
    for (const hit of hits) {
      const offset = hit.push + swingOf(pattern, hit.at);
      const articulation = word(hit.articulation);
      list.push({
        piece: word(piece),
        articulation,
        hit,
        offset,
        touch: touchOf(hit),
        figure: isFigure(hit),
      });
    }
  }
  return [...byPeriod].map(([period, hits]) => {
    hits.sort((a, b) => a.hit.at + a.offset - (b.hit.at + b.offset));
    return { period, own: period !== pattern.length, hits };
  });
}

const words = new Map<string, string>();

/**
 * The same string for the same letters: what came out of storage holds each anew, and strings that are
 * one are told apart, and looked up, without being read.
 */
function word(letters: string): string {
  const known = words.get(letters);
  if (known !== undefined) return known;
  words.set(letters, letters);
  return letters;
}

function touchOf({ choke, pan, tune, reverse, swell, room, echo }: Hit): Touch | undefined {
  return choke || pan || tune || reverse || swell || room || echo
    ? { choke, pan, tune, reverse, swell, room, echo }
    : undefined;
}

/** What the hits of a place are computed from; while all of it is the same, the hits are too. */
interface Block {
  place: LaidPlace['place'];
  section: LaidPlace['section'];
  start: Ticks;
  patterns: (Pattern | undefined)[];
  /** Set where figures last so many milliseconds whatever the tempo. */
  tempo: unknown[] | undefined;
}

function blockOf(
  song: Song,
  laid: readonly LaidPlace[],
  index: number,
  patterns: ReadonlyMap<string, Pattern>,
): TimedHit[] {
  const { place, section, start } = laid[index];
  const spans = place.overlay.length ? [...section.spans, ...place.overlay] : section.spans;
  const isSame = (known: Block) =>
    known.place === place &&
    known.section === section &&
    known.start === start &&
    spans.every((span, i) => known.patterns[i] === patterns.get(span.pattern)) &&
    (known.tempo === undefined ||
      tempoKey(song, laid, index).every((part, i) => part === known.tempo![i]));
  const block: Block = {
    place,
    section,
    start,
    patterns: spans.map((span) => patterns.get(span.pattern)),
    tempo: undefined,
  };
  return blocks.of(place.id, isSame, block, () => {
    const hits: TimedHit[] = [];
    const ticksPerMs = (tick: Ticks) => {
      block.tempo = tempoKey(song, laid, index);
      return pushOfMs(1, tempoOfSong(song).bpmAt(tick));
    };
    const stack = stackOf(laid[index]);
    stack.forEach((lies, i) => {
      const pattern = patterns.get(lies.span.pattern);
      if (pattern) layHits(hits, pattern, lies, stack.slice(i + 1), laid[index], ticksPerMs);
    });
    sortByTick(hits);
    return hits;
  });
}

/** Lays the hits of one span, but for those that a span further up replaces. */
function layHits(
  out: TimedHit[],
  pattern: Pattern,
  { span, from, to, offset: begins }: LaidSpan,
  above: readonly LaidSpan[],
  { place, start }: LaidPlace,
  ticksPerMs: (tick: Ticks) => number,
): void {
  const covering = above.filter(
    (other) => other.span.mode === 'replace' && other.from < to && other.to > from,
  );
  const wanted = span.pieces === 'all' ? undefined : new Set(span.pieces);
  for (const { period, own, hits } of roundsOf(pattern)) {
    let round = from - (begins % period);
    for (; round < to; round += period) {
      for (const { piece, articulation, hit, offset, touch, figure } of hits) {
        const home = round + hit.at;
        if (home < from || home >= to) continue;
        if (wanted && !wanted.has(piece)) continue;
        if (covering.length > 0 && covering.some((other) => covers(other, piece, home))) continue;
        const inPass = home - from + begins;
        if (hit.cycle && !soundsOn(hit, Math.floor(inPass / pattern.length))) continue;
        const by = own ? hit.push + swingOf(pattern, inPass % pattern.length) : offset;
        const timed: TimedHit = {
          tick: Math.max(0, start + home + by),
          home: start + home,
          piece,
          articulation,
          velocity: hit.velocity,
          length: hit.length,
          channel: hit.source ?? DRUM_CHANNEL,
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

/** A figure as the strokes it is played as; a swell leads up to the first, a choke stops the last of them. */
function playedAs(timed: TimedHit, strokes: readonly Stroke[]): TimedHit[] {
  const { touch } = timed;
  return strokes.map(({ by, velocity }, i) => {
    const tick = Math.max(0, timed.tick + by);
    const length = by < 0 || strokes.length - 1 > i ? undefined : timed.length;
    const stroke: TimedHit = { ...timed, tick, velocity, length };
    if (by < 0 && strokes[i + 1].by < 0) stroke.bounced = true;
    if (!touch?.choke && !touch?.swell) return stroke;
    const last = i === strokes.length - 1;
    const choke = last && touch.choke ? Math.max(1, touch.choke - by) : undefined;
    const swell = i === 0 ? touch.swell : undefined;
    return { ...stroke, touch: { ...touch, choke, swell } };
  });
}

/** So many hits are put in their place one by one; more are sorted with all others. */
const FEW = 32;

/** Stable, and linear for the nearly ordered lists that blocks and their joins are. */
function sortByTick(hits: TimedHit[]): void {
  let late = 0;
  for (let i = 1; i < hits.length; i++) if (hits[i].tick < hits[i - 1].tick) late++;
  if (late === 0) return;
  if (late > FEW) {
    hits.sort((a, b) => a.tick - b.tick);
    return;
  }
  for (let i = 1; i < hits.length; i++) sink(hits, i);
}

/** Moves a hit down to where it belongs among those before it, which are in order. */
function sink(hits: TimedHit[], i: number): void {
  const hit = hits[i];
  let j = i - 1;
  for (; j >= 0 && hits[j].tick > hit.tick; j--) hits[j + 1] = hits[j];
  hits[j + 1] = hit;
}

/**
 * The hits of all places in one order, from those of each in order. Only what is played early or late
 * over the line between two places has to find its place among the others, so that joining looks at a
 * few hits a place and not at every one.
 */
function joined(blocks: readonly TimedHit[][]): TimedHit[] {
  const hits = ([] as TimedHit[]).concat(...blocks);
  let start = 0;
  for (const { length } of blocks) {
    const latest = hits[start - 1]?.tick ?? 0;
    const end = start + length;
    let early = start;
    while (early < end && hits[early].tick < latest) early++;
    if (early - start > FEW) return hits.sort((a, b) => a.tick - b.tick);
    for (let i = start; i < early; i++) sink(hits, i);
    start = end;
  }
  return hits;
}

/** Whole timelines, of the few songs that were asked for last. */
const timelines = new Latest<Song, TimedHit[]>(4, 1);

/**
 * Every hit of the song in the order it sounds: the stacks of spans resolved, overlays on top.
 * A hit belongs to a span by its step, so one that is played early goes with its own bar.
 * Places that an edit did not touch are not computed again.
 */
export function timeline(song: Song): TimedHit[] {
  return timelines.of(
    '',
    (known) => soundsAs(known, song),
    song,
    () => {
      return joined(hitsByPlace(song));
    },
  );
}

/**
 * The hits of each place in the order they sound. While nothing of a place changed it is the very same
 * list, so that what is computed of it can be kept.
 */
export function hitsByPlace(song: Song): TimedHit[][] {
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const laid = laidPlaces(song);
  return laid.map((_, i) => blockOf(song, laid, i, patterns));
}

/** Whether two songs have the same hits: all that decides them is the very same. */
function soundsAs(a: Song, b: Song): boolean {
  return (
    a.places === b.places &&
    a.sections === b.sections &&
    a.patterns === b.patterns &&
    a.bpm === b.bpm
  );
}
