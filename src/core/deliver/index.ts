/** What is handed over: which files a delivery comes to, what is in them, and how they are written. */
export {
  audioParts,
  ENDINGS,
  LEVELS,
  mixedFor,
  onlyTrack,
  USUAL_AUDIO,
  type AudioPart,
  type AudioWish,
  type Ending,
  type Levelling,
} from './audio';
export {
  CHART_FORMS,
  chartOf,
  HANDED,
  PACKINGS,
  READY_DELIVERIES,
  TEXT_FORMS,
  USUAL_DELIVERY,
  type Chart,
  type ChartForm,
  type Delivery,
  type Handed,
  type Packing,
  type TextForm,
} from './delivery';
export {
  LENGTHS,
  mapsFor,
  MAX_PPQ,
  midiBytes,
  midiOptions,
  MIN_PPQ,
  songOfFile,
  TRACKINGS,
  USUAL_MIDI,
  type Lengths,
  type MidiWish,
  type Tracking,
} from './midi';
export {
  EACH,
  partOf,
  partsOf,
  USUAL_NAMES,
  type Each,
  type NamedPart,
  type Part,
  type PartWish,
  type What,
} from './part';
export { plannedFiles, type PlannedFile } from './planned';
export {
  gainOf,
  heldBack,
  renderPart,
  soundsOfPart,
  type Encoding,
  type Rendered,
  type RenderForm,
} from './rendered';
export {
  BITRATES,
  depthsOf,
  ratesOf,
  SOUND_KINDS,
  soundBytes,
  writable,
  type Bitrate,
  type SoundForm,
  type SoundKind,
} from './soundForm';
export { csvOfSong, tabOfSong, type WrittenText } from './text';
export { DEPTHS, frameBytes, RATES, WavStream, wavBytes, wavHeaderBytes, type Depth } from './wav';
