import { HIT_LIMITS, pieceOf, type Limits } from '../model';
import {
  chosenHits,
  LANES,
  SWING_UNITS,
  swingUnitOf,
  type LaneId,
  type SwingUnit,
} from '../pattern';
import { STEP_RATES, type Ticks } from '../time';
import { ask, choice, found, id, number, type Ask, type Bench, type Option } from './value';

/** Values that several commands ask for. */

export const PERCENT: Limits = [0, 100];

export const percent = (label: string, initial: Ask<number>['initial'], high = 100) =>
  ask(number([0, high]), label, initial, { unit: '%' });

export const velocity = (label: Ask<number>['label'], initial: Ask<number>['initial']) =>
  ask(number(HIT_LIMITS.velocity), label, initial);

/** A time that is asked for in milliseconds, and is so many at the tempo of the song. */
export const ms = (label: string, initial: Ask<number>['initial'], limits: Limits) =>
  ask(number(limits), label, initial, { unit: 'ms' });

export const seed = () => ask(number([0, 0xffffffff], { whole: true }), 'seed', 1, { seed: true });

/** The step rates to choose from. */
export const RATES: readonly Option<Ticks>[] = STEP_RATES.map(
  ({ ticks, name }) => [ticks, name] as const,
);

/** The row of the cursor. */
export const rowHere = () => found(id('piece'), ({ cursor }: Bench) => cursor.piece);

export const nameOfRow = ({ cursor, song }: Bench) => pieceOf(cursor.piece, song.kit).name;

/** The rows of the pattern but that of the cursor. */
export const otherRows = ({ pattern, cursor, song }: Bench): Option<string>[] =>
  pattern.strands
    .filter(({ piece }) => piece !== cursor.piece)
    .map(({ piece }) => [piece, pieceOf(piece, song.kit).name]);

/** How hard the first and the last of the chosen hits are struck. */
export function ends({ pattern, ids }: Bench): [first: number, last: number] {
  const hits = chosenHits(pattern, new Set(ids)).sort((a, b) => a.hit.at - b.hit.at);
  return [hits[0]?.hit.velocity ?? 40, hits.at(-1)?.hit.velocity ?? 112];
}

/** The piece the first chosen hit is on, or the cursor's. */
export function pieceHere({ pattern, ids, cursor }: Bench): string {
  return chosenHits(pattern, new Set(ids))[0]?.piece ?? cursor.piece;
}

export const LANE_IDS = Object.keys(LANES) as LaneId[];
export const LANE_OPTIONS: readonly Option<LaneId>[] = LANE_IDS.map(
  (lane) => [lane, LANES[lane].name] as const,
);

export const lane = (label: string) =>
  ask(choice(LANE_IDS), label, (bench: Bench) => bench.lane, { options: LANE_OPTIONS });

export const SWING_NAMES: Readonly<Record<SwingUnit, string>> = {
  480: '1/8',
  240: '1/16',
  120: '1/32',
};

/** The notes whose pairs swing. */
export const swingUnit = () =>
  ask(choice(SWING_UNITS), 'of pairs of', ({ pattern }: Bench) => swingUnitOf(pattern), {
    options: SWING_UNITS.map((unit) => [unit, SWING_NAMES[unit]] as const),
  });
