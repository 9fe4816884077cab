import * as Comlink from 'comlink';
import type { SoundId } from '../core/model';
import { buffersOf, synthesise, type KitSound } from '../core/sound';
import type { Hertz } from '../core/time';

const soundWorker = {
  synthesise(note: SoundId, sampleRate: Hertz): KitSound {
    const sound = synthesise(note, sampleRate);
    return Comlink.transfer(sound, buffersOf(sound));
  },
};

export type SoundWorker = typeof soundWorker;

Comlink.expose(soundWorker);
