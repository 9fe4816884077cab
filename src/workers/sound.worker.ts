import * as Comlink from 'comlink';
import type { CharacterId, SoundId } from '../core/model';
import { buffersOf, synthesise, type KitSound } from '../core/sound';
import type { Hertz } from '../core/time';

const soundWorker = {
  synthesise(note: SoundId, sampleRate: Hertz, kit: CharacterId): KitSound {
    const sound = synthesise(note, sampleRate, kit);
    return Comlink.transfer(sound, buffersOf(sound));
  },
};

export type SoundWorker = typeof soundWorker;

Comlink.expose(soundWorker);
