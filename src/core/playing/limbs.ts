import type { Drummer } from '../model';
import { LEFT_FOOT, LEFT_HAND, RIGHT_FOOT, RIGHT_HAND, type Strokes } from './strokes';

/**
 * How fast a hand comes from one piece to another, metres a second: about a tenth of a second from the
 * hats to the floor tom. Source: peak hand speeds of drummers between drums are 5 to 10 m/s.
 */
const ARM_SPEED = 8;
/** Hands that strike so near in time are struck together: what is played by hand is never closer. */
export const TOGETHER = 0.025;
/** The left hand reaches so far beyond the right one, with crossed arms, in metres. */
const CROSSED = 0.75;
/** No two pieces stand further apart, in metres. */
const WIDEST = 1.4;
/** Timing is written to a few milliseconds: what misses the limit by less is within it. */
const GRACE = 0.92;

/** Leaving out one stroke costs 1; which one, a little: fewest strokes go before least missed ones. */
const LEFT_OUT = 1;
const MISSED = 1e-6;

/** What two limbs of a kind can do. */
class Pair {
  /** Which strokes are theirs. */
  private readonly own: readonly number[];
  /** How long a limb needs for a second stroke at the same place, in seconds. */
  private readonly again: number;
  /** How long a limb may be busy with what it struck last, in seconds. */
  private readonly longest: number;

  constructor(
    private readonly strokes: Strokes,
    speed: number,
    private readonly left: number,
    private readonly right: number,
  ) {
    this.again = GRACE / speed;
    this.longest = Math.max(this.again, (GRACE * WIDEST) / ARM_SPEED);
    const own: number[] = [];
    strokes.limbs.forEach((limbs, i) => {
      if ((limbs & (left | right)) !== 0) own.push(i);
    });
    this.own = own;
  }

  /** What a limb struck last, or -1 where that was so long ago that it is free. */
  private fresh(last: number, i: number): number {
    const { at } = this.strokes;
    return last >= 0 && at[i] - at[last] < this.longest ? last : -1;
  }

  /** Whether a limb comes from its last stroke to another in time. */
  private can(last: number, i: number): boolean {
    if (last < 0) return true;
    const { at, x } = this.strokes;
    const time = at[i] - at[last];
    return time >= this.again && time >= (GRACE * Math.abs(x[i] - x[last])) / ARM_SPEED;
  }

  /** Whether arms would be crossed further than anyone's reach. */
  private tangled(left: number, right: number): boolean {
    if (left < 0 || right < 0) return false;
    const { at, x } = this.strokes;
    return Math.abs(at[left] - at[right]) < TOGETHER && x[left] - x[right] > CROSSED;
  }

  private playsLeft(i: number, l: number, r: number): boolean {
    return (this.strokes.limbs[i] & this.left) !== 0 && this.can(l, i) && !this.tangled(i, r);
  }

  private playsRight(i: number, l: number, r: number): boolean {
    return (this.strokes.limbs[i] & this.right) !== 0 && this.can(r, i) && !this.tangled(l, i);
  }

  /** Whether it works to take the limb each time that rested longer. Most music is played so. */
  private alternates(): boolean {
    let l = -1;
    let r = -1;
    for (const i of this.own) {
      l = this.fresh(l, i);
      r = this.fresh(r, i);
      if (l <= r && this.playsLeft(i, l, r)) l = i;
      else if (this.playsRight(i, l, r)) r = i;
      else if (this.playsLeft(i, l, r)) l = i;
      else return false;
    }
    return true;
  }

  /** Whether some way to share the strokes plays them all. */
  private canAll(): boolean {
    // Ways as what the left and the right limb struck last, two and two; room that is used again.
    let ways = [-1, -1];
    let count = 2;
    let next: number[] = [];
    for (const i of this.own) {
      let found = 0;
      for (let w = 0; w < count; w += 2) {
        const l = this.fresh(ways[w], i);
        const r = this.fresh(ways[w + 1], i);
        if (this.playsLeft(i, l, r)) found = offer(next, found, i, r);
        if (this.playsRight(i, l, r)) found = offer(next, found, l, i);
      }
      if (found === 0) return false;
      [ways, next, count] = [next, ways, found];
    }
    return true;
  }

  /**
   * The fewest strokes that have to be left out so that the rest can be played; of several such choices,
   * those that are missed least. Exact: every way to share the strokes is weighed.
   */
  leftOut(): number[] {
    if (this.alternates() || this.canAll()) return [];
    let ways: Way[] = [{ left: -1, right: -1, cost: 0 }];
    for (const i of this.own) {
      const next: Way[] = [];
      const offer = (left: number, right: number, cost: number, gone: Gone | undefined) => {
        const other = next.find((way) => way.left === left && way.right === right);
        if (!other) next.push({ left, right, cost, gone });
        else if (cost < other.cost) Object.assign(other, { cost, gone });
      };
      const missed = LEFT_OUT + MISSED * this.strokes.weightOf(i);
      for (const { left, right, cost, gone } of ways) {
        const [l, r] = [this.fresh(left, i), this.fresh(right, i)];
        if (this.playsLeft(i, l, r)) offer(i, r, cost, gone);
        if (this.playsRight(i, l, r)) offer(l, i, cost, gone);
        offer(l, r, cost + missed, { stroke: i, before: gone });
      }
      ways = next;
    }
    const best = ways.reduce((a, b) => (b.cost < a.cost ? b : a));
    const gone: number[] = [];
    for (let one = best.gone; one; one = one.before) gone.push(one.stroke);
    return gone;
  }
}

/** Adds a way to the first `count` entries of a list, if it is new. @returns how many there are then */
function offer(ways: number[], count: number, left: number, right: number): number {
  for (let w = 0; w < count; w += 2) {
    if (ways[w] === left && ways[w + 1] === right) return count;
  }
  ways[count] = left;
  ways[count + 1] = right;
  return count + 2;
}

/** A stroke that was left out, and those before it. */
interface Gone {
  stroke: number;
  before: Gone | undefined;
}

/** One way to have played the strokes so far: what each limb struck last, and what it cost. */
interface Way {
  left: number;
  right: number;
  cost: number;
  gone?: Gone;
}

/** Which strokes this drummer has to leave out to play the rest, hands and feet, from the first on. */
export function leftOutBy({ speed }: Drummer, strokes: Strokes): number[] {
  const hands = new Pair(strokes, speed, LEFT_HAND, RIGHT_HAND);
  const feet = new Pair(strokes, speed, LEFT_FOOT, RIGHT_FOOT);
  return [...hands.leftOut(), ...feet.leftOut()].sort((a, b) => a - b);
}
