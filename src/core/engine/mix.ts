import {
  layoutOf,
  DEFAULT_KIT,
  designOf,
  type Kit,
  type SampleHash,
  type Song,
  type SoundId,
} from '../model';
import { roomRing } from '../tracks';
import { type KitSound, type Pcm } from '../sound';
import { TempoMap, type Hertz, type Seconds } from '../time';
import { BLOCK } from './block';
import { compileDesk, usualDesk, type DeskTable } from './deskTable';
import { Engine } from './engine';
import { compileScore, notesIn, type Score } from './score';
import { made } from './swell';

export interface MixOptions {
  /** Default 48000. */
  sampleRate?: Hertz;
  /** Where in the song to start. Default 0. */
  from?: Seconds;
  /** Where to end. Default: the end of the song and until nothing sounds, 5 s at most. */
  to?: Seconds;
  /** The kit whose sounds are computed. Default: that of the song, or the usual one. */
  kit?: Kit;
  /** How long the room rings that swells have with them. Default: that of the song. */
  ring?: Seconds;
  /** The sound files that its layers play. */
  files?: ReadonlyMap<SampleHash, Pcm>;
  /** Sounds that are at hand already, instead of computing them. */
  sounds?: readonly KitSound[];
  /** The desk it is heard through. Default: the song's, or the usual one. */
  desk?: DeskTable;
}

/** A rendered song, one sample array a side. */
export interface RenderedMix {
  left: Float32Array;
  right: Float32Array;
  sampleRate: Hertz;
}

/** One track of a song by itself. */
export interface Stem {
  track: string;
  name: string;
  left: Float32Array;
  right: Float32Array;
}

/** The longest ring that is rendered after the last bar. */
const LONGEST_TAIL: Seconds = 5;

/** Renders the song as it is heard when played from `from`: the very samples of the live engine. */
export function renderMix(song: Song, options: MixOptions = {}): RenderedMix {
  const { kit } = song;
  return renderScore(compileScore(song), {
    desk: compileDesk(song),
    kit,
    ring: roomRing(song),
    ...options,
  });
}

/**
 * Renders the song and, in the same pass, each track of its layout before rooms, echoes and the bounds
 * of the mix. A track that is never struck is left out.
 */
export function renderStems(
  song: Song,
  options: MixOptions = {},
): { mix: RenderedMix; stems: Stem[] } {
  const desk = compileDesk(song);
  const { tracks } = layoutOf(song);
  const sides: Float32Array[] = [];
  const own = { desk, kit: song.kit, ring: roomRing(song) };
  const mix = render(compileScore(song), { ...own, ...options }, (frames) => {
    for (let i = 0; i < 2 * desk.strips.length; i++) sides.push(new Float32Array(frames));
    return sides;
  });
  const { length } = mix.left;
  const stems = tracks.flatMap(({ id, name }, i): Stem[] => {
    const [left, right] = [sides[2 * i], sides[2 * i + 1]].map((side) => side.subarray(0, length));
    const silent = left.every((x) => x === 0) && right.every((x) => x === 0);
    return silent ? [] : [{ track: id, name, left, right }];
  });
  return { mix, stems };
}

export function renderScore(score: Score, options: MixOptions = {}): RenderedMix {
  return render(score, options);
}

function render(
  score: Score,
  options: MixOptions,
  roomForStems?: (frames: number) => readonly Float32Array[],
): RenderedMix {
  const { sampleRate = 48_000, from = 0, to, desk = usualDesk() } = options;
  const tempo = new TempoMap(score.tempo);
  const engine = new Engine(sampleRate, false);
  for (const sound of options.sounds ??
    soundsFor(notesIn(score), sampleRate, options.kit, options.files, options.ring))
    engine.load(sound);
  engine.setDesk(desk);
  engine.setScore({ score });
  engine.play({ from: tempo.tickAt(from) });
  const end = tempo.secondsAt(score.end);
  const { delay } = engine;
  const wanted = Math.max(0, Math.ceil(((to ?? end + LONGEST_TAIL) - from) * sampleRate));
  // The limiter puts out all later: what comes before the first stroke is cut off.
  const frames = wanted + delay;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const stems = roomForStems?.(frames);
  const body = Math.ceil((end - from) * sampleRate);
  let at = 0;
  while (at < frames) {
    const next = Math.min(frames, at + BLOCK);
    const parts = stems?.map((stem) => stem.subarray(at, next));
    engine.process(left.subarray(at, next), right.subarray(at, next), next - at, parts);
    at = next;
    if (to === undefined && at >= body && !engine.isSounding) break;
  }
  return { left: left.subarray(delay, at), right: right.subarray(delay, at), sampleRate };
}

/** The sounds of some notes of a kit, computed now. */
export function soundsFor(
  notes: readonly SoundId[],
  sampleRate: Hertz,
  kit: Kit = DEFAULT_KIT,
  files?: ReadonlyMap<SampleHash, Pcm>,
  ring?: Seconds,
): KitSound[] {
  return notes.map((note) => made(designOf(kit, note, ring), sampleRate, files));
}
