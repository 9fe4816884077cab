import type { SoundId } from '../model/pieces';
import type { Song } from '../model/song';
import { synthesise, type KitSound } from '../sound/kit';
import type { Hertz, Seconds } from '../time/units';
import { Engine } from './engine';
import { compileScore, notesIn, type Score } from './score';
import { BLOCK } from './strip';

export interface MixOptions {
  /** Default 48000. */
  sampleRate?: Hertz;
  /** Where in the song to start. Default 0. */
  from?: Seconds;
  /** Where to end. Default: the end of the song and until nothing sounds, 5 s at most. */
  to?: Seconds;
  /** Sounds that are at hand already, instead of computing them. */
  sounds?: readonly KitSound[];
}

/** A rendered song, one sample array a side. */
export interface Mix {
  left: Float32Array;
  right: Float32Array;
  sampleRate: Hertz;
}

/** The longest ring that is rendered after the last bar. */
const LONGEST_TAIL: Seconds = 5;

/** Renders the song as it is heard when played from `from`: the very samples of the live engine. */
export function renderMix(song: Song, options: MixOptions = {}): Mix {
  return renderScore(compileScore(song), options);
}

export function renderScore(score: Score, options: MixOptions = {}): Mix {
  const { sampleRate = 48_000, from = 0, to } = options;
  const engine = new Engine(sampleRate);
  for (const sound of options.sounds ?? soundsFor(notesIn(score), sampleRate)) engine.load(sound);
  engine.setScore(score);
  engine.play({ from });
  const frames = Math.ceil(((to ?? score.end + LONGEST_TAIL) - from) * sampleRate);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const body = Math.ceil((score.end - from) * sampleRate);
  let at = 0;
  while (at < frames) {
    const next = Math.min(frames, at + BLOCK);
    engine.process(left.subarray(at, next), right.subarray(at, next), next - at);
    at = next;
    if (to === undefined && at >= body && !engine.isSounding) break;
  }
  return { left: left.subarray(0, at), right: right.subarray(0, at), sampleRate };
}

/** The sounds of some notes, computed now. */
export function soundsFor(notes: readonly SoundId[], sampleRate: Hertz): KitSound[] {
  return notes.map((note) => synthesise(note, sampleRate));
}
