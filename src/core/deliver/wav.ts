import wavEncoder from 'wav-encoder';
import { seeded } from '../random';
import { frameBytes, wavHeaderBytes, type Depth } from '../wishes';
import type { Hertz, Samples } from '../time';

/** Bytes that the encoder writes before the samples. */
const PLAIN = 44;
/** Where the encoder's description of the samples ends, in bytes. */
const DESCRIBED = 36;

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

  /**
   * The header, once all samples are written. Samples of floating point need a description with an extension,
   * here an empty one, and a `fact` chunk with how many samples there are. Source: Microsoft, "New Multimedia
   * Data Types and Data Techniques", 1994.
   */
  header(): Uint8Array {
    const plain = this.encoded(new Float32Array(0), new Float32Array(0)).slice(0, PLAIN);
    const header = new Uint8Array(wavHeaderBytes(this.depth));
    header.set(plain.subarray(0, DESCRIBED));
    header.set(plain.subarray(DESCRIBED), header.length - (PLAIN - DESCRIBED));
    const view = new DataView(header.buffer);
    const data = this.frames * frameBytes(this.depth);
    view.setUint32(4, header.length - 8 + data, true);
    view.setUint32(header.length - 4, data, true);
    if (this.depth === 'float') {
      view.setUint32(16, 18, true);
      header.set(new TextEncoder().encode('fact'), DESCRIBED + 2);
      view.setUint32(DESCRIBED + 6, 4, true);
      view.setUint32(DESCRIBED + 10, this.frames, true);
    }
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
    if (this.depth === 'float') return this.encoded(left, right).subarray(PLAIN);
    const step = 2 ** (1 - Number(this.depth));
    const [one, other] = [left, right].map((side, n) => {
      const random = this.randoms[n];
      return side.map((sample) => sample + (random() - random()) * step);
    });
    return this.encoded(one, other).subarray(PLAIN);
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
