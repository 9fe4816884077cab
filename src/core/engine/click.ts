import type { Layer } from '../sound';
import type { Hertz, Samples } from '../time';
import { BLOCK } from './block';
import { Voice } from './voice';

/** How hard the click strikes. */
const VELOCITY = 100;

/** The click track: a higher sound on the first beat of a bar than on the others. */
export class Click {
  private readonly voice = new Voice();
  private readonly buffer = new Float32Array(BLOCK);
  private readonly downbeat: readonly Layer[];
  private readonly beat: readonly Layer[];

  constructor(private readonly sampleRate: Hertz) {
    this.downbeat = [clickSound(sampleRate, 1320)];
    this.beat = [clickSound(sampleRate, 990)];
  }

  start(isDownbeat: boolean, wait: Samples): void {
    this.voice.start(isDownbeat ? this.downbeat : this.beat, VELOCITY, this.sampleRate, wait);
  }

  mixTo(left: Float32Array, right: Float32Array, frames: number): void {
    if (!this.voice.active) return;
    this.buffer.fill(0);
    this.voice.mix(this.buffer, frames);
    for (let i = 0; i < frames; i++) {
      left[i] += this.buffer[i];
      right[i] += this.buffer[i];
    }
  }
}

function clickSound(sampleRate: Hertz, frequency: Hertz): Layer {
  const left = new Float32Array(Math.round(0.045 * sampleRate));
  for (let i = 0; i < left.length; i++) {
    const t = i / sampleRate;
    left[i] = 0.4 * Math.sin(2 * Math.PI * frequency * t) * Math.exp(-t / 0.009);
  }
  return { left, rate: sampleRate, curve: 'body' };
}
