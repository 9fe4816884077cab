/**
 * A number in [0, 1) for some words and numbers: the same for the same ones, whatever was asked before. So a
 * decision keeps its outcome when others are made or not made around it.
 * Source: FNV-1a of Fowler, Noll and Vo, closed by the finalising steps of MurmurHash3 by Austin Appleby.
 */
export function chance(...of: readonly (string | number)[]): number {
  let h = 0x811c9dc5;
  for (const part of of) {
    if (typeof part === 'number') h = Math.imul(h ^ Math.round(part), 0x01000193) ^ (h >>> 15);
    else for (let i = 0; i < part.length; i++) h = Math.imul(h ^ part.charCodeAt(i), 0x01000193);
    // Words that follow each other are not one word.
    h = Math.imul(h ^ 0x7c, 0x01000193);
  }
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}
