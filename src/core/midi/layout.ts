import {
  barTicks,
  COMMON_TIME,
  isMeter,
  sameMeter,
  type Meter,
  PPQ,
  type Swing,
  type Ticks,
} from '../time';
import { count } from './chunks';
import type { SourceTrack } from './track';

/** Bars in one meter. */
export interface Stretch {
  start: Ticks;
  end: Ticks;
  bars: number;
  meter: Meter;
  /** How it swings, where it does: its hits are on straight steps. */
  swing?: Swing;
}

/** A part of the source that becomes a section: from one marker to the next, in one meter or several. */
export interface Part {
  name?: string;
  stretches: Stretch[];
}

interface Cut {
  tick: Ticks;
  meter?: Meter;
  name?: string;
}

/** Silence after the last hit is kept up to so many bars; more is a damaged or forgotten end mark. */
const LONGEST_TAIL_BARS = 16;

/** A file is cut at so many places at most: no song has more sections. */
const MOST_CUTS = 3000;

/** Without markers, bars of another meter that are fewer than these stay with those before them. */
const STRAY_BARS = 2;

/** A cut that a source does not say itself. */
export interface Marker {
  tick: Ticks;
  name: string;
}

/**
 * Cuts a source into parts at its markers; where it has none, at its changes of meter, but for stray bars
 * of another meter, which stay in the part they stand in. Markers and meters belong on bar lines; a
 * meter that changes inside a bar leaves a short bar before it, so that all later bars stay where they
 * were, and a marker inside a bar goes to the nearest bar line.
 * @param ppq pulses per quarter note of the source
 * @param lastHit tick of the last hit, in song ticks
 * @param found further markers, on bar lines
 */
export function partsOf(
  tracks: readonly SourceTrack[],
  ppq: number,
  lastHit: Ticks,
  repaired: string[],
  found: readonly Marker[] = [],
): Part[] {
  const scale = PPQ / ppq;
  const cuts = cutsOf(tracks, scale, repaired, found);
  const { stretches, names } = ruled(cuts, tracks, { scale, lastHit, repaired });
  const marked = names.size > 0;
  const parts: Part[] = [];
  for (const stretch of stretches) {
    const name = names.get(stretch.start);
    const last = parts.at(-1);
    const begins = marked ? name !== undefined : !last || !isStray(stretch, last, stretches);
    if (!last || begins) {
      parts.push({ ...(name !== undefined && { name }), stretches: [stretch] });
    } else last.stretches.push(stretch);
  }
  return parts;
}

/** Whether bars stay in the part before them: they are few, or go on after few in its own meter. */
function isStray(stretch: Stretch, { stretches: before }: Part, all: readonly Stretch[]): boolean {
  if (stretch.bars < STRAY_BARS && all.length > 2) return true;
  const previous = before.at(-1)!;
  return (
    previous.bars < STRAY_BARS && before.length > 1 && sameMeter(before[0].meter, stretch.meter)
  );
}

interface Ruling {
  scale: number;
  lastHit: Ticks;
  repaired: string[];
}

/** All bars of a source, cut at changes of meter and at markers; and the names of the markers. */
function ruled(
  cuts: readonly Cut[],
  tracks: readonly SourceTrack[],
  { scale, lastHit, repaired }: Ruling,
): { stretches: Stretch[]; names: Map<Ticks, string> } {
  const tolerance = scale * 0.51 + 1e-6;
  const stretches: Stretch[] = [];
  const names = new Map<Ticks, string>();
  let open: { start: Ticks; meter: Meter } = { start: 0, meter: COMMON_TIME };
  const close = (bars: number) => {
    const end = open.start + bars * barTicks(open.meter);
    if (bars > 0) stretches.push({ start: open.start, end, bars, meter: open.meter });
    return end;
  };
  for (const cut of cuts) {
    const meter = cut.meter ?? open.meter;
    const bar = barTicks(open.meter);
    const bars = Math.round((cut.tick - open.start) / bar);
    const off = cut.tick - (open.start + bars * bar);
    if (Math.abs(off) <= tolerance || !cut.meter) {
      if (Math.abs(off) > tolerance) {
        repaired.push(
          `The marker “${cut.name}” lies inside a bar; it was put on the nearest line.`,
        );
      }
      if (bars > 0 && open.start + bars * bar > lastHit + bar) continue;
      open = { start: close(Math.max(0, bars)), meter };
    } else {
      const whole = Math.floor((cut.tick - open.start) / bar);
      const rest = shortMeter(cut.tick - open.start - whole * bar);
      if (!rest || cut.tick > lastHit + bar) continue;
      open = { start: close(whole), meter: rest };
      open = { start: close(1), meter };
      repaired.push(
        `The time signature changes inside a bar; that bar was counted as ${rest.beats}/${rest.unit}.`,
      );
    }
    if (cut.name !== undefined) names.set(open.start, cut.name);
  }
  const bar = barTicks(open.meter);
  const needed = Math.floor(Math.max(0, lastHit - open.start) / bar) + 1;
  const sourceEnd = Math.max(0, ...tracks.map((track) => track.end)) * scale;
  const written = Math.ceil((sourceEnd - tolerance - open.start) / bar);
  // The file's own end counts when it is near: silence at the end of a groove belongs to it.
  close(written > needed && written <= needed + LONGEST_TAIL_BARS ? written : needed);
  return { stretches, names };
}

/** The meter a source begins in: 4/4 when it does not say. */
export function meterAtStart(tracks: readonly SourceTrack[]): Meter {
  let meter: Meter = COMMON_TIME;
  for (const { meters } of tracks) {
    for (const { tick, beats, unit } of meters) {
      if (tick === 0 && isMeter({ beats, unit })) meter = { beats, unit };
    }
  }
  return meter;
}

/** The meter of one bar that lasts exactly so long; undefined when no time signature can say it. */
export function shortMeter(length: Ticks): Meter | undefined {
  for (const unit of [4, 8, 16, 32, 64]) {
    const meter = { beats: length / ((PPQ * 4) / unit), unit };
    if (isMeter(meter)) return meter;
  }
  return undefined;
}

function cutsOf(
  tracks: readonly SourceTrack[],
  scale: number,
  repaired: string[],
  found: readonly Marker[],
): Cut[] {
  const cuts: Cut[] = [];
  let meter: Meter = COMMON_TIME;
  const meters = tracks.flatMap((t) => t.meters).sort((a, b) => a.tick - b.tick);
  for (const { tick, beats, unit } of meters) {
    const next = { beats, unit };
    if (!isMeter(next)) {
      repaired.push(`The time signature ${beats}/${unit} cannot be counted; it was left out.`);
    } else if (!sameMeter(next, meter) || tick === 0) {
      cuts.push({ tick: tick * scale, meter: next });
      meter = next;
    }
  }
  for (const { tick, text } of tracks.flatMap((t) => t.markers)) {
    if (text) cuts.push({ tick: tick * scale, name: text });
  }
  for (const { tick, name } of found) cuts.push({ tick, name });
  cuts.sort((a, b) => a.tick - b.tick);
  if (cuts.length > MOST_CUTS) {
    repaired.push(
      `${count(cuts.length - MOST_CUTS, 'marker')} and time signatures after the first ${MOST_CUTS.toLocaleString('en')} left out.`,
    );
  }
  return cuts.slice(0, MOST_CUTS);
}
