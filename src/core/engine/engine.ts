import type { SoundId } from '../model';
import type { KitSound } from '../sound';
import { TempoMap, type Hertz, type Samples, type Ticks, type Velocity } from '../time';
import { BLOCK } from './block';
import { Click } from './click';
import { Desk, type MasterReading } from './desk';
import type { DeskTable } from './deskTable';
import type { Score } from './score';
import { Sequencer, type Cued, type Played, type PlayOptions } from './sequencer';
import { Voices } from './voices';

/** A stroke that is struck by itself. */
export interface Strike {
  note: SoundId;
  velocity: Velocity;
  lane: number;
  choke: number;
}

/**
 * Sequencer, voices, desk and click in one object: the same class plays in the audio worklet and
 * renders in a worker.
 */
export class Engine implements Played {
  private readonly sequencer: Sequencer;
  private readonly voices: Voices;
  private readonly desk: Desk;
  private readonly clicks: Click;
  private readonly strikes: Strike[] = [];
  /** How often something was struck by itself: its alternates take turns too. */
  private struck = 0;

  /** @param measures how loud tracks and mix are, for those who look at it */
  constructor(
    readonly sampleRate: Hertz,
    measures = true,
  ) {
    this.voices = new Voices(sampleRate);
    this.desk = new Desk(sampleRate, measures);
    this.clicks = new Click(sampleRate);
    this.sequencer = new Sequencer(sampleRate, this);
  }

  /** Gives the engine the strokes of a note; until then the note is silent. */
  load(sound: KitSound): void {
    this.voices.load(sound);
  }

  setDesk(table: DeskTable): void {
    this.desk.take(table);
    this.sequencer.relocate();
  }

  /**
   * Takes over an edited song with its loop; what plays goes on from its musical place.
   * @param at waits until the transport comes to this tick; absent is the next block
   */
  setScore(cued: Cued, at?: Ticks): void {
    this.sequencer.setScore(cued, at);
  }

  setClick(on: boolean): void {
    this.sequencer.setClick(on);
  }

  play(options: PlayOptions): void {
    this.voices.hush();
    this.desk.measureAnew();
    this.sequencer.play(options);
  }

  /** Stops; what was struck dies away quickly, and the room and the echo ring out. */
  stop(): void {
    this.sequencer.stop();
    this.voices.hush();
  }

  /** Goes elsewhere; plays on from there if it plays. */
  locate(to: Ticks): void {
    if (this.sequencer.isRunning) this.play({ from: to });
    else this.sequencer.rest(to);
  }

  /** Sounds one stroke at the start of the next block, whether the transport runs or not. */
  strike(strike: Strike): void {
    this.strikes.push(strike);
  }

  get isPlaying(): boolean {
    return this.sequencer.isRunning;
  }

  /** Whether the song has come to its end by itself. */
  get hasEnded(): boolean {
    return this.sequencer.hasEnded;
  }

  get tick(): Ticks {
    return this.sequencer.tick;
  }

  /** Whether anything still sounds. */
  get isSounding(): boolean {
    return this.voices.isSounding || this.desk.isRinging;
  }

  takePeaks(): [left: number, right: number] {
    return this.desk.takePeaks();
  }

  /** What the tracks of the desk were like since this was last asked (see `TRACK_SIZE`). */
  takeTracks(): Float32Array {
    return this.desk.takeTracks();
  }

  /** What all drums were like since this was last asked. */
  takeMaster(): MasterReading {
    return this.desk.takeMaster();
  }

  /** So many samples later than it is struck a stroke comes out: the limiter looks ahead. */
  get delay(): Samples {
    return this.desk.delay;
  }

  /**
   * Fills `frames` frames of both sides. Works in blocks of 128, whatever is asked for.
   * @param stems where each track of the desk goes by itself too, left and right after one another
   * @param pairs the other pairs of outputs there are, left and right after one another, as long as the first
   */
  process(
    left: Float32Array,
    right: Float32Array,
    frames: number,
    stems?: readonly Float32Array[],
    pairs?: readonly Float32Array[],
  ): void {
    if (frames <= BLOCK) {
      this.processBlock(left, right, frames, stems, pairs);
      return;
    }
    for (let done = 0; done < frames; done += BLOCK) {
      const to = Math.min(frames, done + BLOCK);
      const part = (side: Float32Array) => side.subarray(done, to);
      const [own, others] = [stems, pairs].map((sides) => sides?.map(part));
      this.processBlock(part(left), part(right), to - done, own, others);
    }
  }

  private processBlock(
    left: Float32Array,
    right: Float32Array,
    frames: number,
    stems: readonly Float32Array[] | undefined,
    pairs: readonly Float32Array[] | undefined,
  ): void {
    left.fill(0);
    right.fill(0);
    for (const { note, velocity, lane, choke } of this.strikes) {
      this.voices.start(note, this.struck++, velocity, choke, lane, 0);
    }
    this.strikes.length = 0;
    if (this.sequencer.isRunning) {
      this.sequencer.advance(frames);
      this.sequencer.stopAtEnd(!this.isSounding);
    }
    for (const voice of this.voices.all) if (voice.active) this.desk.addVoice(voice, frames);
    this.desk.mixTo(left, right, frames, stems, pairs);
    this.clicks.mixTo(left, right, frames);
    this.desk.finish(left, right, frames);
  }

  stroke(score: Score, index: number, wait: Samples): void {
    const voice = this.voices.start(
      score.notes[index],
      score.alternates[index],
      score.velocities[index],
      score.chokes[index],
      score.lanes[index],
      wait,
    );
    const touch = score.touch[index];
    if (voice && touch > 0) voice.change(score.touches, touch - 1, this.sampleRate);
  }

  click(isDownbeat: boolean, wait: Samples): void {
    this.clicks.start(isDownbeat, wait);
  }

  move({ moves }: Score, row: number, wait: Samples): void {
    this.desk.move(moves[row + 1], moves[row + 2], moves[row + 3], wait, moves[row + 4]);
  }

  located({ moves, tempo }: Score, tick: Ticks, jump: boolean): void {
    const map = new TempoMap(tempo);
    this.desk.follow(map);
    if (moves.length > 0) this.desk.locate(moves, map, tick, jump);
  }
}
