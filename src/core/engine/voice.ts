import type { Hertz, Samples, Velocity } from '../time/units';

/** One stroke that sounds: reads its two layers into a strip until they end or it is choked. */
export class Voice {
  active = false;
  strip = 0;
  choke = 0;
  note = 0;
  private body: Float32Array = EMPTY;
  private edge: Float32Array = EMPTY;
  private bodyGain = 0;
  private edgeGain = 0;
  private at = 0;
  private fade = 1;
  private fadeStep = 0;
  /** In which frame of the coming block it starts; 0 once it runs. */
  private wait = 0;
  /** In which frame of the coming block a choke sets in; -1 is none. */
  private chokeAt = -1;
  private fadeLength = 1;
  /** What is done to the sound; undefined for most. */
  touch: VoiceTouch | undefined;
  private readonly ownTouch: VoiceTouch = { pan: 0, rate: 1, reverse: false, room: 0, echo: 0 };
  /** Samples left until the stroke is choked; infinite for most. */
  private left = Infinity;
  /** Where the sound is read, when it is not read sample by sample. */
  private phase = 0;

  start(
    layers: { body: Float32Array; edge: Float32Array },
    velocity: Velocity,
    strip: number,
    sound: { note: number; choke: number },
    wait: Samples,
  ): void {
    this.touch = undefined;
    this.left = Infinity;
    this.active = true;
    this.strip = strip;
    this.choke = sound.choke;
    this.note = sound.note;
    this.body = layers.body;
    this.edge = layers.edge;
    this.bodyGain = loudness(velocity);
    this.edgeGain = this.bodyGain * brightness(velocity);
    this.at = 0;
    this.fade = 1;
    this.fadeStep = 0;
    this.wait = wait;
    this.chokeAt = -1;
  }

  /** Fades the stroke out within `length` samples, from frame `from` of the coming block on. */
  cut(from: Samples, length: Samples): void {
    if (this.isCut) return;
    this.chokeAt = from;
    this.fadeLength = length;
  }

  /**
   * Changes the sound of the stroke that was just started.
   * @param row where its numbers begin in `touches` (see `Score`)
   */
  change(touches: Float32Array, row: number, sampleRate: Hertz): void {
    const touch = this.ownTouch;
    const stopped = Math.round(touches[row] * sampleRate);
    touch.pan = touches[row + 1];
    touch.rate = touches[row + 2];
    touch.reverse = touches[row + 3] === 1;
    touch.room = touches[row + 4];
    touch.echo = touches[row + 5];
    this.touch = touch;
    this.phase = 0;
    if (touch.reverse) {
      // It swells for as long as it was to ring, and ends with its stroke.
      const whole = this.body.length - 1;
      this.phase = stopped > 0 ? Math.min(whole, stopped * touch.rate) : whole;
    } else if (stopped > 0) {
      this.left = stopped;
    }
  }

  /** Writes its samples over `out`, with its touch: for the engine to place and send on. */
  mixTouched(out: Float32Array, frames: number): void {
    const { body, edge, bodyGain, edgeGain } = this;
    const { rate, reverse } = this.touch!;
    const step = reverse ? -rate : rate;
    out.fill(0, 0, frames);
    let i = this.wait;
    this.wait = 0;
    if (this.chokeAt < 0 && this.fadeStep === 0 && this.left < frames - i) {
      this.chokeAt = i + Math.max(0, Math.round(this.left));
      this.fadeLength = Math.min(this.left + 1, DAMPED);
    }
    this.left -= frames - i;
    const last = body.length - 1;
    for (; i < frames && this.fade > 0; i++) {
      if (this.phase < 0 || this.phase > last) {
        this.active = false;
        break;
      }
      if (this.fadeStep > 0 || (this.chokeAt >= 0 && i >= this.chokeAt)) {
        this.fadeStep = 1 / this.fadeLength;
        this.fade -= this.fadeStep;
        if (this.fade <= 0) break;
      }
      const at = Math.floor(this.phase);
      const share = this.phase - at;
      const next = at < last ? at + 1 : at;
      let sample = (body[at] + (body[next] - body[at]) * share) * bodyGain;
      if (next < edge.length) sample += (edge[at] + (edge[next] - edge[at]) * share) * edgeGain;
      out[i] = sample * this.fade;
      this.phase += step;
      this.at++;
    }
    this.chokeAt = -1;
    if (this.fade <= 0) this.active = false;
  }

  /** Adds its samples to the strip's buffer, frames `from` to `to`. */
  mix(buffer: Float32Array, from: number, to: number): void {
    const { body, edge, bodyGain, edgeGain } = this;
    // `| 0` keeps the counters whole numbers for the compiler, in the loops that take most time.
    let i = (from + this.wait) | 0;
    this.wait = 0;
    let at = this.at | 0;
    const end = Math.min(to, i + body.length - at) | 0;
    if (this.fadeStep === 0 && this.chokeAt < 0) {
      const both = Math.min(end, i + Math.max(0, edge.length - at)) | 0;
      for (; i < both; i++, at++) buffer[i] += body[at] * bodyGain + edge[at] * edgeGain;
      for (; i < end; i++, at++) buffer[i] += body[at] * bodyGain;
    } else {
      const set = this.chokeAt >= 0 ? this.chokeAt : from;
      for (; i < end && this.fade > 0; i++, at++) {
        if (i >= set) {
          this.fadeStep = 1 / this.fadeLength;
          this.fade -= this.fadeStep;
          if (this.fade <= 0) break;
        }
        const sample = body[at] * bodyGain + (at < edge.length ? edge[at] * edgeGain : 0);
        buffer[i] += sample * this.fade;
      }
      this.chokeAt = -1;
    }
    this.at = at;
    if (at >= body.length || this.fade <= 0) this.active = false;
  }

  /** Whether it is fading out, or about to. */
  get isCut(): boolean {
    return this.fadeStep > 0 || this.chokeAt >= 0;
  }

  /** How far it has been played, for choosing which voice to give up. */
  get age(): Samples {
    return this.at;
  }
}

/** What is done to the sound of one stroke. */
export interface VoiceTouch {
  pan: number;
  /** Samples of the sound a frame: 2 is an octave up. */
  rate: number;
  reverse: boolean;
  room: number;
  echo: number;
}

/** A stroke that is stopped by hand is silent after so many samples. */
const DAMPED: Samples = 1200;

const EMPTY = new Float32Array(0);

/**
 * Level of the body for a velocity.
 * Source: the square law that General MIDI 2 recommends (40 log10(v / 127) dB), a little flatter
 * so that ghost notes stay audible beside accents.
 */
function loudness(velocity: Velocity): number {
  return (velocity / 127) ** 1.7;
}

/** Share of the edge layer: none in the softest strokes, all of it in the hardest. */
function brightness(velocity: Velocity): number {
  return (velocity / 127) ** 1.4;
}
