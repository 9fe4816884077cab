/** The synthesised kit: how its strokes are computed, filters, and the strings of guides. */
export { Biquad, coefficients, filtered, gainThrough, type Coefficients } from './biquad';
export { KNEE, levelAfter, reductionAt } from './dynamics';
export { ALTERNATES, synthesise } from './kit';
export {
  bodyOf,
  buffersOf,
  gainOf,
  oneZone,
  type KitSound,
  type Layer,
  type Zone,
} from './kitSound';
export { integratedLoudness, LoudnessMeter, weighting } from './loudness';
export { FIRST_PLUCK, pluckedString, pluckOf } from './pluck';
