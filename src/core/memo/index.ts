/** Results that are kept for as long as they are likely to be asked for again, and no longer. */
export { Latest } from './latest';
