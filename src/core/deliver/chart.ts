import { notationOf, pagesOf, type ChartWish, type Notation } from '../notation';

/** The pages of a chart, and the notation they are drawn from. */
export interface Chart {
  notation: Notation;
  pages: ReturnType<typeof pagesOf>;
}

export function chartOf(song: Parameters<typeof notationOf>[0], wish: ChartWish): Chart {
  const notation = notationOf(song, { percussion: wish.percussion === 'line' });
  return { notation, pages: pagesOf(notation, wish) };
}
