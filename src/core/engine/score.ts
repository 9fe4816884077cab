import { byStaffOrder, noteOf, KIT_PIECES, type PieceId } from '../model/pieces';
import type { Song } from '../model/song';
import { barTicks, clickTicks, COMMON_TIME } from '../time/meter';
import { tempoMapOf, type TempoMap } from '../time/tempo';
import { PPQ, type NoteNumber, type Seconds, type Ticks } from '../time/units';
import { laidPlaces } from '../weave/sections';
import { timeline } from '../weave/timeline';

/**
 * A song compiled for the engine: typed arrays that can be handed to another thread. Entry `i` of
 * each array is hit `i`, ordered by when it sounds.
 */
export interface Score {
  /** When each hit sounds. */
  seconds: Float64Array;
  /** When the step it belongs to falls: a loop takes a hit by its step, not by its push. */
  homes: Float64Array;
  notes: Uint8Array;
  velocities: Uint8Array;
  strips: Uint8Array;
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
    ...clicksOf(song, tempo),
    end: tempo.secondsAt(laidPlaces(song).at(-1)?.end ?? 0),
  };
  hits.forEach((hit, i) => {
    score.seconds[i] = tempo.secondsAt(hit.tick);
    score.homes[i] = hit.home === hit.tick ? score.seconds[i] : tempo.secondsAt(hit.home);
    score.notes[i] = noteOf(hit.piece, hit.articulation);
    score.velocities[i] = hit.velocity;
    score.strips[i] = stripOf(hit.piece);
  });
  return score;
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
export function notesIn(score: Score): NoteNumber[] {
  return [...new Set(score.notes)].sort((a, b) => a - b);
}
