/**
 * What turns one value into another: small when little changed, because parts that are the very same
 * are passed over. It is plain JSON, for a journal or another tab.
 */
export type Difference =
  /** Something else altogether; absent for "not there any more". */
  | { is?: unknown }
  /** The same object but for these fields. */
  | { fields: Readonly<Record<string, Difference>> }
  /** The same list of things with ids but for these, in this order where the order is another. */
  | { entries: Readonly<Record<string, Difference>>; order?: readonly string[] };

type Fields = Readonly<Record<string, unknown>>;

/** @returns undefined when the two are alike */
export function differenceOf(before: unknown, after: unknown): Difference | undefined {
  // JSON does not tell 0 from -0, and neither does music.
  if (before === after || Object.is(before, after)) return undefined;
  if (Array.isArray(before) && Array.isArray(after)) return differenceOfLists(before, after);
  if (!isObject(before) || !isObject(after)) return { is: after };
  const fields = differences(before, after);
  return fields && { fields };
}

function differenceOfLists(before: unknown[], after: unknown[]): Difference | undefined {
  const [old, now] = [byId(before), byId(after)];
  if (!old || !now) return alikeItems(before, after) ? undefined : { is: after };
  const entries = differences(old, now) ?? {};
  const order = Object.keys(now);
  const moved = !sameItems(Object.keys(old), order);
  if (!moved && Object.keys(entries).length === 0) return undefined;
  return moved ? { entries, order } : { entries };
}

function differences(before: Fields, after: Fields): Record<string, Difference> | undefined {
  const found: [string, Difference][] = [];
  for (const key of Object.keys(before)) {
    if (!Object.hasOwn(after, key)) found.push([key, {}]);
  }
  for (const key of Object.keys(after)) {
    const difference = differenceOf(before[key], after[key]);
    if (difference) found.push([key, difference]);
  }
  return found.length > 0 ? Object.fromEntries(found) : undefined;
}

/** @returns what a difference makes of a value; the value itself where the two do not fit */
export function withDifference(before: unknown, difference: Difference): unknown {
  if ('entries' in difference) {
    const old = Array.isArray(before) && byId(before);
    if (!old) return before;
    const now = withDifferences(old, difference.entries);
    return (difference.order ?? Object.keys(old)).flatMap((id) =>
      Object.hasOwn(now, id) ? [now[id]] : [],
    );
  }
  if ('fields' in difference) {
    return isObject(before) ? withDifferences(before, difference.fields) : before;
  }
  return difference.is;
}

function withDifferences(before: Fields, by: Readonly<Record<string, Difference>>): Fields {
  const after = new Map(Object.entries(before));
  for (const [key, difference] of Object.entries(by)) {
    const value = withDifference(after.get(key), difference);
    if (value === undefined) after.delete(key);
    else after.set(key, value);
  }
  return Object.fromEntries(after);
}

function isObject(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Things by what they are called: ids, and strands by their piece. Nothing where two have one name. */
function byId(list: readonly unknown[]): Fields | undefined {
  const named = new Map<string, unknown>();
  for (const item of list) {
    if (!isObject(item)) return undefined;
    const name = item.id ?? item.piece;
    // Keys that look like numbers would lose their order.
    if (typeof name !== 'string') return undefined;
    named.set(`#${name}`, item);
  }
  return named.size === list.length ? Object.fromEntries(named) : undefined;
}

function alikeItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((item, i) => !differenceOf(item, b[i]));
}

function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((item, i) => Object.is(item, b[i]));
}
