import { MOST } from './limits';

/** Something that must hold of a song and does not. */
export interface Problem {
  /** Where in the song, as a path: `patterns/verse/snare/h12`. */
  where: string;
  /** What is wrong, in one sentence. */
  what: string;
}

/** A value of which nothing is known but that it has parts. */
export type Raw = Readonly<Record<string, unknown>>;

export function isRecord(value: unknown): value is Raw {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** More problems than this are not told one by one. */
const MOST_TOLD = 1000;

/**
 * Takes values apart and keeps what is sound of them. What is sound as it is stays the very same
 * value, so that nothing is copied of a song in which all is well.
 */
export class Finds {
  readonly problems: Problem[] = [];

  /** @param trusted values that are known to be sound */
  constructor(private readonly trusted: ReadonlySet<unknown> = new Set()) {}

  /** Whether a value need not be looked at. */
  trusts(value: unknown): boolean {
    return this.trusted.has(value);
  }

  say(where: string, what: string): void {
    if (this.problems.length < MOST_TOLD) this.problems.push({ where, what });
  }

  /** @returns whether it holds; says so when it does not */
  expect(holds: boolean, where: string, what: string): boolean {
    if (!holds) this.say(where, what);
    return holds;
  }

  /** A value, or another one in its place when it is not as it must be. */
  value<T>(
    value: unknown,
    is: (value: unknown) => boolean,
    instead: T,
    where: string,
    what: string,
  ): T {
    return this.expect(is(value), where, what) ? (value as T) : instead;
  }

  /**
   * The items of a list that are sound, each with an id of its own.
   * @param read gives back the very item where it is sound, another one where it could be mended, and
   *   undefined where nothing can be kept
   */
  list<T>(
    value: unknown,
    where: string,
    most: number,
    read: (item: unknown, where: string) => T | undefined,
    idOf?: (item: T) => string,
  ): T[] {
    if (!Array.isArray(value)) {
      this.say(where, 'A list is missing here.');
      return [];
    }
    if (value.length > most) {
      this.say(where, `There are more than ${most.toLocaleString('en')} things in this list.`);
    }
    const count = Math.min(value.length, most);
    const ids = idOf && new Set<string>();
    const kept: T[] = [];
    let same = count === value.length;
    for (let i = 0; i < count; i++) {
      const item: unknown = value[i];
      const named = isRecord(item) && typeof item.id === 'string' ? item.id : String(i);
      const read_ = read(item, `${where}/${named}`);
      if (read_ === undefined) {
        same = false;
        continue;
      }
      if (ids && idOf) {
        const id = idOf(read_);
        if (ids.has(id)) {
          this.say(`${where}/${named}`, 'Two things here have the same id.');
          same = false;
          continue;
        }
        ids.add(id);
      }
      if (read_ !== item) same = false;
      kept.push(read_);
    }
    return same ? (value as T[]) : kept;
  }

  /** Something that has an id; says so where it has none. */
  named(value: unknown, where: string): value is Raw & { id: string } {
    return this.expect(
      isRecord(value) && isId(value.id),
      where,
      'Something here has no id, or is no such thing.',
    );
  }
}

export const isId = (value: unknown): value is string =>
  typeof value === 'string' && value !== '' && value.length <= 200;

export const isText = (value: unknown): value is string =>
  typeof value === 'string' && value.length <= MOST.text;

/**
 * The very same object where all of the parts are what they were.
 * @param spoilt optional parts that it is left without
 */
export function withParts<T extends object>(
  value: T,
  parts: Partial<T>,
  spoilt: readonly (keyof T)[] = [],
): T {
  const keys = Object.keys(parts) as (keyof T)[];
  const gone = spoilt.filter((key) => key in value);
  if (gone.length === 0 && keys.every((key) => value[key] === parts[key])) return value;
  const left = { ...value, ...parts };
  for (const part of gone) delete left[part];
  return left;
}
