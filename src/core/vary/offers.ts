import { findPattern, type PieceId, type Song, type Span } from '../model';
import { seeded } from '../random';
import type { Ticks } from '../time';
import {
  barLinesOf,
  editAt,
  laidPlaces,
  stackOf,
  wovenOf,
  type LaidPlace,
  type Reach,
  type Spot,
} from '../weave';
import { VARIATIONS, VARY, type Boldness, type Variation } from './kinds';

/** One change that is offered: all of it follows from these values. */
export interface VaryOffer extends Spot {
  kind: Variation;
  seed: number;
  bold: Boldness;
  /** "opens the hat before 5". */
  says: string;
  /** First bar of the song it changes, counted from 1. */
  bar: number;
}

export interface Wishes {
  /** Places that are to differ from others. */
  places: readonly string[];
  /** How many changes in each place. */
  count: number;
  bold: Boldness;
  /** Only these pieces are touched; absent is all. */
  pieces?: readonly PieceId[];
  seed: number;
}

/**
 * Small changes for places that would be the same as others, in the order of the song. They keep off what
 * is locked, off fills, and off bars that were changed by hand. The same seed gives the same offers.
 */
export function offers(song: Song, wishes: Wishes): VaryOffer[] {
  return laidPlaces(song)
    .filter(({ place, section }) => {
      const locked = song.locked || place.locked || section.locked;
      return wishes.places.includes(place.id) && !locked;
    })
    .flatMap((laid) => offersFor(song, laid, wishes));
}

function offersFor(song: Song, laid: LaidPlace, wishes: Wishes): VaryOffer[] {
  const random = seeded(wishes.seed * 7919 + laid.index * 104_729 + 1);
  const lines = barLinesOf(laid.section);
  const free = lines.slice(0, -1).map((_, bar) => !isTaken(song, laid, lines[bar], lines[bar + 1]));
  const wanted = candidates(laid, free).map((one) => ({ ...one, rank: random() - one.likely }));
  wanted.sort((a, b) => a.rank - b.rank);
  const made: VaryOffer[] = [];
  const bars = new Set<number>();
  const kinds = new Set<Variation>();
  for (const { kind, bar } of wanted) {
    if (made.length >= wishes.count) break;
    // A drummer does one thing at a time, and not the same thing over and over.
    if (bars.has(bar) || kinds.has(kind)) continue;
    const seed = Math.floor(random() * 1e9);
    const from = lines[bar];
    // A change of the whole goes on until a fill, or what was changed by hand.
    const end = isWide(kind) ? free.indexOf(false, bar) : bar + 1;
    const to = lines[end < 0 ? lines.length - 1 : end];
    if (isWide(kind) && end >= 0 && end < bar + 2) continue;
    const offer = { place: laid.place.id, from, to, kind, seed, bold: wishes.bold };
    const varied = variedAt(song, laid, offer, wishes.pieces);
    if (!varied) continue;
    bars.add(bar);
    kinds.add(kind);
    made.push({
      ...offer,
      says: saidOffer(varied.says, kind, laid, bar),
      bar: laid.firstBar + bar + 1,
    });
  }
  return made.sort((a, b) => a.from - b.from);
}

/** Changes of the whole of a place, not of a bar. */
const isWide = (kind: Variation) =>
  kind === 'busier' || kind === 'thinner' || kind === 'hat to ride';

/** Where a variation makes sense: ends of phrases get fills, starts get crashes. */
function candidates(
  { section }: LaidPlace,
  free: readonly boolean[],
): { kind: Variation; bar: number; likely: number }[] {
  const last = section.bars - 1;
  return VARIATIONS.flatMap((kind) =>
    free.flatMap((is, bar): { kind: Variation; bar: number; likely: number }[] => {
      if (!is) return [];
      const phrase =
        (bar + 1) % 16 === 0 || bar === last
          ? 0.5
          : (bar + 1) % 8 === 0
            ? 0.4
            : (bar + 1) % 4 === 0
              ? 0.3
              : -1;
      if (kind === 'fill at the end') return phrase > 0 ? [{ kind, bar, likely: phrase }] : [];
      if (kind === 'opened hat') return (bar + 1) % 2 === 0 ? [{ kind, bar, likely: 0.15 }] : [];
      if (kind === 'crash at the start') return bar === 0 ? [{ kind, bar, likely: 0.3 }] : [];
      if (isWide(kind)) return bar === 0 ? [{ kind, bar, likely: 0 }] : [];
      return bar === 0 ? [] : [{ kind, bar, likely: 0.05 }];
    }),
  );
}

/** Whether bars are a fill or were changed by hand: those are left as they are. */
function isTaken(song: Song, laid: LaidPlace, from: Ticks, to: Ticks): boolean {
  const isOwn = ({ role, pattern }: Span) =>
    role === 'fill' || (role === 'change' && findPattern(song, pattern)?.local === true);
  return stackOf(laid).some((lies) => isOwn(lies.span) && lies.from < to && lies.to > from);
}

function variedAt(
  song: Song,
  laid: LaidPlace,
  { from, to, kind, seed, bold }: Pick<VaryOffer, 'from' | 'to' | 'kind' | 'seed' | 'bold'>,
  pieces?: readonly PieceId[],
) {
  const { pattern } = wovenOf(song, laid, { from, to }, 'place');
  return VARY[kind](pattern, {
    random: seeded(seed),
    kit: song.kit,
    bold,
    may: (piece) => !pieces || pieces.includes(piece),
  });
}

function saidOffer(says: string, kind: Variation, laid: LaidPlace, bar: number): string {
  const number = laid.firstBar + bar + 1;
  if (isWide(kind)) return `${says}, from ${number} on`;
  if (kind === 'opened hat' || kind === 'fill at the end')
    return `${says} before ${number + 1}`.replace(' at the end before', ' before');
  if (kind === 'crash at the start') return `${says} of ${number}`;
  return `${says} in ${number}`;
}

/** Takes what was offered: at its place only, or as far as the reach goes. */
export function takeOffer(
  song: Song,
  { place, from, to, kind, seed, bold }: Omit<VaryOffer, 'says' | 'bar'>,
  reach: Reach,
  pieces?: readonly PieceId[],
): Song | string {
  return editAt(song, { place, from, to }, reach, (woven) => {
    const varied = VARY[kind](woven, {
      random: seeded(seed),
      kit: song.kit,
      bold,
      may: (piece) => !pieces || pieces.includes(piece),
    });
    return varied?.pattern ?? 'There is no room for that here any more.';
  });
}
