import { drummerOf, spokenPiece, type Drummer, type PieceId, type Song } from '../model';
import { mapStrands } from '../pattern';
import type { Seconds, Ticks } from '../time';
import {
  barLinesOf,
  editAt,
  hitsByPlace,
  laidPlaces,
  positionAt,
  tempoOfSong,
  type LaidPlace,
  type Reach,
  type TimedHit,
} from '../weave';
import { Latest } from '../memo';
import { leftOutBy, TOGETHER } from './limbs';
import { LEFT_FOOT, RIGHT_FOOT, strokeReader, type Strokes } from './strokes';

/** Why a moment cannot be played. */
export type Asks = 'hands' | 'feet' | 'speed' | 'reach';

/** A moment that asks for more than a drummer has. */
export interface Impossible {
  place: string;
  /** Where the hits belong, in ticks of the song: from the first to the last of them. */
  tick: Ticks;
  to: Ticks;
  asks: Asks;
  /** "ride, snare and crash on 3.2: three hands". */
  says: string;
  /** What is least missed when it is left out, so that the rest can be played. */
  leave: readonly { piece: PieceId; home: Ticks; hit: string }[];
}

/** What was found in the places that were looked at last, and what decided it. */
const known = new Latest<readonly unknown[], Impossible[]>(2, 16_384);

/** All moments of a song that nobody plays, in order. Places that did not change are not looked at again. */
export function impossibles(song: Song): Impossible[] {
  const drummer = drummerOf(song);
  const laid = laidPlaces(song);
  const blocks = hitsByPlace(song);
  const tempo = tempoOfSong(song);
  const read = strokeReader(song);
  return laid.flatMap((place, i) => {
    const hits = blocks[i];
    const before = blocks[i - 1] ?? [];
    // Times differ only where the tempo does.
    const times = [
      tempo.bpmAt(place.start),
      tempo.secondsAt(place.start),
      tempo.secondsAt(place.end),
    ];
    const key = [hits, before, drummer, song.kit, ...times];
    const same = (other: readonly unknown[]) => key.every((part, n) => part === other[n]);
    return known.of(place.place.id, same, key, () => {
      const since = tempo.secondsAt(hits[0]?.tick ?? 0) - REACHES_BACK;
      const held = before.slice(-MOST_HELD).filter(({ tick }) => tempo.secondsAt(tick) > since);
      const strokes = read([...held, ...hits]);
      const left = leftOutBy(drummer, strokes).filter((stroke) => stroke >= held.length);
      return left.length > 0 ? moments(song, place, drummer, strokes, held.length, left) : [];
    });
  });
}

/** How long before a place what was struck there still holds a limb, in seconds. */
const REACHES_BACK = 0.35;
/** More strokes than anyone plays in that time. */
const MOST_HELD = 24;

/** One stroke, for where few are looked at. */
interface Stroke {
  at: Seconds;
  hit: TimedHit;
  limbs: number;
}

const isFoot = ({ limbs }: Stroke) => (limbs & (LEFT_FOOT | RIGHT_FOOT)) !== 0;

/**
 * Strokes that are left out near each other are one moment.
 * @param first the first stroke of the place: those before it are of the place before
 */
function moments(
  song: Song,
  { place }: LaidPlace,
  drummer: Drummer,
  { hits, at, limbs }: Strokes,
  first: number,
  left: readonly number[],
): Impossible[] {
  const all = hits.map((hit, i): Stroke => ({ at: at[i], hit, limbs: limbs[i] }));
  const strokes = all.slice(first);
  const groups: Stroke[][] = [];
  for (const stroke of left.map((i) => all[i])) {
    const group = groups.findLast((one) => isFoot(one[0]) === isFoot(stroke));
    if (group && stroke.at - group.at(-1)!.at < 1.5 / drummer.speed) group.push(stroke);
    else groups.push([stroke]);
  }
  return groups.map((group) => {
    const [one] = group;
    const alike = strokes.filter((stroke) => stroke.limbs !== 0 && isFoot(stroke) === isFoot(one));
    const together = alike.filter((other) => Math.abs(other.at - one.at) < TOGETHER);
    const end = group.at(-1)!;
    const around = alike.filter(
      (other) => other.at > one.at - 1.2 / drummer.speed && other.at < end.at + 1.2 / drummer.speed,
    );
    const asks: Asks =
      together.length > 2 || (isFoot(one) && together.length > 1)
        ? isFoot(one)
          ? 'feet'
          : 'hands'
        : new Set(around.map(({ hit }) => hit.piece)).size > 1 && !isFoot(one)
          ? 'reach'
          : 'speed';
    const heard = asks === 'hands' || asks === 'feet' ? together : around;
    const leave = new Map(
      group.map(({ hit: { piece, home, hit } }) => [`${hit} ${home}`, { piece, home, hit }]),
    );
    const homes = group.map(({ hit }) => hit.home);
    return {
      place: place.id,
      tick: Math.min(...homes),
      to: Math.max(...homes),
      asks,
      says: saidMoment(song, asks, heard, one),
      leave: [...leave.values()],
    };
  });
}

const HOW_MANY = ['no', 'one', 'two', 'three', 'four', 'five', 'six'];

function saidMoment(song: Song, asks: Asks, strokes: readonly Stroke[], one: Stroke): string {
  const names = [...new Set(strokes.map(({ hit }) => spokenPiece(hit.piece, song.kit)))];
  const list =
    names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
  const { bar, beat } = positionAt(song, one.hit.home);
  const where = `on ${bar}.${beat}`;
  const many = HOW_MANY[strokes.length] ?? String(strokes.length);
  if (asks === 'hands') return `${list} ${where}: ${many} hands`;
  if (asks === 'feet') return `${list} ${where}: ${many} feet`;
  const fastest = fastestOf(strokes);
  if (asks === 'speed') return `${list} ${where}: ${fastest} strokes a second`;
  return `${list} ${where}: too far for one hand in so short a time`;
}

/** How many strokes a second the quickest two of these would be. */
function fastestOf(strokes: readonly Stroke[]): number {
  let gap = Infinity;
  strokes.forEach((stroke, i) => {
    if (i > 0) gap = Math.min(gap, Math.max(1e-3, stroke.at - strokes[i - 1].at));
  });
  return Math.round(1 / gap);
}

/**
 * Leaves out what makes some moments impossible, and nothing else: the fewest hits, and of those the
 * ones that are missed least.
 */
export function mend(song: Song, wrong: readonly Impossible[], reach: Reach): Song | string {
  return wrong.reduce<Song | string>((now, one) => {
    if (typeof now === 'string') return now;
    const laid = laidPlaces(now).find(({ place }) => place.id === one.place);
    if (!laid) return now;
    const homes = one.leave.map(({ piece, home }) => ({ piece, at: home - laid.start }));
    const from = Math.min(...homes.map(({ at }) => at));
    const to = Math.max(...homes.map(({ at }) => at)) + 1;
    const stretch = barsAround(laid, from, to);
    return editAt(now, { place: one.place, ...stretch }, reach, (woven) =>
      mapStrands(woven, ({ piece, hits }) => {
        const left = homes.filter((other) => other.piece === piece);
        const kept = hits.filter((hit) => {
          const index = left.findIndex(({ at }) => Math.abs(at - stretch.from - hit.at) < 1e-3);
          // Each stands for one stroke: of two on a step, one stays.
          if (index >= 0) left.splice(index, 1);
          return index < 0;
        });
        return kept.length === hits.length ? hits : kept;
      }),
    );
  }, song);
}

/** The whole bars that hold a stretch of a place. */
function barsAround({ section }: LaidPlace, from: Ticks, to: Ticks): { from: Ticks; to: Ticks } {
  const lines = barLinesOf(section);
  const first = lines.findLast((line) => line <= from) ?? 0;
  return { from: first, to: lines.find((line) => line >= to) ?? lines.at(-1)! };
}
