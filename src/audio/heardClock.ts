import type { Seconds } from '../core/time';

/** So many readings of both clocks are kept: the middle one of their differences is no outlier. */
const KEPT = 15;
/** A difference that moves so far, in ms, is no stray reading: the device went to sleep, or is another. */
const JUMP = 40;

/** The clock of what is heard against that of the page. */
export class HeardClock {
  private differences: number[] = [];

  constructor(private readonly context: () => AudioContext | undefined) {}

  /** When a moment of the context's time is heard, in ms as `performance.now()` counts them. */
  heardAt(time: Seconds): number {
    const context = this.context();
    if (!context) return performance.now();
    const { contextTime = 0, performanceTime = 0 } = context.getOutputTimestamp?.() ?? {};
    // Before the device has put out anything it is counted by what it is said to be late.
    const difference =
      performanceTime > 0
        ? performanceTime - contextTime * 1000
        : performance.now() - (context.currentTime - (context.outputLatency ?? 0)) * 1000;
    const { differences } = this;
    if (differences.length > 0 && Math.abs(difference - middle(differences)) > JUMP) {
      differences.length = 0;
    }
    differences.push(difference);
    if (differences.length > KEPT) differences.shift();
    return time * 1000 + middle(differences);
  }
}

function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1];
}
