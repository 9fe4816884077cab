import { Finds } from './finds';
import { findPiece, type Kit, type PieceId } from './kit';
import { MAX_TICKS } from './limits';
import { salvageFeel, salvageGuide, salvageOffcut } from './salvageExtras';
import { salvagePattern } from './salvagePattern';
import { salvageSection, salvageSpans } from './salvageSection';
import { salvageHits } from './salvageHits';
import type { Song } from './song';

/** Whether nothing has to be said against a value. */
function isSound(read: (finds: Finds) => unknown): boolean {
  const finds = new Finds();
  return read(finds) !== undefined && finds.problems.length === 0;
}

const idsOf = (list: readonly { id: string }[]) => new Set(list.map(({ id }) => id));

/** Whether a value could be a pattern of a song with this kit. */
export function isPattern(value: unknown, kit: Kit): boolean {
  return isSound((finds) => salvagePattern(value, '', kit, finds));
}

/** Whether a value could be a hit on a piece, somewhere in a pattern. */
export function isHit(value: unknown, piece: PieceId, kit: Kit): boolean {
  const struck = findPiece(piece, kit);
  if (!struck) return false;
  const [usual] = struck.articulations;
  const known = struck.articulations.some(
    ({ id }) => id === (value as { articulation?: unknown } | undefined)?.articulation,
  );
  // How it is struck is brought to what the piece knows when it is placed.
  const hit = known ? value : { ...(value as object), articulation: usual.id };
  const room = { where: '', end: MAX_TICKS, ids: new Set<string>(), piece: struck };
  return isSound((finds) => salvageHits([hit], room, finds));
}

/** Whether a value could be a section of a song. */
export function isSection(value: unknown, song: Song): boolean {
  return isSound((finds) => salvageSection(value, '', idsOf(song.patterns), song.kit, finds));
}

/** Whether a value could be a span of a song. */
export function isSpan(value: unknown, song: Song): boolean {
  return isSound((finds) => salvageSpans([value], '', idsOf(song.patterns), song.kit, finds));
}

/** Whether a value could be a guide of a song. */
export function isGuide(value: unknown, song: Song): boolean {
  return isSound((finds) => salvageGuide(value, '', idsOf(song.places), finds));
}

export function isFeel(value: unknown, kit: Kit): boolean {
  return isSound((finds) => salvageFeel(value, '', kit, finds));
}

export function isOffcut(value: unknown, kit: Kit): boolean {
  return isSound((finds) => salvageOffcut(value, '', kit, finds));
}
