import { byStaffOrder, soundOf, KIT_PIECES, type PieceId, type SoundId } from '../model/pieces';
import type { Song } from '../model/song';
import { barTicks, clickTicks, COMMON_TIME } from '../time/meter';
import { tempoMapOf, type TempoMap } from '../time/tempo';
import { PPQ, type Seconds, type Ticks } from '../time/units';
import { laidPlaces } from '../weave/sections';
import { timeline, type TimedHit } from '../weave/timeline';

/**
 * A song compiled for the engine: typed arrays that can be handed to another thread. Entry `i` of
 * each array is hit `i`, ordered by when it sounds.
 */
export interface Score {
  /** When each hit sounds. */
  seconds: Float64Array;
  /** When the step it belongs to falls: a loop takes a hit by its step, not by its push. */
  homes: Float64Array;
  /** Which sound of the kit each hit has. */
  notes: Uint8Array;
  velocities: Uint8Array;
  strips: Uint8Array;
  /** Which row of `touches` a hit has, counted from 1; 0 is none. */
  touch: Uint32Array;
  /** Rows of `TOUCH_SIZE` numbers: choke, pan, rate, reverse, room, echo. */
  touches: Float32Array;
  /** From one repeat of the echo to the next. */
  echo: Seconds;
  /** When the click sounds, and which clicks start a bar. */
  clicks: Float64Array;
  downbeats: Uint8Array;
  end: Seconds;
}

/** Strips of the engine: one a kit piece in staff order, and one for all notes outside the kit. */
export const STRIP_PIECES: readonly PieceId[] = [
  ...KIT_PIECES.map((piece) => piece.id).sort(byStaffOrder),
  'note-0',
];
const stripIndex = new Map(STRIP_PIECES.map((piece, index) => [piece, index]));

export function stripOf(piece: PieceId): number {
  return stripIndex.get(piece) ?? STRIP_PIECES.length - 1;
}

export function compileScore(song: Song): Score {
  const hits = timeline(song);
  const tempo = tempoMapOf(song.tempo);
  const score: Score = {
    seconds: new Float64Array(hits.length),
    homes: new Float64Array(hits.length),
    notes: new Uint8Array(hits.length),
    velocities: new Uint8Array(hits.length),
    strips: new Uint8Array(hits.length),
    touch: new Uint32Array(hits.length),
    // A new one for each score: it is handed to another thread and gone from here then.
    touches: new Float32Array(0),
    echo: (0.75 * 60) / song.tempo[0].bpm,
    ...clicksOf(song, tempo),
    end: tempo.secondsAt(laidPlaces(song).at(-1)?.end ?? 0),
  };
  hits.forEach((hit, i) => {
    score.seconds[i] = tempo.secondsAt(hit.tick);
    score.homes[i] = hit.home === hit.tick ? score.seconds[i] : tempo.secondsAt(hit.home);
    score.notes[i] = soundOf(hit.piece, hit.articulation);
    score.velocities[i] = hit.velocity;
    score.strips[i] = stripOf(hit.piece);
  });
  addTouches(score, hits, tempo);
  return score;
}

export const TOUCH_SIZE = 6;

/** Writes what is done to the sound of some hits; equal touches share a row. */
function addTouches(score: Score, hits: readonly TimedHit[], tempo: TempoMap): void {
  const rows: number[][] = [];
  const known = new Map<string, number>();
  hits.forEach(({ touch, tick }, i) => {
    if (!touch) return;
    const { choke = 0, pan = 0, tune = 0, reverse, room = 0, echo = 0 } = touch;
    const stopped = choke > 0 ? tempo.secondsAt(tick + choke) - tempo.secondsAt(tick) : 0;
    const row = [stopped, pan, 2 ** (tune / 1200), reverse ? 1 : 0, room, echo];
    const key = row.join();
    let index = known.get(key);
    if (index === undefined) {
      index = rows.push(row);
      known.set(key, index);
    }
    score.touch[i] = index;
  });
  if (rows.length > 0) score.touches = Float32Array.from(rows.flat());
}

function clicksOf(song: Song, tempo: TempoMap): Pick<Score, 'clicks' | 'downbeats'> {
  const clicks: Seconds[] = [];
  const downbeats: number[] = [];
  for (const { section, start } of laidPlaces(song)) {
    const beats = clickTicks(section.meter);
    for (let bar = 0; bar < section.bars; bar++) {
      const line = start + bar * barTicks(section.meter);
      for (const beat of beats) {
        clicks.push(tempo.secondsAt(line + beat));
        downbeats.push(beat === 0 ? 1 : 0);
      }
    }
  }
  return { clicks: Float64Array.from(clicks), downbeats: Uint8Array.from(downbeats) };
}

/** One bar of clicks before a start, at the tempo and meter found there. */
export interface CountIn {
  /** How long before the start each click sounds, the first one longest. */
  before: Float64Array;
}

export function countInAt(song: Song, tick: Ticks): CountIn {
  const here = laidPlaces(song).findLast(({ start }) => start <= tick);
  const meter = here?.section.meter ?? COMMON_TIME;
  const secondsPerTick = 60 / tempoMapOf(song.tempo).bpmAt(tick) / PPQ;
  const bar = barTicks(meter);
  return {
    before: Float64Array.from(clickTicks(meter), (beat) => (bar - beat) * secondsPerTick),
  };
}

/** The notes a score needs sounds for. */
export function notesIn(score: Score): SoundId[] {
  return [...new Set(score.notes)].sort((a, b) => a - b);
}
