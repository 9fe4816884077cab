import {
  byStaffOrder,
  findPiece,
  type Kit,
  type Pattern,
  type PieceId,
  type Strand,
} from '../model';
import { inStepOrder } from '../pattern';
import type { DraftFamily } from './pool';

/** What stands in for a piece that is not there, best first: what sounds like it, then what is struck like it. */
const STAND_INS: Readonly<Record<PieceId, readonly PieceId[]>> = {
  crash: ['crash-2', 'splash', 'china', 'ride'],
  'crash-2': ['crash', 'china', 'splash', 'ride'],
  splash: ['crash', 'crash-2'],
  china: ['crash-2', 'crash'],
  ride: ['ride-2', 'hihat', 'crash'],
  'ride-2': ['ride', 'hihat', 'crash'],
  hihat: ['ride', 'ride-2', 'tambourine'],
  'tom-high': ['tom-hi-mid', 'tom-low-mid', 'tom-low', 'tom-high-floor', 'tom-low-floor', 'snare'],
  'tom-hi-mid': ['tom-high', 'tom-low-mid', 'tom-low', 'tom-high-floor', 'tom-low-floor', 'snare'],
  'tom-low-mid': ['tom-hi-mid', 'tom-low', 'tom-high', 'tom-high-floor', 'tom-low-floor', 'snare'],
  'tom-low': ['tom-low-mid', 'tom-high-floor', 'tom-low-floor', 'tom-hi-mid', 'tom-high', 'snare'],
  'tom-high-floor': ['tom-low-floor', 'tom-low', 'tom-low-mid', 'tom-hi-mid', 'tom-high', 'snare'],
  'tom-low-floor': ['tom-high-floor', 'tom-low', 'tom-low-mid', 'tom-hi-mid', 'tom-high', 'snare'],
  snare: ['clap', 'tom-high'],
  clap: ['snare'],
};

/** What a drummer strikes instead of a piece; undefined where it is left out. */
export function standInFor(piece: PieceId, has: (piece: PieceId) => boolean): PieceId | undefined {
  return has(piece) ? piece : (STAND_INS[piece] ?? []).find(has);
}

/** A pattern played on the pieces that are there: others stand in, or it is left out. */
export function onKit(pattern: Pattern, kit: Kit, has: (piece: PieceId) => boolean): Pattern {
  if (pattern.strands.every(({ piece }) => has(piece))) return pattern;
  const strands = new Map<PieceId, Strand>();
  for (const strand of pattern.strands) {
    const piece = standInFor(strand.piece, has);
    if (piece === undefined) continue;
    const { articulations } = findPiece(piece, kit)!;
    const hits = strand.hits.map((hit) =>
      articulations.some(({ id }) => id === hit.articulation)
        ? hit
        : { ...hit, articulation: articulations[0].id },
    );
    const there = strands.get(piece);
    const taken = new Set(there?.hits.map(({ at }) => at));
    const fresh = hits.filter(({ at }) => !taken.has(at));
    strands.set(piece, {
      ...(there ?? strand),
      piece,
      hits: there ? inStepOrder([...there.hits, ...fresh]) : hits,
    });
  }
  const list = [...strands.values()].sort((a, b) => byStaffOrder(a.piece, b.piece, kit));
  return { ...pattern, strands: list };
}

const played = new WeakMap<readonly DraftFamily[], Map<string, readonly DraftFamily[]>>();

/** Whether a piece is in a kit and not left at home. */
export const hasPiece = (kit: Kit, without: readonly PieceId[]) => (piece: PieceId) =>
  !without.includes(piece) && findPiece(piece, kit) !== undefined;

/** Families as they are played on a kit. The same list for the same kit, so that it is measured once. */
export function familiesOnKit(families: readonly DraftFamily[], kit: Kit): readonly DraftFamily[] {
  let known = played.get(families);
  if (!known) played.set(families, (known = new Map()));
  const key = kit.pieces.map(({ id }) => id).join();
  let list = known.get(key);
  if (!list) {
    const has = hasPiece(kit, []);
    list = families.map((family) => ({
      ...family,
      patterns: family.patterns.map((pattern) => onKit(pattern, kit, has)),
    }));
    known.set(key, list);
  }
  return list;
}
