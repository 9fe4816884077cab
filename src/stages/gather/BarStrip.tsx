import { useRef, type PointerEvent } from 'react';
import { chooseBars, useGather } from '@/state/gather/gather';
import styles from './Gather.module.css';

/** From so many bars on, the pictures of the strands are too small to hit a bar in. */
export const LONG_BARS = 9;
/** Pixels a bar has at least. */
const BAR_WIDTH = 14;

/** What a picture of all bars does with the pointer: drag to cut some out, press twice for all of them. */
export function useBarChoice(count: number) {
  const start = useRef<number>(undefined);
  const barAt = (event: PointerEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const bar = Math.floor(((event.clientX - left) / width) * count);
    return Math.max(0, Math.min(count - 1, bar));
  };
  return {
    onPointerDown(event: PointerEvent<HTMLElement>) {
      if (count < 2) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      start.current = barAt(event);
    },
    onPointerUp(event: PointerEvent<HTMLElement>) {
      if (start.current === undefined) return;
      const [from, to] = [start.current, barAt(event)].sort((a, b) => a - b);
      start.current = undefined;
      const whole = from === 0 && to === count - 1;
      chooseBars(whole ? undefined : { from, to: to + 1 });
    },
    onDoubleClick: () => chooseBars(undefined),
  };
}

/** The bars of a long groove, each wide enough to press: one, or a drag over several. */
export function BarStrip({ count }: { count: number }) {
  const bars = useGather((state) => state.bars);
  const choice = useBarChoice(count);
  return (
    <div className={styles.bars} role="group" aria-label="bars of the groove" tabIndex={0}>
      <div
        role="img"
        aria-label={`${count} bars: drag to cut some out`}
        className={styles.barsInner}
        style={{ minWidth: count * BAR_WIDTH }}
        {...choice}
      >
        {Array.from({ length: count }, (_, bar) => (
          <span
            key={bar}
            className={bars && bar >= bars.from && bar < bars.to ? styles.barOn : undefined}
          >
            {bar % 4 === 0 && <i className="figures">{bar + 1}</i>}
          </span>
        ))}
      </div>
    </div>
  );
}
