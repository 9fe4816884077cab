import type { Figure } from './main';

/** One thing to time; `prepare` is not counted. */
export interface Timed {
  prepare?: () => unknown;
  run: (input: unknown) => unknown;
}

/** How long one candidate took, in milliseconds: in the median of all runs, and of each block of them. */
export interface Times {
  median: number;
  blocks: readonly number[];
}

/** Runs of one candidate before the next has its turn. */
const RUNS = 10;
/** The first blocks of each are not counted: in them the code is still being compiled. */
const WARM_UP = 3;

const middle = (values: readonly number[], share = 0.5): number =>
  [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))];

/**
 * Times candidates that take turns block by block, so that a machine that is slow for a while is slow for all
 * of them.
 */
export function timed(blocks: number, ...candidates: readonly Timed[]): Times[] {
  const took = candidates.map((): number[][] => []);
  for (let block = -WARM_UP; block < blocks; block++) {
    candidates.forEach(({ prepare, run }, i) => {
      const times: number[] = [];
      for (let n = 0; n < RUNS; n++) {
        const input = prepare?.();
        const start = performance.now();
        run(input);
        times.push(performance.now() - start);
      }
      if (block >= 0) took[i].push(times);
    });
  }
  return took.map((all) => ({ median: middle(all.flat()), blocks: all.map((one) => middle(one)) }));
}

/** The median of a ratio over the blocks, and the quarter and three quarters of it. */
export function ratioOf(
  candidates: readonly Times[],
  ratio: (...medians: number[]) => number,
): Pick<Figure, 'ratio' | 'spread'> {
  const ratios = candidates[0].blocks.map((_, i) =>
    ratio(...candidates.map(({ blocks }) => blocks[i])),
  );
  return { ratio: middle(ratios), spread: [middle(ratios, 0.25), middle(ratios, 0.75)] };
}
