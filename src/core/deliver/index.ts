/** What is handed over: which files a wish comes to, and how they are written. */
export { audioParts, USUAL_WISH, type AudioPart, type AudioWish } from './audio';
export { EACH, midiFiles, USUAL_NAMES, type Each, type MidiFile, type MidiWish } from './midi';
export { partOf, type Part, type PartWish } from './part';
export { DEPTHS, frameBytes, RATES, WavStream, wavBytes, type Depth } from './wav';
