/** Bounce in place: a place, or a track in it, becomes a sound that the song plays instead. */
export {
  bouncedName,
  bouncesIn,
  layBounce,
  reverseBounced,
  takeBounceBack,
  whyNotBounced,
  type Bounce,
  type BouncedHere,
} from './bounced';
export { bouncePart, type BouncePart } from './part';
