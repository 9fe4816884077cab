/** Small changes that keep a song from sounding copied, as a drummer would make them. */
export { BOLDNESS, VARIATIONS, type Boldness, type Variation } from './kinds';
export { offers, takeOffer, type VaryOffer, type Wishes } from './offers';
