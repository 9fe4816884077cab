/** Whether a drummer can play it: two hands, two feet, so fast and so far. */
export { leftOutBy } from './limbs';
export { impossibles, mend, type Asks, type Impossible } from './playable';
export { strokeReader } from './strokes';
