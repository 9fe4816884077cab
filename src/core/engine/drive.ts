/** How steep the bend is at full drive. */
const STEEPEST = 6;
/** A sample of this size stays as it is, however much is driven: softer ones come up, louder ones down. */
const STAYS = 0.5;

/** A smooth bend from straight at 0 to flat at 3 and beyond: the first terms of tanh as a fraction. */
function bent(x: number): number {
  if (x >= 3) return 1;
  if (x <= -3) return -1;
  const square = x * x;
  return (x * (27 + square)) / (27 + 9 * square);
}

/** What saturation makes of a sample. @param amount 0 to 1 */
export function saturated(sample: number, amount: number): number {
  const steep = STEEPEST * amount;
  return steep === 0 ? sample : (STAYS * bent(sample * steep)) / bent(STAYS * steep);
}

/** Saturation that moves from one amount to another within a block. */
export class Drive {
  private amount = 0;
  private goal = 0;

  take(amount: number, jump: boolean): void {
    this.goal = amount;
    if (jump) this.amount = amount;
  }

  get isIdle(): boolean {
    return this.amount === 0 && this.goal === 0;
  }

  /** Works in place, on all sides of a block. */
  process(sides: readonly Float32Array[], frames: number): void {
    const { amount, goal } = this;
    for (const side of sides) {
      if (amount === goal) bend(side, STEEPEST * goal, frames);
      else {
        for (let i = 0; i < frames; i++) {
          const share = (i + 1) / frames;
          side[i] = saturated(side[i], goal) * share + saturated(side[i], amount) * (1 - share);
        }
      }
    }
    this.amount = goal;
  }
}

function bend(side: Float32Array, steep: number, frames: number): void {
  const back = STAYS / bent(STAYS * steep);
  for (let i = 0; i < frames; i++) side[i] = back * bent(side[i] * steep);
}
