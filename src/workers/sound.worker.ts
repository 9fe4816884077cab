import * as Comlink from 'comlink';
import type { SampleHash, SoundDesign } from '../core/model';
import { made } from '../core/engine';
import { buffersOf, type KitSound, type Pcm } from '../core/sound';
import type { Hertz } from '../core/time';

const soundWorker = {
  make(design: SoundDesign, sampleRate: Hertz, files: ReadonlyMap<SampleHash, Pcm>): KitSound {
    const sound = made(design, sampleRate, files);
    return Comlink.transfer(sound, buffersOf(sound));
  },
};

export type SoundWorker = typeof soundWorker;

Comlink.expose(soundWorker);
