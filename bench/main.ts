import { checkFigures } from './checks';
import { coreFigures } from './core';
import { browserFigures } from './browser';
import { killFigures } from './kill';
import { libraryFigures } from './library';
import { linearFigures } from './linear';
import { projectFigure } from './project';

/** One figure: a ratio of two times of the same run, and what it may be at most. */
export interface Figure {
  name: string;
  ratio: number;
  /** Between a quarter and three quarters of its pairs, where several were measured in turns. */
  spread?: readonly [number, number];
  bound: number;
  /** What was measured, in absolute terms, for the reader. */
  detail: string;
}

/** Groups of figures, by the names that `--only` takes. */
const GROUPS: Readonly<Record<string, () => Figure[] | Promise<Figure[]>>> = {
  checks: checkFigures,
  core: coreFigures,
  linear: linearFigures,
  library: libraryFigures,
  project: async () => [await projectFigure()],
  browser: browserFigures,
};

const holds = ({ ratio, bound }: Figure) => ratio <= bound;

/**
 * Prints the table; with `json`, a last line that is one JSON object.
 * @param kill only what is lost by pages that end at work, which takes ten minutes by itself
 * @param only the group of figures that is measured: one of `GROUPS`; absent is all
 * @returns whether all hold
 */
export async function main(json: boolean, kill: boolean, only?: string): Promise<boolean> {
  const names = Object.keys(GROUPS);
  if (only !== undefined && !names.includes(only)) {
    console.error(`--only takes one of: ${names.join(', ')}.`);
    return false;
  }
  const row = (cells: string[]) =>
    console.log(cells.map((c, i) => c.padEnd([42, 8, 16, 8, 7, 0][i])).join(''));
  row(['figure', 'ratio', 'spread', 'at most', 'holds', 'measured']);
  const figures: Figure[] = [];
  let broken = false;
  const groups = kill ? [killFigures] : (only === undefined ? names : [only]).map((n) => GROUPS[n]);
  for (const measure of groups) {
    try {
      for (const figure of await measure()) {
        figures.push(figure);
        const { name, ratio, spread = [], bound, detail } = figure;
        const between = spread.map((one) => one.toFixed(3)).join(' to ');
        row([name, ratio.toFixed(3), between, String(bound), holds(figure) ? 'yes' : 'NO', detail]);
      }
    } catch (error) {
      // The other groups are measured all the same.
      console.error(error);
      broken = true;
    }
  }
  if (json) {
    const object = Object.fromEntries(
      figures.map((figure) => [
        figure.name,
        { ratio: Number(figure.ratio.toFixed(4)), bound: figure.bound, holds: holds(figure) },
      ]),
    );
    console.log(JSON.stringify(object));
  }
  return !broken && figures.every(holds);
}
