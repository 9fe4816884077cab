import { existsSync, readFileSync } from 'node:fs';
import type { Figure } from './main';

/** Where `npm test` leaves the seconds of its steps. */
const TIMES = process.env.CHECK_TIMES!;
/** The limit for all steps together on two quiet cores, in seconds. */
const WHOLE = 600;

/** The share of the whole that each step of the checks may take; steps side by side share the cores. */
const SHARES: Readonly<Record<string, number>> = {
  build: 0.25,
  'unit tests': 0.4,
  types: 0.2,
  lint: 0.25,
  formatter: 0.15,
  'end-to-end tests': 0.6,
  'end-to-end tests that need quiet': 0.15,
  all: 1,
};

/** How long the last whole run of the checks took, step by step; nothing where none was made here. */
export function checkFigures(): Figure[] {
  if (!existsSync(TIMES)) return [];
  const seconds = JSON.parse(readFileSync(TIMES, 'utf8')) as Record<string, number>;
  return Object.entries(SHARES).flatMap(([step, share]) => {
    const took = seconds[step];
    if (took === undefined) return [];
    const may = share * WHOLE;
    return [
      {
        name: `checks ${step}`,
        ratio: took / may,
        bound: 1,
        detail: `${Math.round(took)} s of ${may} s`,
      },
    ];
  });
}
