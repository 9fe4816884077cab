import {
  findPiece,
  MOST,
  within,
  type Limits,
  type Pattern,
  type PieceId,
  type Song,
} from '../model';
import type { LaneId } from '../pattern';
import type { Ticks } from '../time';

/** What is looked at when a command is chosen: what it works on follows from it. */
export interface Bench {
  song: Song;
  pattern: Pattern;
  /** The chosen hits; never others. */
  ids: readonly string[];
  cursor: { piece: PieceId; at: Ticks };
  /** How the piece at the cursor is struck when nothing else is said. */
  articulation: string;
  /** The lane that is shown, or the one that would be. */
  lane: LaneId;
}

/** One choice of several, with the words for it. */
export type Option<T> = readonly [value: T, words: string];

type Of<T> = T | ((bench: Bench) => T);

/** How a value is asked for, where the user gives it. */
export interface Ask<T> {
  label: Of<string>;
  initial: Of<T>;
  unit?: string;
  /** How many of the unit a value of 1 is, where it is shown and typed in another one than it is kept. */
  per?: Of<number>;
  /** How finely a number is set. */
  step?: Of<number>;
  /** Narrower than what is allowed, where that is what makes sense here. */
  limits?: Of<Limits>;
  options?: Of<readonly Option<T>[]>;
  /** Rolled like dice: a press asks for the next. */
  seed?: true;
  /** A list of numbers up to another value of the same command. */
  upTo?: string;
}

/** What a value must be. */
export type Shape =
  | { kind: 'number'; limits: Limits; whole: boolean }
  | { kind: 'choice'; options: readonly (string | number)[] }
  | { kind: 'text'; most: number; fits?: RegExp }
  | { kind: 'flag' }
  /** The name of something in the song, or of something that is to come into it. */
  | { kind: 'id'; of: IdOf }
  | { kind: 'list'; of: Value<unknown>; most: number }
  | { kind: 'record'; parts: Values }
  /** A whole part of a song. */
  | { kind: 'part'; name: string; is: (value: unknown, song: Song) => boolean };

export type IdOf =
  | 'pattern'
  | 'hit'
  | 'piece'
  | 'section'
  | 'place'
  | 'holder'
  | 'span'
  | 'guide'
  | 'feel'
  | 'offcut'
  | 'layout'
  | 'track'
  | 'layer'
  | 'bus'
  | 'new';

/**
 * One value that a command takes, defined once: what it must be, and how it is asked for or found.
 * The check, the Yup schema, the field of a panel and the generator of the tests follow from it.
 */
export interface Value<T> {
  shape: Shape;
  /** In words, behind the name of the value: "1 to 127". */
  says: string;
  optional?: true;
  ask?: Ask<T>;
  /** Where the value comes from when the command is chosen by name. */
  from?: (bench: Bench) => T;
}

export type Values = Readonly<Record<string, Value<unknown>>>;

/** What a command is told, by the values it takes. */
export type Told<V> = {
  [K in keyof V as V[K] extends { optional: true } ? never : K]: V[K] extends Value<infer T>
    ? T
    : never;
} & {
  [K in keyof V as V[K] extends { optional: true } ? K : never]?: V[K] extends Value<infer T>
    ? T
    : never;
};

export function number(limits: Limits, { whole = false }: { whole?: boolean } = {}): Value<number> {
  const shape = { kind: 'number', limits, whole } as const;
  return { shape, says: `${whole ? 'a whole number from ' : ''}${limits[0]} to ${limits[1]}` };
}

export function choice<const T extends string | number>(options: readonly T[]): Value<T> {
  return { shape: { kind: 'choice', options }, says: `one of ${options.join(', ')}` };
}

export function text(most: number = MOST.text, fits?: RegExp, says?: string): Value<string> {
  return {
    shape: { kind: 'text', most, ...(fits && { fits }) },
    says: says ?? `a text of at most ${most} letters`,
  };
}

export const flag = (): Value<boolean> => ({ shape: { kind: 'flag' }, says: 'yes or no' });

export const id = (of: IdOf): Value<string> => ({
  shape: { kind: 'id', of },
  says: of === 'new' ? 'a new name' : `the name of a ${of}`,
});

export function list<T>(of: Value<T>, most: number = MOST.hits): Value<readonly T[]> {
  return { shape: { kind: 'list', of: of, most }, says: `a list: ${of.says}` };
}

export function record<const V extends object>(parts: V): Value<Told<V>> {
  return { shape: { kind: 'record', parts: parts as unknown as Values }, says: 'all of its parts' };
}

export function part<T>(name: string, is: (value: unknown, song: Song) => boolean): Value<T> {
  return { shape: { kind: 'part', name, is }, says: `a sound ${name}` };
}

export function optional<T>(value: Value<T>): Value<T> & { optional: true } {
  return { ...value, optional: true };
}

/** Asks the user for a value. */
export function ask<T, V extends Value<T>>(
  value: V & Value<T>,
  label: Ask<T>['label'],
  initial: Ask<T>['initial'],
  more: Omit<Ask<T>, 'label' | 'initial'> = {},
): V {
  return { ...value, ask: { label, initial, ...more } };
}

/** Finds a value in what is looked at. */
export function found<T, V extends Value<T>>(value: V & Value<T>, from: (bench: Bench) => T): V {
  return { ...value, from };
}

const isName = (value: unknown): value is string =>
  typeof value === 'string' && value !== '' && value.length <= 200;

/** Whether a value is as it must be. Linear in the value; never throws. */
export function accepts(
  { shape, optional: may }: Value<unknown>,
  value: unknown,
  song: Song,
): boolean {
  if (value === undefined && may) return true;
  switch (shape.kind) {
    case 'number':
      return within(value, shape.limits) && (!shape.whole || Number.isInteger(value));
    case 'choice':
      return (shape.options as readonly unknown[]).includes(value);
    case 'text':
      return (
        typeof value === 'string' &&
        value.length <= shape.most &&
        (shape.fits === undefined || shape.fits.test(value))
      );
    case 'flag':
      return typeof value === 'boolean';
    case 'id':
      return isName(value) && (shape.of !== 'piece' || findPiece(value, song.kit) !== undefined);
    case 'list':
      return (
        Array.isArray(value) &&
        value.length <= shape.most &&
        value.every((item) => accepts(shape.of, item, song))
      );
    case 'record':
      return isObject(value) && wrongValue(shape.parts, value, song) === undefined;
    case 'part':
      return isObject(value) && shape.is(value, song);
  }
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The first value that is not as it must be, as a sentence. */
export function wrongValue(values: Values, told: unknown, song: Song): string | undefined {
  const given = told as Record<string, unknown>;
  for (const [name, value] of Object.entries(values)) {
    if (accepts(value, given[name], song)) continue;
    if (value.shape.kind === 'id' && value.shape.of === 'piece') {
      const said = given[name];
      return typeof said === 'string'
        ? `There is no kit piece “${said.slice(0, 60)}”.`
        : 'There is no such kit piece.';
    }
    const label = value.ask && typeof value.ask.label === 'string' ? value.ask.label : name;
    return `${label} must be ${value.says}.`;
  }
  return undefined;
}
