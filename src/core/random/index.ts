/** Chance that can be had again: every draw follows from a seed. */
export { chance } from './chance';
export { between, seeded, type Random } from './seeded';
