import type { Kit, Pattern } from '../model';
import { fillAt, fillSign, fillsFor } from './fills';
import type { Pool } from './pool';
import type { Ticks } from '../time';

/** A fill that is asked for. */
export interface FillWanted {
  pool: Pool;
  kit: Kit;
  length: Ticks;
  /** One of the busier ones. */
  busy: boolean;
  /** Whether a fill will do here. */
  fits?: (fill: Pattern) => boolean;
}

/**
 * Gives out the fills of a song. Every moment that can have one has a slot, which follows from the form alone: so fills
 * of different slots are different ones, and none is another one because of what happens elsewhere.
 */
export class FillBook {
  private readonly slots = new Map<string, number>();

  /** @returns undefined where no fill of the length will do */
  take(
    slot: number,
    seed: number,
    { pool, kit, length, busy, fits }: FillWanted,
  ): Pattern | undefined {
    const { calm, busy: full } = fillsFor(pool, length, kit);
    const list = busy && full.length > 0 ? full : calm;
    const first = fillAt(list.length, slot, seed);
    let second: Pattern | undefined;
    for (let i = 0; i < list.length; i++) {
      const fill = list[(first + i) % list.length];
      if (fits && !fits(fill)) continue;
      const sign = fillSign(fill);
      // One that was given out elsewhere is given out again only when there is no other.
      if ((this.slots.get(sign) ?? slot) !== slot) {
        second ??= fill;
        continue;
      }
      this.slots.set(sign, slot);
      return fill;
    }
    return second;
  }
}
