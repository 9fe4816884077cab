/** Notes that sound and will end, the next to end first: a binary heap of numbers. */
export class PendingEnds {
  private ticks = new Float64Array(64);
  /** Status and note of each, as one number. */
  private keys = new Int32Array(64);
  private length = 0;

  /** When the next one ends; infinite when none sounds. */
  get next(): number {
    return this.length > 0 ? this.ticks[0] : Infinity;
  }

  add(tick: number, key: number): void {
    if (this.length === this.ticks.length) this.widen();
    const { ticks, keys } = this;
    let at = this.length++;
    while (at > 0) {
      const above = (at - 1) >> 1;
      if (ticks[above] <= tick) break;
      ticks[at] = ticks[above];
      keys[at] = keys[above];
      at = above;
    }
    ticks[at] = tick;
    keys[at] = key;
  }

  /** Takes the next one out. @returns its key */
  take(): number {
    const { ticks, keys } = this;
    const taken = keys[0];
    const last = --this.length;
    const tick = ticks[last];
    let at = 0;
    for (;;) {
      let below = 2 * at + 1;
      if (below >= last) break;
      if (below + 1 < last && ticks[below + 1] < ticks[below]) below++;
      if (ticks[below] >= tick) break;
      ticks[at] = ticks[below];
      keys[at] = keys[below];
      at = below;
    }
    ticks[at] = tick;
    keys[at] = keys[last];
    return taken;
  }

  private widen(): void {
    const ticks = new Float64Array(2 * this.ticks.length);
    const keys = new Int32Array(ticks.length);
    ticks.set(this.ticks);
    keys.set(this.keys);
    this.ticks = ticks;
    this.keys = keys;
  }
}
