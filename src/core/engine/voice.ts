import { gainOf, type Layer } from '../sound';
import type { Hertz, Samples, Seconds, Velocity } from '../time';
import { BLOCK } from './block';
import { TOUCH_SIZE } from './score';

/** How many layers of a sound are heard at once. */
const LAYERS = 12;

/** A stroke that is stopped by hand is silent after so many samples. */
const DAMPED: Samples = 1200;

/** What is done to the sound of one stroke. */
export interface VoiceTouch {
  pan: number;
  /** Samples of the sound a frame: 2 is an octave up. */
  rate: number;
  reverse: boolean;
  room: number;
  echo: number;
}

/** One stroke that sounds: reads the layers of its sound until they end or it is choked. */
export class Voice {
  active = false;
  lane = 0;
  choke = 0;
  note = 0;
  /** What is done to the sound; undefined for most. */
  touch: VoiceTouch | undefined;
  /** Whether it has two sides of its own. */
  stereo = false;
  /** What `mixAny` wrote last. */
  readonly left = new Float32Array(BLOCK);
  readonly right = new Float32Array(BLOCK);

  private readonly ownTouch: VoiceTouch = { pan: 0, rate: 1, reverse: false, room: 0, echo: 0 };
  private count = 0;
  private readonly lefts: Float32Array[] = new Array<Float32Array>(LAYERS).fill(NOTHING);
  private readonly rights: Float32Array[] = new Array<Float32Array>(LAYERS).fill(NOTHING);
  private readonly gains = new Float64Array(LAYERS);
  /** Samples of each layer that pass in one frame, and where each is read. */
  private readonly steps = new Float64Array(LAYERS);
  private readonly phases = new Float64Array(LAYERS);
  /** Two layers or fewer of one side, read sample by sample: by far the most strokes. */
  private simple = true;
  private at = 0;
  private fade = 1;
  private fadeStep = 0;
  /** In which frame of the coming block it starts; 0 once it runs. */
  private wait: Samples = 0;
  /** In which frame of the coming block a choke sets in; -1 is none. */
  private chokeAt = -1;
  private fadeLength = 1;
  /** Samples left until the stroke is stopped; infinite for most. */
  private rest = Infinity;
  /** It comes in within so many samples: one that begins in the middle of its sound would click. */
  private rise: Samples = 0;

  /**
   * Begins a stroke.
   * @param rate of the engine: layers of other rates are read faster or slower
   * @param level how much louder it is than its velocity says, as a factor
   * @param edge how much more of its edge it has, as a factor
   */
  start(
    layers: readonly Layer[],
    velocity: Velocity,
    rate: Hertz,
    wait: Samples,
    level = 1,
    edge = 1,
  ): void {
    this.active = true;
    this.touch = undefined;
    this.stereo = false;
    this.rest = Infinity;
    this.rise = 0;
    this.at = 0;
    this.fade = 1;
    this.fadeStep = 0;
    this.chokeAt = -1;
    this.wait = wait;
    this.count = Math.min(LAYERS, layers.length);
    this.simple = this.count <= 2;
    for (let i = 0; i < this.count; i++) {
      const layer = layers[i];
      this.lefts[i] = layer.left;
      this.rights[i] = layer.right ?? layer.left;
      this.gains[i] = gainOf(layer, velocity) * (layer.curve === 'edge' ? level * edge : level);
      this.steps[i] = layer.rate / rate;
      this.phases[i] = 0;
      if (layer.right) this.stereo = true;
      if (layer.right || layer.rate !== rate) this.simple = false;
    }
    for (let i = this.count; i < 2; i++) {
      this.lefts[i] = NOTHING;
      this.gains[i] = 0;
    }
  }

  /** Fades the stroke out within `length` samples, from frame `from` of the coming block on. */
  cut(from: Samples, length: Samples): void {
    if (this.isCut) return;
    this.chokeAt = from;
    this.fadeLength = Math.max(1, length);
  }

  /**
   * Changes the sound of the stroke that was just started.
   * @param row which row of `touches` (see `Score`), counted from 0
   */
  change(touches: Float32Array, row: number, sampleRate: Hertz): void {
    const from = row * TOUCH_SIZE;
    const touch = this.ownTouch;
    const stopped = Math.round(touches[from] * sampleRate);
    touch.pan = touches[from + 1];
    touch.rate = touches[from + 2];
    touch.reverse = touches[from + 3] === 1;
    touch.room = touches[from + 4];
    touch.echo = touches[from + 5];
    this.touch = touch;
    for (let i = 0; i < this.count; i++) {
      this.steps[i] *= touch.reverse ? -touch.rate : touch.rate;
      if (!touch.reverse) continue;
      // It swells for as long as it was to ring, and ends with its stroke.
      const whole = this.lefts[i].length - 1;
      const swell = stopped > 0 ? Math.min(whole, stopped * -this.steps[i]) : whole;
      this.phases[i] = swell;
      if (swell < whole) this.rise = Math.round(RISE * sampleRate);
    }
    if (!touch.reverse && stopped > 0) this.rest = stopped;
  }

  /** Whether the fast way of mixing serves. */
  get isSimple(): boolean {
    return this.simple && this.touch === undefined;
  }

  /** Whether it is fading out, or about to. */
  get isCut(): boolean {
    return this.fadeStep > 0 || this.chokeAt >= 0;
  }

  /** How far it has been played, for choosing which voice to give up. */
  get age(): Samples {
    return this.at;
  }

  /** Adds the samples of a simple stroke to a buffer. */
  mix(buffer: Float32Array, frames: number): void {
    const [body, edge] = this.lefts;
    const [bodyGain, edgeGain] = this.gains;
    // `| 0` keeps the counters whole numbers for the compiler, in the loops that take most time.
    let i = this.wait | 0;
    this.wait = 0;
    let at = this.at | 0;
    const length = Math.max(body.length, edge.length);
    const end = Math.min(frames, i + length - at) | 0;
    if (this.fadeStep === 0 && this.chokeAt < 0) {
      const both = Math.min(end, i + Math.max(0, Math.min(body.length, edge.length) - at)) | 0;
      for (; i < both; i++, at++) buffer[i] += body[at] * bodyGain + edge[at] * edgeGain;
      const [longer, gain] = body.length >= edge.length ? [body, bodyGain] : [edge, edgeGain];
      for (; i < end; i++, at++) buffer[i] += longer[at] * gain;
    } else {
      const set = this.fadeStep > 0 ? 0 : this.chokeAt;
      for (; i < end && this.fade > 0; i++, at++) {
        if (i >= set) {
          this.fadeStep = 1 / this.fadeLength;
          this.fade -= this.fadeStep;
          if (this.fade <= 0) break;
        }
        const low = at < body.length ? body[at] * bodyGain : 0;
        const sample = low + (at < edge.length ? edge[at] * edgeGain : 0);
        buffer[i] += sample * this.fade;
      }
      this.chokeAt = -1;
    }
    this.at = at;
    if (at >= length || this.fade <= 0) this.active = false;
  }

  /** Writes the samples of any stroke over `left` and, where it has two sides, over `right`. */
  mixAny(frames: number): void {
    const { left, right, stereo } = this;
    left.fill(0, 0, frames);
    if (stereo) right.fill(0, 0, frames);
    let i = this.wait;
    this.wait = 0;
    const ends = this.rest < frames - i;
    if (ends && this.chokeAt < 0 && this.fadeStep === 0) {
      this.chokeAt = i + Math.max(0, Math.round(this.rest));
      this.fadeLength = DAMPED;
    }
    this.rest -= frames - i;
    const set = this.fadeStep > 0 ? 0 : this.chokeAt < 0 ? Infinity : this.chokeAt;
    for (; i < frames && this.active && this.fade > 0; i++) {
      if (i >= set) {
        this.fadeStep = 1 / this.fadeLength;
        this.fade = Math.max(0, this.fade - this.fadeStep);
      }
      this.readFrame(i);
      this.at++;
    }
    this.chokeAt = -1;
    if (this.fade <= 0) this.active = false;
  }

  private readFrame(i: number): void {
    const { left, right, stereo, phases, steps, gains, fade } = this;
    const come = this.at < this.rise ? (fade * this.at) / this.rise : fade;
    let sounding = false;
    for (let n = 0; n < this.count; n++) {
      const samples = this.lefts[n];
      const phase = phases[n];
      const last = samples.length - 1;
      if (phase < 0 || phase > last) continue;
      sounding = true;
      const at = Math.floor(phase);
      const next = at < last ? at + 1 : at;
      const share = phase - at;
      const gain = gains[n] * come;
      left[i] += (samples[at] + (samples[next] - samples[at]) * share) * gain;
      if (stereo) {
        const other = this.rights[n];
        right[i] += (other[at] + (other[next] - other[at]) * share) * gain;
      }
      phases[n] = phase + steps[n];
    }
    if (!sounding) this.active = false;
  }
}

/** How long that takes. */
const RISE: Seconds = 0.01;

const NOTHING = new Float32Array(0);
