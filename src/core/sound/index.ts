/** The synthesised kit: how its strokes are computed, filters, and the strings of guides. */
export { Biquad, coefficients, filtered, gainThrough, type Coefficients } from './biquad';
export { designed, gainBack, type Pcm } from './designed';
export { KNEE, levelAfter, ratioReaching, reductionAt } from './dynamics';
export { ALTERNATES, synthesise } from './kit';
export {
  bodyOf,
  buffersOf,
  gainOf,
  oneZone,
  sharedVelocities,
  type KitSound,
  type Layer,
  type Zone,
} from './kitSound';
export { integratedLoudness, LoudnessMeter, weighting } from './loudness';
export { hashOfSound } from './hash';
export { isPluck, pluckedString, pluckOf } from './pluck';
export { resampled } from './resample';
export { levelOfFile, outlineOf, spreadFiles, type Spread } from './spread';
