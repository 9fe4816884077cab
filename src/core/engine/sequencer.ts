import { TempoMap, type Hertz, type Samples, type Seconds, type Ticks } from '../time';
import { BLOCK, firstFrom } from './block';
import { MOVE_SIZE, type CountIn, type LoopCue, type Score } from './score';

/** What the sequencer makes happen. All frames are counted from the start of the coming block. */
export interface Played {
  /** Stroke `index` of the score sounds. */
  stroke(score: Score, index: number, wait: Samples): void;
  click(isDownbeat: boolean, wait: Samples): void;
  /** A row of the score's `moves`, by where it begins. */
  move(score: Score, row: number, wait: Samples): void;
  /** The song is another one, or the place in it: what follows from both has to be set anew. */
  located(score: Score, tick: Ticks, jump: boolean): void;
}

/** A score with the loop compiled for it. */
export interface Cued {
  score: Score;
  loop?: LoopCue;
}

export interface PlayOptions {
  from: Ticks;
  countIn?: CountIn;
}

/**
 * The transport. It is where it is in musical time: an edit, another tempo or another loop leave it at
 * its tick. Strokes start at the very sample their tick says; nothing is sorted or allocated while it
 * runs.
 */
export class Sequencer {
  private score: Score = NO_SCORE;
  private tempo = new TempoMap(NO_SCORE.tempo);
  private loop: LoopCue | undefined;
  private loopFrom: Samples = 0;
  private loopTo: Samples = 0;
  /** A song that waits for its moment. */
  private pending: (Cued & { at: Ticks }) | undefined;
  private countAt = new Float64Array(0);
  private running = false;
  /** Samples from the start of the song, in the tempo of its score. */
  private position: Samples = 0;
  /** Where it was asked to play beyond the loop: it plays on to the end before it comes back. */
  private beyond = false;
  /** Strokes whose step falls before this are not part of the take that was started. */
  private gate: Ticks = -Infinity;
  private start: Samples = 0;
  private clicking = false;
  private ended = false;

  constructor(
    private readonly sampleRate: Hertz,
    private readonly played: Played,
  ) {}

  get isRunning(): boolean {
    return this.running;
  }

  /** Where it is, in ticks of the song; before its start while it counts in. */
  get tick(): Ticks {
    return this.tempo.tickAt(this.position / this.sampleRate);
  }

  /** Whether it has come to the end of the song by itself. */
  get hasEnded(): boolean {
    return this.ended;
  }

  setClick(on: boolean): void {
    this.clicking = on;
  }

  /**
   * Takes over an edited song; what plays goes on from its musical place.
   * @param at waits until the transport comes to this tick; absent is at once
   */
  setScore(cued: Cued, at?: Ticks): void {
    this.pending = undefined;
    if (at !== undefined && this.running) this.pending = { ...cued, at };
    else this.take(cued);
  }

  private take({ score, loop }: Cued): void {
    const { tick } = this;
    const started = this.tempo.tickAt(this.start / this.sampleRate);
    this.score = score;
    this.tempo = new TempoMap(score.tempo);
    this.position = this.samplesAt(tick);
    this.start = this.samplesAt(started);
    this.setLoop(loop);
    this.played.located(score, tick, false);
  }

  /** Has what follows from the place in the song set anew. */
  relocate(): void {
    this.played.located(this.score, this.tick, !this.running);
  }

  private takePending(): void {
    const { pending } = this;
    this.pending = undefined;
    if (pending) this.take(pending);
  }

  /** Another loop, or none. A playhead that is behind its end comes back into it. */
  private setLoop(loop: LoopCue | undefined): void {
    const same = loop?.from === this.loop?.from && loop?.to === this.loop?.to;
    const from = loop ? this.samplesAt(loop.from) : 0;
    const to = loop ? this.samplesAt(loop.to) : 0;
    // What is shorter than a block cannot be gone round.
    this.loop = loop && to - from >= BLOCK ? loop : undefined;
    this.loopFrom = from;
    this.loopTo = to;
    if (!same) this.beyond = false;
    if (this.loop && this.running && !this.beyond && this.position >= to) this.comeBack();
  }

  /** To where it would be in the loop if it had gone round all the time. */
  private comeBack(): void {
    const { from, to } = this.loop!;
    const length = to - from;
    const tick = from + ((((this.tick - from) % length) + length) % length);
    this.position = Math.min(this.loopTo - 1, this.samplesAt(tick));
    this.gate = -Infinity;
  }

  play({ from, countIn }: PlayOptions): void {
    this.takePending();
    this.start = this.samplesAt(from);
    this.gate = from - 1e-6;
    this.beyond = this.loop !== undefined && this.start >= this.loopTo;
    this.played.located(this.score, from, true);
    this.ended = false;
    if (countIn && countIn.before.length > 0) {
      this.countAt = countIn.before.map((before) => this.start - this.samplesIn(before));
      this.position = this.countAt[0];
    } else {
      this.countAt = NO_CLICKS;
      this.position = this.start;
      this.strikeEarly();
    }
    this.running = true;
  }

  stop(): void {
    this.takePending();
    this.running = false;
  }

  /** Goes elsewhere while nothing plays. */
  rest(tick: Ticks): void {
    this.position = this.samplesAt(tick);
  }

  /** Lets so many frames pass: everything that falls into them happens. */
  advance(frames: number): void {
    let offset = 0;
    while (offset < frames) {
      const { loop } = this;
      const inLoop =
        loop !== undefined && this.position >= this.loopFrom && this.position < this.loopTo;
      let span = frames - offset;
      if (loop && this.position < this.loopFrom) {
        span = Math.min(span, this.loopFrom - this.position);
      }
      if (inLoop) span = Math.min(span, this.loopTo - this.position);
      if (loop && this.beyond) span = Math.min(span, Math.max(1, this.end - this.position));
      const waits = this.pending ? this.samplesAt(this.pending.at) : -1;
      if (waits > this.position) span = Math.min(span, waits - this.position);
      this.playBetween(inLoop ? loop : undefined, span, offset);
      this.position += span;
      offset += span;
      if (this.pending && this.position >= waits) this.takePending();
      if (inLoop && this.loop === loop && this.position >= this.loopTo) this.goRound();
      else if (this.loop && this.beyond && this.position >= this.end) this.goRound();
    }
  }

  private goRound(): void {
    this.beyond = false;
    this.position = this.loopFrom;
    this.gate = -Infinity;
    this.played.located(this.score, this.loop!.from, false);
  }

  /** Stops at the end of the song. @param silent whether nothing sounds any more */
  stopAtEnd(silent: boolean): void {
    if (!this.running || this.loop || !silent || this.position < this.end) return;
    this.running = false;
    this.ended = true;
  }

  private get end(): Samples {
    return this.samplesAt(this.score.end);
  }

  private playBetween(loop: LoopCue | undefined, span: Samples, offset: Samples): void {
    const { score, gate, position: from } = this;
    const to = from + span;
    const ticks = loop ? loop.ticks : score.ticks;
    for (let i = this.firstAt(ticks, from); i < ticks.length; i++) {
      const at = this.samplesAt(ticks[i]);
      if (at >= to) break;
      const index = loop ? loop.strokes[i] : i;
      if (score.homes[index] >= gate) this.played.stroke(score, index, offset + at - from);
    }
    this.moveBetween(from, to, offset);
    if (from < this.start) this.countBetween(from, to, offset);
    if (this.clicking) this.clickBetween(from, to, offset);
  }

  private moveBetween(from: Samples, to: Samples, offset: Samples): void {
    const { moves } = this.score;
    for (let row = 0; row < moves.length; row += MOVE_SIZE) {
      const at = this.samplesAt(moves[row]);
      if (at >= to) break;
      if (at >= from) this.played.move(this.score, row, offset + at - from);
    }
  }

  private countBetween(from: Samples, to: Samples, offset: Samples): void {
    for (let i = firstFrom(this.countAt, from); i < this.countAt.length; i++) {
      if (this.countAt[i] >= to) break;
      this.played.click(i === 0, offset + this.countAt[i] - from);
    }
  }

  private clickBetween(from: Samples, to: Samples, offset: Samples): void {
    const { clicks, downbeats } = this.score;
    const begin = Math.max(from, this.gate === -Infinity ? from : this.start);
    for (let i = this.firstAt(clicks, begin); i < clicks.length; i++) {
      const at = this.samplesAt(clicks[i]);
      if (at >= to) break;
      this.played.click(downbeats[i] === 1, offset + at - from);
    }
  }

  /** Strokes of the first step that are played before it sound at once when nothing counts in. */
  private strikeEarly(): void {
    const { score, gate, start } = this;
    const { ticks, homes } = score;
    for (let i = this.firstAt(ticks, start) - 1; i >= 0; i--) {
      if (this.samplesAt(ticks[i]) < start - this.sampleRate) break;
      if (homes[i] >= gate) this.played.stroke(score, i, 0);
    }
  }

  /** Index of the first tick whose sample is not before another sample. */
  private firstAt(ticks: Float64Array, sample: Samples): number {
    let low = 0;
    let high = ticks.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.samplesAt(ticks[middle]) < sample) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private samplesAt(tick: Ticks): Samples {
    return this.samplesIn(this.tempo.secondsAt(tick));
  }

  private samplesIn(seconds: Seconds): Samples {
    return Math.round(seconds * this.sampleRate);
  }
}

const NO_CLICKS = new Float64Array(0);

const NO_SCORE: Score = {
  tempo: Float64Array.of(0, 0, 120, 0),
  ticks: new Float64Array(0),
  homes: new Float64Array(0),
  notes: new Uint16Array(0),
  alternates: new Uint16Array(0),
  velocities: new Uint8Array(0),
  chokes: new Uint8Array(0),
  lanes: new Uint16Array(0),
  touch: new Uint32Array(0),
  touches: new Float32Array(0),
  clicks: new Float64Array(0),
  downbeats: new Uint8Array(0),
  moves: new Float64Array(0),
  end: 0,
};
