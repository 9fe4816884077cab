import { findPattern, type Song, type Span } from '../model';

/** Names of the spans a draft lays begin with this. */
export const SPAN = 'draft-';

/** Names of the spans over a place whose energy is not that of its section begin with this. */
export const ENERGY_SPAN = `${SPAN}bars-`;

/** The name that patterns of a section or place begin with where they were drafted for it. */
export const ownName = (owner: string) => `${SPAN}${owner.slice(0, 120)}:`;

/** Whether a span was laid by a draft, and still plays what was drafted for its section or place. */
export const isOfDraft = (song: Song, span: Span, owner: string): boolean =>
  span.id.startsWith(SPAN) &&
  span.pattern.startsWith(ownName(owner)) &&
  findPattern(song, span.pattern)?.drafted !== undefined;
