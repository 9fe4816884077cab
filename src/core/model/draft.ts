import type { Ticks } from '../time';
import { Finds, isRecord, isText, withParts } from './finds';
import type { PieceId } from './kit';
import { MAX_BARS, MAX_TICKS, MOST, within, type Limits } from './limits';
import type { GrooveRef } from './origin';
import { isGrooveRef, isOneOf, isOptional, isTick } from './soundValues';

/** How much a draft is to play at a moment of a place. */
export interface EnergyPoint {
  /** Ticks from the start of the place; beyond its end it is silent, as a span without room is. */
  at: Ticks;
  /** 0 is hardly anything, 1 is all the drummer has. */
  level: number;
}

/** How high a line is, 0 to 1. It is level before its first point and behind its last. */
export function levelAt(points: readonly EnergyPoint[], at: Ticks): number {
  const after = points.findIndex((point) => point.at >= at);
  if (after < 0) return points.at(-1)?.level ?? 0.5;
  const b = points[after];
  const a = points[after - 1];
  if (!a || b.at === at) return b.level;
  return a.level + ((b.level - a.level) * (at - a.at)) / (b.at - a.at);
}

/** Which groove a draft starts from: one of a family, one of the shelf, or one like a groove of the library. */
export type FeelWish =
  | { of: 'family'; family: string }
  | { of: 'shelf'; pattern: string }
  | { of: 'groove'; groove: GrooveRef };

export const BACKBEATS = ['as the feel', '2 and 4', '3', 'every beat', 'none'] as const;
/** Where the backbeat falls. In other meters than 4/4, “2 and 4” is every second beat, “3” the middle. */
export type Backbeat = (typeof BACKBEATS)[number];

export const BACKBEAT_STROKES = ['as the feel', 'drum', 'side stick', 'stick, then drum'] as const;
/** How the backbeat is struck; “stick, then drum” turns to the drum as energy rises. */
export type BackbeatStroke = (typeof BACKBEAT_STROKES)[number];

export const FILL_RATES = ['never', 'at joins', 'every 8', 'every 4'] as const;
/** How often there are fills: where sections join, and at the ends of phrases of so many bars. */
export type FillRate = (typeof FILL_RATES)[number];

/** The longest fill, in quarter notes, and how the hands play. Milliseconds, and shares of 0 to 1. */
export const WISH_LIMITS = {
  longest: [0.5, 8],
  follow: [0, 1],
  loose: [0, 1],
  late: [-30, 30],
  seed: [0, 999_999],
} as const satisfies Record<string, Limits>;

/** Parts of a draft that can be rolled without the rest. */
export const ROLLABLE = ['fills', 'turns'] as const;
/** Fills, turns, or one kit piece. */
export type Rollable = (typeof ROLLABLE)[number] | PieceId;

/** What is asked of a draft. */
export interface DraftWishes {
  feel: FeelWish;
  /** The piece that keeps time; `feel` leaves it as the feel has it. */
  time: PieceId | 'feel';
  /** Takes over where energy is high. */
  highTime?: PieceId;
  /** Whether hats open as energy rises. */
  opens: boolean;
  backbeat: Backbeat;
  stroke: BackbeatStroke;
  /** How far the kick goes with the guide: 0 as the feel has it, 1 with every note that can be played. */
  follow: number;
  fills: FillRate;
  longest: number;
  /** How far hands stray from where they mean to be: 0 not at all, 1 as at the end of a long night. */
  loose: number;
  /** Milliseconds that hands play behind the beat; negative is before it. */
  late: number;
  /** Pieces that the drummer leaves at home. */
  without: readonly PieceId[];
  seed: number;
  /** Parts with a seed of their own: they were rolled by themselves. */
  rolls?: Readonly<Record<Rollable, number>>;
}

/** What is asked of the whole song where nothing else is said. */
export const USUAL_WISHES: DraftWishes = {
  feel: { of: 'family', family: 'Straight rock' },
  time: 'feel',
  opens: true,
  backbeat: 'as the feel',
  stroke: 'as the feel',
  follow: 0.5,
  fills: 'every 8',
  longest: 4,
  loose: 0.3,
  late: 0,
  without: [],
  seed: 1,
};

/** Why strokes are there, in the words of a drummer. */
export interface DraftReason {
  says: string;
  /** The hits it is the reason of. */
  hits: readonly string[];
}

/** What a drafted pattern remembers: its wish, its seed, and how it was before any hand touched it. */
export interface Drafted {
  /** A groove that a section plays, a fill, or what one place plays otherwise. */
  as: 'groove' | 'fill' | 'change';
  seed: number;
  /** What it was made from, by name. */
  source: string;
  /** Why it is there: “fill: energy rises by a third into chorus 2”. */
  says: string;
  /** A mark for each bar as it was drafted: a bar with another one was changed by hand. */
  bars: readonly string[];
  /** Bars that are turns, counted from 0. */
  turns: readonly number[];
  whys: readonly DraftReason[];
}

/** The most points of energy in one place. */
const MOST_POINTS = MOST.spans;

/** Whether a value is a line of energy: points in order of time. */
export function isEnergy(value: unknown): value is EnergyPoint[] {
  let before = -1;
  return (
    Array.isArray(value) &&
    value.length > 0 &&
    value.length <= MOST_POINTS &&
    value.every((point) => {
      const sound =
        isRecord(point) && isTick(point.at) && point.at > before && within(point.level, [0, 1]);
      if (sound) before = point.at as Ticks;
      return sound;
    })
  );
}

function isFeelWish(value: unknown): boolean {
  if (!isRecord(value)) return false;
  if (value.of === 'family') return isName(value.family);
  if (value.of === 'shelf') return isName(value.pattern);
  return value.of === 'groove' && value.groove !== undefined && isGrooveRef(value.groove);
}

const isName = (value: unknown) => isText(value) && value !== '';
const isSeed = (value: unknown) => Number.isInteger(value) && within(value, WISH_LIMITS.seed);
const isPieces = (value: unknown) =>
  Array.isArray(value) && value.length <= MOST.spans && value.every(isName);
const isFlag = (value: unknown) => typeof value === 'boolean';
const limited = (name: keyof typeof WISH_LIMITS) => (value: unknown) =>
  within(value, WISH_LIMITS[name]);

/** What each wish must be. Pieces need not be in the kit: a wish that cannot be met is said, not lost. */
const WISHES: Readonly<Record<keyof DraftWishes, (value: unknown) => boolean>> = {
  feel: isFeelWish,
  time: isName,
  highTime: isName,
  opens: isFlag,
  backbeat: isOneOf(BACKBEATS),
  stroke: isOneOf(BACKBEAT_STROKES),
  follow: limited('follow'),
  fills: isOneOf(FILL_RATES),
  longest: limited('longest'),
  loose: limited('loose'),
  late: limited('late'),
  without: isPieces,
  seed: isSeed,
  rolls: (value) =>
    isRecord(value) &&
    Object.keys(value).length <= MOST.spans &&
    Object.values(value).every(isSeed),
};

/** Whether a value is some wishes, each as it must be. */
export function isSomeWishes(value: unknown): value is Partial<DraftWishes> {
  return (
    isRecord(value) &&
    Object.entries(value).every(([name, wish]) => {
      const is = Object.hasOwn(WISHES, name) && WISHES[name as keyof DraftWishes];
      return wish === undefined || (is && is(wish));
    })
  );
}

/** Whether a value says all that must be said of a draft. */
export function isWishes(value: unknown): value is DraftWishes {
  const wishes = value as Partial<DraftWishes>;
  return (
    isSomeWishes(value) &&
    (Object.keys(USUAL_WISHES) as (keyof DraftWishes)[]).every((name) => wishes[name] !== undefined)
  );
}

/** The wishes that are as they must be; what was not said or is spoilt is as usual. */
export function salvageWishes(value: unknown, finds: Finds): DraftWishes | undefined {
  if (
    !finds.expect(isRecord(value), 'draft', 'What is asked of a draft is not said as it must be.')
  )
    return undefined;
  const kept = someWishes(value, 'draft', finds);
  return isWishes(kept) ? kept : { ...USUAL_WISHES, ...kept };
}

/** Those of some wishes that are as they must be. */
export function someWishes(value: unknown, where: string, finds: Finds): Partial<DraftWishes> {
  if (isSomeWishes(value)) return value;
  finds.say(where, 'A wish for the draft is not said as it must be.');
  const kept: Record<string, unknown> = {};
  for (const [name, is] of Object.entries(WISHES)) {
    const wish = isRecord(value) ? value[name] : undefined;
    if (wish !== undefined && is(wish)) kept[name] = wish;
  }
  return kept;
}

/** What a drafted pattern remembers, as far as it is sound; undefined where nothing of it is. */
export function salvageDrafted(value: unknown, where: string, finds: Finds): Drafted | undefined {
  const sound =
    isRecord(value) &&
    isOneOf(['groove', 'fill', 'change'])(value.as) &&
    isSeed(value.seed) &&
    isText(value.source) &&
    isText(value.says) &&
    isList(value.bars, MAX_BARS, isText) &&
    isList(value.turns, MAX_BARS, (bar) => Number.isInteger(bar) && within(bar, [0, MAX_BARS])) &&
    Array.isArray(value.whys);
  if (!finds.expect(sound, where, 'What it was drafted from is not said as it must be.')) {
    return undefined;
  }
  const raw = value as unknown as Drafted;
  const whys = finds.list(raw.whys, where, MOST.list, (why) => {
    const { says, hits } = (isRecord(why) ? why : {}) as Partial<DraftReason>;
    const said = isText(says) && isList(hits, MOST.hits, isText);
    finds.expect(said, where, 'Why a stroke is there is not said as it must be.');
    return said ? (why as DraftReason) : undefined;
  });
  return withParts(raw, { whys });
}

function isList(value: unknown, most: number, is: (item: unknown) => boolean): boolean {
  return Array.isArray(value) && value.length <= most && value.every(is);
}

/** Points of energy, if they are some, in order and within bounds. */
export function salvageEnergy(
  value: unknown,
  where: string,
  finds: Finds,
): readonly EnergyPoint[] | undefined {
  const sound = isOptional(value, isEnergy);
  if (finds.expect(sound, where, 'Its line of energy is not in order.')) {
    return value as EnergyPoint[] | undefined;
  }
  if (!Array.isArray(value)) return undefined;
  let before = -1;
  const kept = value.slice(0, MOST_POINTS).flatMap((point: unknown) => {
    if (!isRecord(point) || !within(point.at, [0, MAX_TICKS]) || !(point.at > before)) return [];
    if (!within(point.level, [0, 1])) return [];
    before = point.at;
    return [{ at: point.at, level: point.level }];
  });
  return kept.length > 0 ? kept : undefined;
}
