import { useMemo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Pattern, PieceId } from '@/core/model';
import { allIds } from '@/core/pattern';
import { hitsOnTrack } from '@/core/tracks';
import { isRowSilent } from '@/state/balance/here';
import { onlyTrackOf, useWorkbench } from '@/state/store';
import type { Geometry } from './geometry';

/** Rows whose tracks the mix lets be silent. */
export function useUnheard({ rows }: Geometry): readonly PieceId[] {
  return useWorkbench(
    useShallow(({ history }) =>
      rows.map(({ piece }) => piece).filter((piece) => isRowSilent(history!.song, piece)),
    ),
  );
}

const NO_HITS: ReadonlySet<string> = new Set();

/** Hits that share rows with those of the one track that is alone on the sheet, and are on others. */
export function useElsewhere(pattern: Pattern): ReadonlySet<string> {
  const only = useWorkbench((state) => onlyTrackOf(state)?.id);
  const song = useWorkbench((state) => (only === undefined ? undefined : state.history!.song));
  return useMemo(() => {
    if (!song || only === undefined) return NO_HITS;
    const there = hitsOnTrack(song, pattern, only);
    return new Set([...allIds(pattern)].filter((id) => !there.has(id)));
  }, [song, pattern, only]);
}
