import { registerFlacEncoder } from '@mediabunny/flac-encoder';
import { registerMp3Encoder } from '@mediabunny/mp3-encoder';
import {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  FlacOutputFormat,
  Mp3OutputFormat,
  Output,
  StreamTarget,
} from 'mediabunny';
import {
  frameBytes,
  infoBytes,
  mp3Info,
  wavHeaderBytes,
  WavStream,
  type Encoding,
  type SoundForm,
} from '../../core/deliver';
import type { Samples } from '../../core/time';
import { InMemory, OnDisk } from './target';

/** A file of sound that is being written. */
export interface SoundFile {
  /** Takes all samples; of a loop those that come after its beginning. */
  readonly rest: Encoding;
  /** Takes the beginning of a loop, after the rest. */
  readonly beginning: Encoding;
  /** Ends it. @returns the file, where it is not on the disk */
  finish(): Promise<Blob | undefined>;
}

/** @param held so many samples are the beginning, which comes last */
export function soundFile(form: SoundForm, held: Samples, disk?: OnDisk): SoundFile {
  return form.kind === 'wav' ? wavFile(form, held, disk) : packedFile(form, held > 0, disk);
}

function wavFile({ depth, rate }: SoundForm, held: Samples, disk?: OnDisk): SoundFile {
  const stream = new WavStream(depth, rate);
  const memory = new InMemory();
  const target = disk ?? memory;
  const from = (samples: Samples): Encoding => {
    let position = wavHeaderBytes(depth) + samples * frameBytes(depth);
    return {
      add(left, right) {
        const bytes = stream.bytes(left, right) as Uint8Array<ArrayBuffer>;
        position += bytes.length;
        return target.write(position - bytes.length, bytes);
      },
    };
  };
  return {
    rest: from(held),
    beginning: from(0),
    async finish() {
      await target.write(0, stream.header() as Uint8Array<ArrayBuffer>);
      return disk ? undefined : memory.blob('audio/wav');
    },
  };
}

/** A file whose samples are packed one after another: a loop is kept until its beginning is there. */
function packedFile(form: SoundForm, isLoop: boolean, disk?: OnDisk): SoundFile {
  const { kind, rate, bitrate } = form as SoundForm & { kind: 'flac' | 'mp3' };
  if (kind === 'flac') registerFlacEncoder();
  else registerMp3Encoder();
  const source = new AudioSampleSource({
    codec: kind,
    ...(kind === 'mp3' && { bitrate: bitrate * 1000 }),
    onEncodedPacket: (packet) => {
      frames++;
      bytes += packet.byteLength;
    },
  });
  let [frames, bytes] = [0, 0];
  // The frame that describes an MP3 file is written last, before the rest.
  const before = kind === 'mp3' ? infoBytes(rate, bitrate) : 0;
  const target = disk ? new StreamTarget(disk.openAt(before)) : new BufferTarget();
  const output = new Output({
    format: kind === 'mp3' ? new Mp3OutputFormat({ xingHeader: false }) : new FlacOutputFormat(),
    target,
  });
  output.addAudioTrack(source);
  const started = output.start();
  const samplesOf = kind === 'flac' ? wholeSamples(form) : floatSamples;
  let done: Samples = 0;
  const encoding: Encoding = {
    async add(left, right) {
      if (left.length === 0) return;
      await started;
      const sample = new AudioSample({
        ...samplesOf(left, right),
        numberOfChannels: 2,
        sampleRate: rate,
        timestamp: done / rate,
      });
      done += left.length;
      await source.add(sample);
      sample.close();
    },
  };
  const kept = new Kept();
  return {
    rest: isLoop ? kept : encoding,
    beginning: encoding,
    async finish() {
      await kept.playTo(encoding);
      await output.finalize();
      const about = { rate, kilobits: bitrate, samples: done, frames, bytes };
      const info = kind === 'mp3' ? (mp3Info(about) as Uint8Array<ArrayBuffer>) : new Uint8Array(0);
      if (!(target instanceof BufferTarget)) {
        if (info.length > 0) await disk!.write(0, info);
        return undefined;
      }
      return new Blob([info, target.buffer!], {
        type: `audio/${kind === 'mp3' ? 'mpeg' : kind}`,
      });
    },
  };
}

/** Samples as the whole numbers that a WAV file of that depth has, with its dither. */
function wholeSamples({ depth, rate }: SoundForm) {
  const stream = new WavStream(depth, rate);
  return (left: Float32Array, right: Float32Array) => {
    const bytes = stream.bytes(left, right) as Uint8Array<ArrayBuffer>;
    if (depth === '16') return { data: bytes.slice(), format: 's16' as const };
    // Of 32 bits the upper 24.
    const data = new Uint8Array((bytes.length / 3) * 4);
    for (let from = 0, to = 1; from < bytes.length; from += 3, to += 4) {
      data[to] = bytes[from];
      data[to + 1] = bytes[from + 1];
      data[to + 2] = bytes[from + 2];
    }
    return { data, format: 's32' as const };
  };
}

function floatSamples(left: Float32Array, right: Float32Array) {
  const data = new Float32Array(2 * left.length);
  data.set(left);
  data.set(right, left.length);
  return { data, format: 'f32-planar' as const };
}

/** Samples that wait for those before them. */
class Kept implements Encoding {
  private readonly pieces: Blob[] = [];

  add(left: Float32Array, right: Float32Array): void {
    this.pieces.push(
      new Blob([left as Float32Array<ArrayBuffer>, right as Float32Array<ArrayBuffer>]),
    );
  }

  async playTo(encoding: Encoding): Promise<void> {
    for (const piece of this.pieces) {
      const both = new Float32Array(await piece.arrayBuffer());
      const middle = both.length / 2;
      await encoding.add(both.subarray(0, middle), both.subarray(middle));
    }
  }
}
