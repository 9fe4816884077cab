import * as Comlink from 'comlink';
import { readSoundFont } from '../core/fonts';

const fontsWorker = { read: readSoundFont };

export type FontsWorker = typeof fontsWorker;

Comlink.expose(fontsWorker);
