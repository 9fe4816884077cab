/** What a delivery may be: values that are wished for, kept, and held against their limits. Nothing is made here. */
export { ENDINGS, LEVELS, USUAL_AUDIO, type AudioWish, type Ending, type Levelling } from './audio';
export {
  CHART_FORMS,
  HANDED,
  PACKINGS,
  READY_DELIVERIES,
  TEXT_FORMS,
  USUAL_DELIVERY,
  type ChartForm,
  type Delivery,
  type Handed,
  type Packing,
  type TextForm,
} from './delivery';
export {
  LENGTHS,
  MAX_PPQ,
  MIN_PPQ,
  TRACKINGS,
  USUAL_MIDI,
  type Lengths,
  type MidiWish,
  type Tracking,
} from './midi';
export { EACH, USUAL_NAMES, type Each, type PartWish, type What } from './part';
export {
  BITRATES,
  DEPTHS,
  depthsOf,
  frameBytes,
  infoBytes,
  MP3_DELAY,
  MP3_FRAME,
  mp3Bytes,
  RATES,
  ratesOf,
  SOUND_KINDS,
  soundBytes,
  wavBytes,
  wavHeaderBytes,
  writable,
  type Bitrate,
  type Depth,
  type SoundForm,
  type SoundKind,
} from './sound';
