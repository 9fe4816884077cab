/** Recorded loops: where their strokes are, what they seem to be, and patterns that play them. */
export { guessLength, tempoOfLoop, type LoopLength } from './guess';
export { kindsOfSlices, SLICE_KINDS, type SliceKind } from './kinds';
export { onsetsOf } from './onsets';
export { MOST_SLICES, slicesAt, takeLoop, type Slice, type SlicedLoop } from './slices';
export { stretchLayer } from './stretchLayer';
