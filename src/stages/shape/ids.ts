import type { PieceId } from '@/core/model';
import type { Ticks } from '@/core/time';

/** The element id of a step, by which the grid says where its cursor is. */
export function cellId(piece: PieceId, at: Ticks): string {
  return `cell-${piece}-${at}`;
}
