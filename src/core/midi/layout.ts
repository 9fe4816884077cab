import { barTicks, COMMON_TIME, isMeter, sameMeter, type Meter, PPQ, type Ticks } from '../time';
import { count } from './chunks';
import type { SourceTrack } from './track';

/** A stretch of the source in one meter, from one marker or change of meter to the next. */
export interface Stretch {
  start: Ticks;
  end: Ticks;
  bars: number;
  meter: Meter;
  name?: string;
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

/**
 * Cuts a source into stretches at its changes of meter and its markers. Both belong on bar lines;
 * a change inside a bar leaves a short bar of its own before it, so that all later bars stay
 * where they were, and a marker inside a bar goes to the nearest bar line.
 * @param ppq pulses per quarter note of the source
 * @param lastHit tick of the last hit, in song ticks
 */
export function stretchesOf(
  tracks: readonly SourceTrack[],
  ppq: number,
  lastHit: Ticks,
  repaired: string[],
): Stretch[] {
  const scale = PPQ / ppq;
  const tolerance = scale * 0.51 + 1e-6;
  const cuts = cutsOf(tracks, scale, repaired);
  const stretches: Stretch[] = [];
  let open = { start: 0, meter: COMMON_TIME, name: undefined as string | undefined };
  const close = (bars: number) => {
    const end = open.start + bars * barTicks(open.meter);
    if (bars > 0)
      stretches.push({ start: open.start, end, bars, meter: open.meter, name: open.name });
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
      const moved = bars > 0 && open.start + bars * bar <= lastHit + bar;
      if (bars > 0 && !moved) continue;
      const name = cut.name ?? (moved ? undefined : open.name);
      open = { start: close(moved ? bars : 0), meter, name };
    } else {
      const whole = Math.floor((cut.tick - open.start) / bar);
      const rest = shortMeter(cut.tick - open.start - whole * bar);
      if (!rest || cut.tick > lastHit + bar) continue;
      open = { ...open, start: close(whole), meter: rest };
      open = { start: close(1), meter, name: cut.name };
      repaired.push(
        `The time signature changes inside a bar; that bar was counted as ${rest.beats}/${rest.unit}.`,
      );
    }
  }
  const bar = barTicks(open.meter);
  const needed = Math.floor(Math.max(0, lastHit - open.start) / bar) + 1;
  const sourceEnd = Math.max(0, ...tracks.map((track) => track.end)) * scale;
  const written = Math.ceil((sourceEnd - tolerance - open.start) / bar);
  // The file's own end counts when it is near: silence at the end of a groove belongs to it.
  close(written > needed && written <= needed + LONGEST_TAIL_BARS ? written : needed);
  return stretches;
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

/** A meter of one bar that lasts exactly so long, if a time signature can say it. */
function shortMeter(length: Ticks): Meter | undefined {
  for (const unit of [4, 8, 16, 32, 64]) {
    const meter = { beats: length / ((PPQ * 4) / unit), unit };
    if (isMeter(meter)) return meter;
  }
  return undefined;
}

function cutsOf(tracks: readonly SourceTrack[], scale: number, repaired: string[]): Cut[] {
  const cuts: Cut[] = [];
  let meter: Meter = COMMON_TIME;
  const meters = tracks.flatMap((t) => t.meters).sort((a, b) => a.tick - b.tick);
  for (const { tick, beats, unit } of meters) {
    const next = { beats, unit };
    if (!isMeter(next)) {
      repaired.push(`The time signature ${beats}/${unit} cannot be counted; it was passed over.`);
    } else if (!sameMeter(next, meter) || tick === 0) {
      cuts.push({ tick: tick * scale, meter: next });
      meter = next;
    }
  }
  for (const { tick, text } of tracks.flatMap((t) => t.markers)) {
    if (text) cuts.push({ tick: tick * scale, name: text });
  }
  cuts.sort((a, b) => a.tick - b.tick);
  if (cuts.length > MOST_CUTS) {
    repaired.push(
      `${count(cuts.length - MOST_CUTS, 'marker')} and time signatures after the first ${MOST_CUTS.toLocaleString('en')} left out.`,
    );
  }
  return cuts.slice(0, MOST_CUTS);
}
