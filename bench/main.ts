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
  bound: number;
  /** What was measured, in absolute terms, for the reader. */
  detail: string;
}

const holds = ({ ratio, bound }: Figure) => ratio <= bound;

/**
 * Prints the table; with `json`, a last line that is one JSON object.
 * @param kill only what is lost by pages that end at work, which takes ten minutes by itself
 * @returns whether all hold
 */
export async function main(json: boolean, kill: boolean): Promise<boolean> {
  const figures = kill
    ? await killFigures()
    : [
        ...coreFigures(),
        ...linearFigures(),
        ...libraryFigures(),
        await projectFigure(),
        ...(await browserFigures()),
      ];
  const row = (cells: string[]) =>
    console.log(cells.map((c, i) => c.padEnd([18, 8, 8, 7, 0][i])).join(''));
  row(['figure', 'ratio', 'at most', 'holds', 'measured']);
  for (const figure of figures) {
    const { name, ratio, bound, detail } = figure;
    row([name, ratio.toFixed(3), String(bound), holds(figure) ? 'yes' : 'NO', detail]);
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
  return figures.every(holds);
}
