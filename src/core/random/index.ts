/** Chance that can be had again: every draw follows from a seed. */
export { between, seeded, type Random } from './seeded';
