/** What of a song is meant: places or a pattern by their ids; none is the whole song. */
export interface PartWish {
  pattern?: string;
  place?: string;
  /** Several places, one after another in the order of the song. */
  places?: readonly string[];
  /** How often a pattern is played; absent is until everything in it was heard. */
  passes?: number;
}

/** Several parts, a file each: the sections one after another (those that are chosen, where some are), or the
 * patterns of the shelf. */
export const EACH = ['sections', 'patterns'] as const;
export type Each = (typeof EACH)[number];

/** What of a song is handed over: one part of it, or several by themselves. */
export interface What extends PartWish {
  each?: Each;
}

/** The usual names: of one file among several. */
export const USUAL_NAMES = '{song} {nn} {part}';
