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
import { TempoMap, type Hertz, type Samples, type Seconds } from '../time';
import { BLOCK } from './block';
import { compileDesk, usualDesk, type DeskTable } from './deskTable';
import { Engine } from './engine';
import { compileScore, notesIn, type Score } from './score';
import { made } from './swell';
import { withoutUnheard } from './unheard';

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
  /** With the click. Default without. */
  click?: boolean;
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
export const LONGEST_TAIL: Seconds = 5;

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
  const rendering = new Rendering(score, options);
  const left = new Float32Array(rendering.most);
  const right = new Float32Array(rendering.most);
  const stems = roomForStems?.(rendering.most + rendering.delay + BLOCK);
  const frames = rendering.next(left, right, stems);
  return {
    left: left.subarray(0, frames),
    right: right.subarray(0, frames),
    sampleRate: rendering.sampleRate,
  };
}

/** A song on its way out, as far as it is asked for: the very samples of the live engine. */
export class Rendering {
  readonly sampleRate: Hertz;
  /** So many samples at most come out; the end of a song is where nothing sounds any more. */
  readonly most: Samples;
  /** So many samples ahead of the mix stems are written: the limiter looks ahead. */
  readonly delay: Samples;
  private readonly engine: Engine;
  private readonly body: Samples;
  private readonly endless: boolean;
  private readonly made = { left: new Float32Array(BLOCK), right: new Float32Array(BLOCK) };
  /** Samples of the last block that were read, that came out, and that were played. */
  private read: Samples = BLOCK;
  private at: Samples = 0;
  private played: Samples = 0;
  private ended = false;

  constructor(score: Score, options: MixOptions = {}) {
    const { sampleRate = 48_000, from = 0, to, desk = usualDesk() } = options;
    const tempo = new TempoMap(score.tempo);
    this.sampleRate = sampleRate;
    this.engine = new Engine(sampleRate, false);
    for (const sound of options.sounds ??
      soundsFor(notesIn(score), sampleRate, options.kit, options.files, options.ring))
      this.engine.load(sound);
    this.engine.setDesk(desk);
    this.engine.setScore({ score: withoutUnheard(score, desk) });
    this.engine.setClick(options.click === true);
    this.engine.play({ from: tempo.tickAt(from) });
    const end = tempo.secondsAt(score.end);
    this.delay = this.engine.delay;
    this.most = Math.max(0, Math.ceil(((to ?? end + LONGEST_TAIL) - from) * sampleRate));
    this.body = Math.ceil((end - from) * sampleRate);
    this.endless = to === undefined;
  }

  /** So many samples came out. */
  get done(): Samples {
    return this.at;
  }

  /** The most that the limiter held back since this was last asked, in decibels. */
  takeLimited(): number {
    return this.engine.takeMaster().limited;
  }

  /**
   * Fills both sides with what comes next.
   * @param stems see `Engine.process`; written from their beginning on, and as far ahead as the limiter looks
   * @returns how many samples were filled: fewer than there is room for at the end, and 0 after it
   */
  next(left: Float32Array, right: Float32Array, stems?: readonly Float32Array[]): Samples {
    const wanted = Math.min(left.length, this.most - this.at);
    let done = 0;
    while (done < wanted && !this.ended) {
      if (this.read === BLOCK) this.block(stems);
      const frames = Math.min(BLOCK - this.read, wanted - done);
      const { left: from, right: other } = this.made;
      left.set(from.subarray(this.read, this.read + frames), done);
      right.set(other.subarray(this.read, this.read + frames), done);
      this.read += frames;
      this.at += frames;
      done += frames;
    }
    if (this.at >= this.most) this.ended = true;
    return done;
  }

  /** Plays one block on, in the blocks that the live engine plays. What comes before the first stroke is skipped. */
  private block(stems: readonly Float32Array[] | undefined): void {
    const { engine, made, played } = this;
    const parts = stems?.map((stem) => stem.subarray(played, played + BLOCK));
    const rest = this.endless && played >= this.body && !engine.isSounding;
    if (rest) {
      this.ended = true;
      return;
    }
    engine.process(made.left, made.right, BLOCK, parts);
    this.played += BLOCK;
    // The limiter puts out all later.
    this.read = Math.min(BLOCK, Math.max(0, this.delay - played));
  }
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
