import wavEncoder from 'wav-encoder';
import { seeded } from '../random';
import { frameBytes, wavHeaderBytes, type Depth } from '../wishes';
import type { Hertz, Samples } from '../time';

const HEADER = wavHeaderBytes;

/** A WAV file, written piece by piece. */
export class WavStream {
  frames: Samples = 0;
  /** The loudest sample that was written. */
  peak = 0;
  /** Each side has its own, so that a file is the same in however many pieces it is written. */
  private readonly randoms: readonly [() => number, () => number];

  /** @param seed of the dither: the same song is the same file */
  constructor(
    readonly depth: Depth,
    readonly rate: Hertz,
    seed = 1,
  ) {
    this.randoms = [seeded(seed), seeded(seed + 1)];
  }

  /** What stands before all samples, once all of them are written. */
  header(): Uint8Array {
    const header = this.encoded(new Float32Array(0), new Float32Array(0)).slice(0, HEADER);
    const view = new DataView(header.buffer);
    const data = this.frames * frameBytes(this.depth);
    view.setUint32(4, HEADER - 8 + data, true);
    view.setUint32(40, data, true);
    return header;
  }

  /**
   * Samples of both sides as bytes. Whole numbers get triangular dither of one step, so that what is softer than a
   * step is heard as noise and not as distortion. Source: Lipshitz, Wannamaker, Vanderkooy, "Quantization and
   * Dither: A Theoretical Survey", JAES 40:5, 1992.
   */
  bytes(left: Float32Array, right: Float32Array): Uint8Array {
    this.frames += left.length;
    for (const side of [left, right])
      for (const sample of side) this.peak = Math.max(this.peak, Math.abs(sample));
    if (this.depth === 'float') return this.encoded(left, right).subarray(HEADER);
    const step = 2 ** (1 - Number(this.depth));
    const [one, other] = [left, right].map((side, n) => {
      const random = this.randoms[n];
      return side.map((sample) => sample + (random() - random()) * step);
    });
    return this.encoded(one, other).subarray(HEADER);
  }

  private encoded(left: Float32Array, right: Float32Array): Uint8Array {
    const options =
      this.depth === 'float'
        ? { float: true, bitDepth: 32, symmetric: false }
        : { float: false, bitDepth: Number(this.depth), symmetric: true };
    const audio = { sampleRate: this.rate, channelData: [left, right] };
    return new Uint8Array(wavEncoder.encode.sync(audio, options));
  }
}
