import { byStaffOrder, soundOf, KIT_PIECES, type PieceId, type SoundId } from '../model/pieces';
import type { GuideNote, Song } from '../model/song';
import { pluckOf } from '../sound/pluck';
import { barTicks, clickTicks, COMMON_TIME } from '../time/meter';
import { tempoMapOf, type TempoMap } from '../time/tempo';
import { PPQ, toVelocity, type Seconds, type Ticks } from '../time/units';
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

/** Strips of the engine: one a kit piece in staff order, one for all notes outside the kit; then the guides'. */
export const STRIP_PIECES: readonly PieceId[] = [
  ...KIT_PIECES.map((piece) => piece.id).sort(byStaffOrder),
  'note-0',
];
export const GUIDE_STRIP = STRIP_PIECES.length;
const stripIndex = new Map(STRIP_PIECES.map((piece, index) => [piece, index]));

export function stripOf(piece: PieceId): number {
  return stripIndex.get(piece) ?? STRIP_PIECES.length - 1;
}

export function compileScore(song: Song): Score {
  const hits = timeline(song);
  const tempo = tempoMapOf(song.tempo);
  const guided = guideNotes(song);
  const count = hits.length + guided.length;
  const score: Score = {
    seconds: new Float64Array(count),
    homes: new Float64Array(count),
    notes: new Uint8Array(count),
    velocities: new Uint8Array(count),
    strips: new Uint8Array(count),
    touch: new Uint32Array(count),
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
  const touches = new Touches();
  addTouches(score, hits, tempo, touches);
  if (guided.length > 0) addGuides(score, guided, hits.length, tempo, touches);
  score.touches = touches.done();
  return guided.length > 0 ? inOrder(score) : score;
}

/** The notes of the guides that are heard, within the song. */
function guideNotes(song: Song): GuideNote[] {
  const end = laidPlaces(song).at(-1)?.end ?? 0;
  return (song.guides ?? [])
    .filter(({ muted, level }) => !muted && level > 0)
    .flatMap(({ at, notes, level }) =>
      notes.map((note) => ({
        ...note,
        at: at + note.at,
        velocity: toVelocity(note.velocity * level),
      })),
    )
    .filter(({ at }) => at >= 0 && at < end);
}

/** A guide's note is a string that is stopped when the note ends. */
function addGuides(
  score: Score,
  notes: readonly GuideNote[],
  from: number,
  tempo: TempoMap,
  touches: Touches,
): void {
  notes.forEach(({ at, length, note, velocity }, n) => {
    const i = from + n;
    score.seconds[i] = tempo.secondsAt(at);
    score.homes[i] = score.seconds[i];
    score.notes[i] = pluckOf(note);
    score.velocities[i] = velocity;
    score.strips[i] = GUIDE_STRIP;
    const stopped = tempo.secondsAt(at + length) - score.seconds[i];
    score.touch[i] = touches.row([Math.round(stopped * 1000) / 1000, 0, 1, 0, 0, 0]);
  });
}

/** The score with its entries ordered by when they sound. */
function inOrder(score: Score): Score {
  const order = Uint32Array.from(score.seconds, (_, i) => i);
  order.sort((a, b) => score.seconds[a] - score.seconds[b] || a - b);
  return {
    ...score,
    seconds: Float64Array.from(order, (i) => score.seconds[i]),
    homes: Float64Array.from(order, (i) => score.homes[i]),
    notes: Uint8Array.from(order, (i) => score.notes[i]),
    velocities: Uint8Array.from(order, (i) => score.velocities[i]),
    strips: Uint8Array.from(order, (i) => score.strips[i]),
    touch: Uint32Array.from(order, (i) => score.touch[i]),
  };
}

export const TOUCH_SIZE = 6;

/** Rows of what is done to sounds; equal ones share a row. */
class Touches {
  private readonly rows: number[][] = [];
  private readonly known = new Map<string, number>();

  /** @returns the number of the row, counted from 1 */
  row(values: number[]): number {
    const key = values.join();
    let index = this.known.get(key);
    if (index === undefined) {
      index = this.rows.push(values);
      this.known.set(key, index);
    }
    return index;
  }

  /** A new array for each score: it is handed to another thread and gone from here then. */
  done(): Float32Array {
    return Float32Array.from(this.rows.flat());
  }
}

function addTouches(
  score: Score,
  hits: readonly TimedHit[],
  tempo: TempoMap,
  touches: Touches,
): void {
  hits.forEach(({ touch, tick }, i) => {
    if (!touch) return;
    const { choke = 0, pan = 0, tune = 0, reverse, room = 0, echo = 0 } = touch;
    const stopped = choke > 0 ? tempo.secondsAt(tick + choke) - tempo.secondsAt(tick) : 0;
    score.touch[i] = touches.row([stopped, pan, 2 ** (tune / 1200), reverse ? 1 : 0, room, echo]);
  });
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
