import {
  DEFAULT_KIT,
  findPiece,
  pieceOf,
  type Family,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { placeHits, type StrandHit } from './hits';

/** The piece of the usual kit that plays what is of a family. */
const USUAL: Readonly<Record<Family, PieceId>> = {
  kick: 'kick',
  snare: 'snare',
  hats: 'hihat',
  toms: 'tom-low-mid',
  cymbals: 'crash',
  percussion: 'clap',
  other: 'clap',
};

/**
 * A pattern as the usual kit plays it: what is struck on pieces that only its own kit has, such as slices of a
 * loop, is struck on the usual piece of their family. It is the same pattern where there is nothing of that.
 */
export function onUsualKit(pattern: Pattern, kit: Kit): Pattern {
  const foreign = pattern.strands.filter(({ piece }) => !findPiece(piece));
  if (foreign.length === 0) return pattern;
  const strands = pattern.strands.filter((strand) => !foreign.includes(strand));
  const hits = foreign.flatMap(({ piece, hits: own }): StrandHit[] => {
    const to = USUAL[pieceOf(piece, kit).family];
    const { id: articulation } = pieceOf(to).articulations[0];
    return own.map((hit) => ({ piece: to, hit: { ...hit, articulation } }));
  });
  return placeHits({ ...pattern, strands }, hits, DEFAULT_KIT);
}
