/** The synthesised kit: recipes, filters, and the strings of guides. */
export { Biquad, coefficients, filtered, type Coefficients } from './biquad';
export { ALTERNATES, synthesise } from './kit';
export { bodyOf, buffersOf, oneZone, type KitSound, type Layer, type Zone } from './kitSound';
export { FIRST_PLUCK, pluckedString, pluckOf } from './pluck';
export {
  bell,
  clap,
  crash,
  hat,
  jingle,
  kick,
  rattle,
  ride,
  rideBell,
  sideStick,
  skin,
  snare,
  tom,
  whistle,
  wood,
  type Layers,
  type Recipe,
} from './recipes';
export { band, highpass, lowpass, Stroke, type Bench } from './stroke';
