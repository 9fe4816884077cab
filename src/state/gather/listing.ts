import type { Song } from '@/core';
import { fitOf, onsetsBetween, placedGuides, type FitBy } from '@/core/guide';
import {
  type Groove,
  type Heavy,
  like,
  bestFirst,
  nearestTo,
  passes,
  sorted,
  sortedIn,
} from '@/core/library';
import type { GrooveRemark } from '@/storage/library/library';
import type { Gathering } from './gathering';

/** How many grooves "like this one" lists. */
const MOST_LIKE = 200;

export const passedId = (groove: string) => `passed-${groove}`;

const namedBefore = new WeakMap<Groove, { remark: GrooveRemark; named: Groove }>();

/** The row of a groove as the user named it. */
export function namedGroove(groove: Groove, remark: GrooveRemark | undefined): Groove {
  if (!remark?.name && !remark?.kind) return groove;
  const before = namedBefore.get(groove);
  if (before?.remark === remark) return before.named;
  const named = { ...groove, name: remark.name ?? groove.name, kind: remark.kind ?? groove.kind };
  namedBefore.set(groove, { remark, named });
  return named;
}

interface Remembered<T> {
  from: readonly unknown[];
  value: T;
}

/** A value that is computed anew only when something it is computed from has changed. */
export function remembered<T>() {
  let last: Remembered<T> | undefined;
  return (from: readonly unknown[], compute: (last?: Remembered<T>) => T): T => {
    if (!last || from.some((part, i) => part !== last!.from[i])) {
      last = { from, value: compute(last) };
    }
    return last.value;
  };
}

const rememberedNames = remembered<readonly Groove[]>();
const rememberedFitter = remembered<Fitter>();
const rememberedFits = remembered<ReadonlyMap<string, number>>();
const rememberedOrder = remembered<readonly Groove[]>();
const rememberedList = remembered<Listing>();

/** What the list is made from. */
export type Findable = Pick<
  Gathering,
  'grooves' | 'remarks' | 'filter' | 'sort' | 'like' | 'showPassed' | 'fitBy'
>;

/** What the list shows, in its order, and how each groove fits the guide. */
export interface Listing {
  list: readonly Groove[];
  fits: ReadonlyMap<string, number>;
  /** Nothing is what was asked for: what is listed is the nearest to it. */
  nearest: boolean;
}

/**
 * What the list shows now. Names are put in order once for the whole library, not at each letter of a
 * search: that is what takes its time with twenty thousand.
 * @param region the stretch of the song that is heard
 */
export function listed(state: Findable, song: Song | undefined, region?: Range): Listing {
  const { grooves, remarks, filter, sort, like: nearest, showPassed, fitBy } = state;
  const said = {
    stars: (id: string) => remarks.get(id)?.stars ?? 0,
    note: (id: string) => remarks.get(id)?.note ?? '',
  };
  const named = rememberedNames([grooves, remarks], () =>
    grooves.map((groove) => namedGroove(groove, remarks.get(groove.id))),
  );
  const where = [song?.guides, song?.places, song?.sections, region?.from, region?.to, fitBy];
  const fitFrom = rememberedFitter(where, () => fitter(song, region, fitBy));
  const fits = rememberedFits([named, fitFrom], () => fitFrom(named));
  const fit = (id: string) => fits.get(id) ?? 0;
  const order = rememberedOrder([named, sort, fits], (last) => {
    const by = { ...sort, ...said, fit };
    const [before, lastSort] = (last?.from ?? []) as [(readonly Groove[])?, typeof sort?];
    // While files are read, new rows come behind the others.
    const lasting = sort === lastSort && sort.by !== 'fit' && sort.by !== 'stars';
    const more = lasting && before && startsWith(named, before);
    return more ? sortedIn(last!.value, named.slice(before.length), by) : sorted(named, by);
  });
  const offcuts = showPassed ? undefined : song?.offcuts;
  return rememberedList([order, filter, nearest, offcuts], () => {
    const passed = new Set((offcuts ?? []).map(({ id }) => id));
    const fitting = order.filter(
      (groove) => passes(groove, filter, said) && !passed.has(passedId(groove.id)),
    );
    const one = nearest && named.find(({ id }) => id === nearest.id);
    return {
      fits,
      list: one
        ? [one, ...like(one, fitting, nearest.groups, MOST_LIKE)]
        : fitting.length === 0 && filter.text
          ? nearestTo(
              order.filter((groove) => passes(groove, { ...filter, text: undefined }, said)),
              filter.text,
            )
          : // A column that was chosen to sort by keeps its order.
            ['plain', 'name', 'family'].includes(sort.by)
            ? bestFirst(fitting, filter.text)
            : fitting,
      nearest: !one && fitting.length === 0,
    };
  });
}

interface Range {
  from: number;
  to: number;
}

type Fitter = (grooves: readonly Groove[]) => ReadonlyMap<string, number>;

/** Says how grooves fit the guides in a region, and remembers it of each. */
function fitter(song: Song | undefined, region: Range | undefined, by: FitBy): Fitter {
  const none = new Map<string, number>();
  if (!song || song.guides.length === 0 || !region) return () => none;
  const onsets = onsetsBetween(placedGuides(song), region.from, region.to);
  const known = new WeakMap<Heavy, number>();
  return (grooves) => {
    const fits = new Map<string, number>();
    for (const { id, heavy } of grooves) {
      if (!heavy) continue;
      let fit = known.get(heavy);
      if (fit === undefined) {
        fit = fitOf(heavy, onsets, region.to - region.from, by).score;
        known.set(heavy, fit);
      }
      fits.set(id, fit);
    }
    return fits;
  };
}

/** Whether a list begins with another one, as after rows were added to it. */
function startsWith(list: readonly Groove[], start: readonly Groove[]): boolean {
  return start.length <= list.length && start.every((groove, i) => groove === list[i]);
}
