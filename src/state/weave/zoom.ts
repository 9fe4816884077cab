import { songBars } from '@/core/weave';
import { openSongNow, useWorkbench } from '../store';

/** A bar is never wider than this many times the cloth, and never narrower than this, in pixels. */
export const NARROWEST_BAR = 2;

/** Shows fewer bars (above 1) or more; what is in the middle stays there. */
export function zoomBy(factor: number): void {
  const { barWidth, clothWidth } = useWorkbench.getState();
  const fit = clothWidth / Math.max(1, songBars(openSongNow()));
  const next = Math.max(NARROWEST_BAR, Math.min(clothWidth, (barWidth || fit) * factor));
  useWorkbench.setState({ barWidth: next <= fit ? 0 : next });
}

export function showWhole(): void {
  useWorkbench.setState({ barWidth: 0 });
}

/** Tells how wide the cloth may be. */
export function setClothWidth(clothWidth: number): void {
  if (useWorkbench.getState().clothWidth !== clothWidth) useWorkbench.setState({ clothWidth });
}
