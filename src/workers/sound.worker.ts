import type { SoundId } from '../core/model';
import * as Comlink from 'comlink';
import { synthesise, type KitSound } from '../core/sound';
import type { Hertz } from '../core/time';

const soundWorker = {
  synthesise(note: SoundId, sampleRate: Hertz): KitSound {
    const sound = synthesise(note, sampleRate);
    const buffers = sound.alternates.flatMap(({ body, edge }) => [body.buffer, edge.buffer]);
    return Comlink.transfer(sound, buffers as ArrayBuffer[]);
  },
};

export type SoundWorker = typeof soundWorker;

Comlink.expose(soundWorker);
