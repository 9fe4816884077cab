/** Files of sounds that an open specification describes. */
export { readSoundFont, type FontKit, type FontSound, type ReadFont } from './soundFont';
export type { Bytes } from './tables';
