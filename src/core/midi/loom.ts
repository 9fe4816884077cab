import {
  anchored,
  byStaffOrder,
  DYE_COUNT,
  kindNamed,
  pieceOfNote,
  spanOver,
  DEFAULT_KIT,
  type PieceId,
  type Hit,
  type Origin,
  type Pattern,
  type Section,
  type Song,
  type Span,
  type Strand,
} from '../model';
import { inStepOrder } from '../pattern';
import {
  barTicks,
  meterName,
  DEFAULT_STEP,
  DRUM_CHANNEL,
  sameMeter,
  STEP_RATES,
  swungBy,
  type Swing,
  type Meter,
  type MeterChange,
  type Ticks,
} from '../time';
import { namesOfSections } from '../weave';
import type { Part } from './layout';
import type { SourceNotes } from './notes';

/** Longer stretches are written as several patterns of this many bars. */
const LONG_STRETCH_BARS = 16;
const PATTERN_BARS = 8;

/** Ids of hits. The same strings serve every import: making them anew costs as much as the hits. */
const IDS: string[] = [];

/** A way to strike a piece. */
interface Way {
  piece: PieceId;
  articulation: string;
}

/**
 * Every way to strike something: those that notes say by their numbers, behind them those that no note
 * says by itself, as a half-open hat.
 */
const WAYS: readonly Way[] = [
  ...Array.from({ length: 128 }, (_, note) => {
    const { piece, articulation } = pieceOfNote(note);
    return { piece: piece.id, articulation: articulation.id };
  }),
  ...DEFAULT_KIT.pieces.flatMap(({ id: piece, articulations }) =>
    articulations
      .filter(({ id, note }) => pieceOfNote(note).articulation.id !== id)
      .map(({ id }) => ({ piece, articulation: id })),
  ),
];

/** The articulation of each way. */
const ARTICULATIONS = WAYS.map(({ articulation }) => articulation);

const numbers = new Map(
  WAYS.map(({ piece, articulation }, i) => [`${piece}/${articulation}`, i] as const),
);

/** Which of all ways a stroke is; undefined when the usual kit has none like it. */
export function wayOf(piece: PieceId, articulation: string): number | undefined {
  return numbers.get(`${piece}/${articulation}`);
}

const IN_STAFF_ORDER = WAYS.map((_, way) => way).sort((a, b) =>
  byStaffOrder(WAYS[a].piece, WAYS[b].piece),
);

/** A stroke that a source says the step of. */
export interface SourceStroke extends Pick<Hit, 'velocity' | 'flam' | 'burst'> {
  way: number;
  /** Ticks from the start of the song: its step, and when it sounds. */
  home: Ticks;
  tick: Ticks;
}

/** A pattern in the making: its hits by how they are struck, and where it lies in the song. */
interface Warp {
  start: Ticks;
  end: Ticks;
  part: number;
  meter: Meter;
  swing?: Swing;
  byWay: (Hit[] | undefined)[];
  /** How many of them are not on a sixteenth. */
  off: (number | undefined)[];
  empty: boolean;
  /** A number that stretches with the same hits share. */
  mark: number;
  /** Whether the hits came in the order of their steps, and the latest step so far. */
  inOrder: boolean;
  latest: Ticks;
}

/** Turns parts and notes into patterns, sections and places. */
export class Loom {
  private readonly warps: Warp[] = [];
  private readonly parts: Part[] = [];

  constructor(
    private readonly origin: Origin,
    private readonly scale: number,
  ) {}

  /** @param end where the music ends, where that is before the end of its last bar */
  add(part: Part, end = Infinity): void {
    const index = this.parts.push(part) - 1;
    for (const stretch of part.stretches) {
      const bar = barTicks(stretch.meter);
      const piece = stretch.bars > LONG_STRETCH_BARS ? PATTERN_BARS : stretch.bars;
      for (let from = 0; from < stretch.bars; from += piece) {
        const start = stretch.start + from * bar;
        this.warps.push({
          start,
          end: Math.min(stretch.end, start + piece * bar, end),
          part: index,
          meter: stretch.meter,
          ...(stretch.swing && { swing: stretch.swing }),
          byWay: new Array(WAYS.length),
          off: [],
          empty: true,
          mark: 0,
          inOrder: true,
          latest: 0,
        });
      }
    }
  }

  /**
   * @param source ordered by tick
   * @param homes the step of each note, in ticks of the song
   */
  layNotes(source: SourceNotes, homes: Float64Array): void {
    const { warps, scale } = this;
    const { ticks, durations, notes, velocities, channels, chokes, length } = source;
    let index = 0;
    for (let i = 0; i < length; i++) {
      const sounds = ticks[i] * scale;
      while (index + 1 < warps.length && sounds >= warps[index + 1].start) index++;
      let warp = warps[index];
      // The bars of odd meters are not whole ticks long: a hair before the first step is on it.
      let at = Math.max(0, homes[i] - warp.start) + 0;
      if (warp.start + at >= warp.end) {
        // Played a little before the bar line: it belongs to the bar after it, if there is one.
        const next = warps[index + 1];
        if (next) {
          warp = next;
          at = 0;
        } else {
          at = warp.end - warp.start - DEFAULT_STEP;
          if (at < 0) at = 0;
        }
      }
      const late = warp.swing ? swungBy(at, warp.swing, barTicks(warp.meter)) : 0;
      const hit: Hit = {
        id: (IDS[i] ??= `h${i}`),
        at,
        push: sounds - (warp.start + at + late),
        velocity: velocities[i],
        articulation: ARTICULATIONS[notes[i]],
        length: durations[i] * scale,
      };
      if (channels[i] !== DRUM_CHANNEL) hit.source = channels[i];
      const choke = chokes.size > 0 ? chokes.get(i) : undefined;
      if (choke !== undefined) hit.choke = choke * scale;
      lay(warp, notes[i], hit);
    }
  }

  /** @param source ordered by the steps they belong to */
  layStrokes(source: readonly SourceStroke[]): void {
    const { warps } = this;
    let index = 0;
    source.forEach(({ way, home, tick, velocity, flam, burst }, i) => {
      while (index + 1 < warps.length && home >= warps[index + 1].start) index++;
      const warp = warps[index];
      lay(warp, way, {
        id: (IDS[i] ??= `h${i}`),
        at: home - warp.start,
        push: tick - home,
        velocity,
        articulation: ARTICULATIONS[way],
        ...(flam && { flam }),
        ...(burst && { burst }),
      });
    });
  }

  /** Parts that are alike in name and hits become one section in several places. */
  woven(title: string): Pick<Song, 'patterns' | 'sections' | 'places'> {
    const patterns: Pattern[] = [];
    const sections: Section[] = [];
    const places: Song['places'] = [];
    const patternByHits = new Map<number, Pattern[]>();
    const sectionByLook = new Map<string, Section>();
    const names = new Map<string, number>();
    // Patterns of one name are told apart by a number.
    const called = (name: string) => {
      const times = (names.get(name) ?? 0) + 1;
      names.set(name, times);
      return times > 1 ? `${name} (${times})` : name;
    };
    const warpsOf = this.parts.map((): Warp[] => []);
    for (const warp of this.warps) warpsOf[warp.part].push(warp);
    const sectionNames = namesOfSections(this.parts.map(({ name }) => name ?? ''));
    const unnamed = (index: number) => (this.parts.length > 1 ? `Part ${index + 1}` : title);
    this.parts.forEach((part, index) => {
      const name = part.name === undefined ? unnamed(index) : sectionNames[index];
      const { start, end, bars, meters } = spread(part);
      const warps = warpsOf[index];
      const spans = warps.flatMap((warp, n): Span[] => {
        if (warp.empty) return [];
        const made = this.patternOf(warp, '', patterns.length);
        const key = warp.mark;
        const alike = patternByHits.get(key) ?? [];
        let pattern = alike.find((other) => sameHits(other, made));
        if (!pattern) {
          pattern = { ...made, name: called(warps.length > 1 ? barsOf(name, warp, part) : name) };
          patterns.push(pattern);
          patternByHits.set(key, [...alike, pattern]);
        }
        const from = warp.start - start;
        const place = anchored(from, from + (warp.end - warp.start), end - start);
        return [spanOver(pattern.id, `span-${n + 1}`, place)];
      });
      const laid = spans.map(({ pattern }) => pattern);
      const counted = meters.map(({ bar, meter }) => `${bar} ${meterName(meter)}`);
      const look = JSON.stringify([name, bars, counted, ...laid]);
      const twin = sectionByLook.get(look);
      const section: Section = twin ?? {
        id: `s${sections.length + 1}`,
        name,
        kind: kindNamed(name) ?? 'part',
        bars,
        meters,
        tempos: [],
        spans,
      };
      if (!twin) {
        sections.push(section);
        sectionByLook.set(look, section);
      }
      places.push({ id: `p${index + 1}`, section: section.id, overlay: [] });
    });
    return { patterns, sections, places };
  }

  private patternOf(warp: Warp, name: string, index: number): Pattern {
    const strands: Strand[] = [];
    const off: number[] = [];
    for (const way of IN_STAFF_ORDER) {
      const hits = warp.byWay[way];
      if (!hits) continue;
      const { piece } = WAYS[way];
      const ordered = warp.inOrder ? hits : inStepOrder(hits);
      const last = strands.at(-1);
      // Articulations of one piece are neighbours in staff order, and share its strand.
      if (last?.piece === piece) last.hits = mergedInOrder(last.hits, ordered);
      else off[strands.push({ piece, hits: ordered }) - 1] = 0;
      off[strands.length - 1] += warp.off[way] ?? 0;
    }
    const hits = strands.reduce((sum, strand) => sum + strand.hits.length, 0);
    const allOff = off.reduce((sum, some) => sum + some, 0);
    const step = isFew(allOff, hits) ? DEFAULT_STEP : stepFor(strands.flatMap((s) => s.hits));
    strands.forEach((strand, i) => {
      const isOnIt =
        step === DEFAULT_STEP ? isFew(off[i], strand.hits.length) : isOn(strand.hits, step);
      if (!isOnIt) strand.stepTicks = stepFor(strand.hits);
    });
    return {
      id: `m${index + 1}`,
      name,
      kind: 'groove',
      meter: warp.meter,
      length: warp.end - warp.start,
      step,
      ...(warp.swing && { swing: warp.swing }),
      strands,
      dye: index % DYE_COUNT,
      origin: this.origin,
    };
  }
}

/** A part's name with the bars of it that a pattern of several is of. */
function barsOf(name: string, { start, end }: Warp, { stretches }: Part): string {
  let from = 0;
  for (const stretch of stretches) {
    const bar = barTicks(stretch.meter);
    if (start < stretch.end) {
      const first = from + Math.round((start - stretch.start) / bar) + 1;
      const last = Math.max(first, from + Math.round((end - stretch.start) / bar));
      return first === last ? `${name}, bar ${first}` : `${name}, bars ${first} to ${last}`;
    }
    from += stretch.bars;
  }
  return name;
}

/** Step rates in the order in which they are tried: a sparse pattern is of sixteenths. */
const RATES: readonly Ticks[] = ['1/16', '1/8 triplet', '1/16 triplet', '1/32', '1/32 triplet']
  .concat('1/64')
  .map((name) => STEP_RATES.find((rate) => rate.name === name)!.ticks);

/** A row is drawn at a rate that nearly all of its hits are on. */
const NEARLY_ALL = 0.9;

function shareOn(hits: readonly Hit[], step: Ticks): number {
  let on = 0;
  for (const { at } of hits) if (Math.abs(at - Math.round(at / step) * step) < 1) on++;
  return on / hits.length;
}

/** Whether so few hits are off a rate that a row is drawn at it. */
const isFew = (off: number, hits: number) => off <= (1 - NEARLY_ALL) * hits;

const isOn = (hits: readonly Hit[], step: Ticks) => shareOn(hits, step) >= NEARLY_ALL;

/** The first of the step rates that nearly all hits are on, or the one that most are on. */
function stepFor(hits: readonly Hit[]): Ticks {
  if (hits.length === 0) return DEFAULT_STEP;
  let best = { step: DEFAULT_STEP, share: 0 };
  for (const step of RATES) {
    const share = shareOn(hits, step);
    if (share >= NEARLY_ALL) return step;
    if (share > best.share) best = { step, share };
  }
  return best.step;
}

function lay(warp: Warp, way: number, hit: Hit): void {
  const { at, velocity } = hit;
  warp.mark = (Math.imul(warp.mark, 31) + at * 128 + velocity) | 0;
  warp.empty = false;
  if (at < warp.latest) warp.inOrder = false;
  else warp.latest = at;
  if (at % DEFAULT_STEP !== 0) warp.off[way] = (warp.off[way] ?? 0) + 1;
  const hits = warp.byWay[way];
  if (hits) hits.push(hit);
  else warp.byWay[way] = [hit];
}

/** Where a part lies, how many bars it has, and in which meters. */
function spread({ stretches }: Part) {
  const meters: MeterChange[] = [];
  let bars = 0;
  for (const { meter, bars: count } of stretches) {
    const before = meters.at(-1);
    if (!before || !sameMeter(before.meter, meter)) meters.push({ bar: bars, meter });
    bars += count;
  }
  return { start: stretches[0].start, end: stretches.at(-1)!.end, bars, meters };
}

/** Two lists in step order as one; of one step, those of the first list come first. */
function mergedInOrder(a: readonly Hit[], b: readonly Hit[]): Hit[] {
  const merged: Hit[] = [];
  let next = 0;
  for (const hit of a) {
    while (next < b.length && b[next].at < hit.at) merged.push(b[next++]);
    merged.push(hit);
  }
  while (next < b.length) merged.push(b[next++]);
  return merged;
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
    a.source === b.source &&
    a.choke === b.choke &&
    a.flam?.strokes === b.flam?.strokes &&
    a.flam?.lead === b.flam?.lead &&
    a.flam?.softness === b.flam?.softness &&
    a.burst?.strokes === b.burst?.strokes &&
    a.burst?.room === b.burst?.room &&
    a.burst?.slope === b.burst?.slope
  );
}
