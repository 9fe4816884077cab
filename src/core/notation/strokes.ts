import { ACCENT_FROM, GHOST_BELOW, type Hit, type PieceId, type Song } from '../model';
import { hitsByPlace, type TimedHit } from '../weave';
import type { Ticks, Velocity } from '../time';

/** A small note before another: the soft stroke of a flam. */
export interface Grace {
  tick: Ticks;
  velocity: Velocity;
}

/** A stroke as it is written, with what belongs to it. */
export interface WrittenStroke {
  piece: PieceId;
  articulation: string;
  velocity: Velocity;
  /** When it sounds, in ticks from the start of the song. */
  tick: Ticks;
  ghost: boolean;
  accent: boolean;
  graces: readonly Grace[];
  /** Bars through the stem: so many times in two is it struck in its time. */
  tremolo?: 1 | 2 | 3;
  /** Stopped by hand. */
  choked?: true;
}

/** A stroke, or several that may be written as one, and where it is written. */
export interface Struck {
  /** The step it belongs to, in ticks from the start of the song; another place where it sounds too far from that. */
  home: Ticks;
  stroke: WrittenStroke;
  /** The pattern it comes from. */
  pattern: string;
  /** The strokes of a roll that may be one note with bars through its stem, where that note lasts so long. */
  roll?: { room: Ticks; strokes: readonly Struck[] };
}

const TREMOLOS: Readonly<Record<number, 1 | 2 | 3>> = { 2: 1, 4: 2, 8: 3 };

/** What is struck in a song, in the order of the steps it belongs to: flams and rolls together. */
export function struckIn(song: Song): Struck[] {
  const hits = new Map(
    song.patterns.map(({ id, strands }) => [
      id,
      new Map(strands.flatMap((strand) => strand.hits.map((hit) => [hit.id, hit] as const))),
    ]),
  );
  const all: Struck[] = [];
  for (const place of hitsByPlace(song)) {
    const figures = new Map<string, { hit: Hit; strokes: TimedHit[] }>();
    for (const timed of place) {
      const hit = hits.get(timed.pattern)!.get(timed.hit)!;
      if (!hit.flam && !hit.burst) {
        all.push({ home: timed.home, stroke: strokeOf(timed), pattern: timed.pattern });
        continue;
      }
      // A pattern that is laid twice over another of itself strikes the same hit twice.
      const key = `${timed.pattern} ${timed.hit} ${timed.home}`;
      const figure = figures.get(key);
      if (figure) figure.strokes.push(timed);
      else figures.set(key, { hit, strokes: [timed] });
    }
    for (const { hit, strokes } of figures.values()) all.push(...figureOf(hit, strokes));
  }
  return all.sort((a, b) => a.home - b.home || a.stroke.tick - b.stroke.tick);
}

function strokeOf(
  { piece, articulation, velocity, tick, touch }: TimedHit,
  graces: readonly Grace[] = [],
): WrittenStroke {
  return {
    piece,
    articulation,
    velocity,
    tick,
    ghost: velocity < GHOST_BELOW,
    accent: velocity >= ACCENT_FROM,
    graces,
    ...(touch?.choke && { choked: true as const }),
  };
}

/** A flam is a note with grace notes; a roll one note, or as many as it has strokes. */
function figureOf({ flam, burst }: Hit, all: readonly TimedHit[]): Struck[] {
  const before = flam?.strokes ?? 0;
  const each = before + (burst?.strokes ?? 1);
  return Array.from({ length: Math.ceil(all.length / each) }, (_, turn): Struck[] => {
    const strokes = all.slice(turn * each, (turn + 1) * each);
    if (strokes.length <= before)
      return strokes.map((one) => ({
        home: one.home,
        stroke: strokeOf(one),
        pattern: one.pattern,
      }));
    const graces = strokes.slice(0, before).map(({ tick, velocity }) => ({ tick, velocity }));
    const main = strokes[before];
    const { home, pattern } = main;
    const first = strokeOf(main, graces);
    if (!burst) return [{ home, stroke: first, pattern }];
    const { room, slope } = burst;
    const single = strokes.slice(before).map((one, i) => ({
      home: home + (room * i) / burst.strokes,
      stroke: i === 0 ? first : strokeOf(one),
      pattern,
    }));
    const tremolo = slope === 0 ? TREMOLOS[burst.strokes] : undefined;
    if (!tremolo) return single;
    return [{ home, stroke: { ...first, tremolo }, pattern, roll: { room, strokes: single } }];
  }).flat();
}
