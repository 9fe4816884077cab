import type { Seconds } from '../core/time';

/** Two readings further apart than this say nothing: nothing was heard between them, or the machine slept, in ms. */
const APART = 500;
/** The least that a dropout puts the device behind, in ms. Readings stray by a few. */
const BEHIND = 20;

/**
 * Counts dropouts: moments in which the device had nothing to put out because the machine was busy with something else.
 * The clock of the device then falls behind that of the page.
 */
export class Dropouts {
  count = 0;
  private before: { heard: number; at: number } | undefined;

  /**
   * Takes a reading of both clocks while something plays.
   * @param heard the time of the audio context that is heard at `at`
   * @param at in ms, as `performance.now()` counts them
   * @returns whether there was a dropout since the last reading
   */
  read(heard: Seconds, at: number): boolean {
    const { before } = this;
    this.before = { heard, at };
    if (!before || at - before.at > APART) return false;
    if (at - before.at - (heard - before.heard) * 1000 < BEHIND) return false;
    this.count++;
    return true;
  }

  /** Nothing plays: the next reading begins anew. */
  rest(): void {
    this.before = undefined;
  }
}
