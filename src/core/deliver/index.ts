/** What is handed over: which files a delivery comes to, what is in them, and how they are written. */
export * from '../wishes';
export { audioParts, mixedFor, onlyTrack, type AudioPart, type HeardSong } from './audio';
export { chartOf, type Chart } from './chart';
export { mapsFor, midiBytes, midiOptions, resolutionOf, rounded, songOfFile } from './midi';
export { mp3Info } from './mp3';
export { partOf, partsOf, whatIn, type NamedPart, type Part } from './part';
export { plannedFiles, type PlannedFile } from './planned';
export {
  gainOf,
  heldBack,
  renderPart,
  soundsOfPart,
  type Gain,
  type Rendered,
  type RenderForm,
} from './rendered';
export { StemSum } from './stemSum';
export { csvOfSong, tabOfSong, type WrittenText } from './text';
export { WavStream } from './wav';
export type { Encoding } from './encoding';
