import { barLinesOf, laidPlaces } from '../weave';
import { PPQ, type Swing, type Ticks } from '../time';
import type { Song } from '../model';
import { TRIPLET_SWING } from '../pattern';
import type { Struck } from './strokes';

/** Eighths of which each second falls on the third of a triplet. */
const SHUFFLE: Swing = { unit: PPQ / 2, percent: TRIPLET_SWING };
const THIRD: Ticks = PPQ / 3;
/** Off by less than this is on. */
const ON: Ticks = 2;
/** Fewer long and short beats than these make no shuffle of a section. */
const FEWEST = 4;

/** Strokes with the shuffles of a song written straight. */
export interface Straightened {
  struck: readonly Struck[];
  /** By the place in the song, how a section that shuffles is to be read. */
  swings: ReadonlyMap<string, Swing>;
}

/**
 * Finds the sections that shuffle: beats are long and short, triplets in full or on the beat, and none is halved.
 * Their long and short beats are written as eighths under a heading, which says what a bracket over each beat would.
 * @param struck in the order of their homes
 */
export function withoutShuffles(song: Song, struck: readonly Struck[]): Straightened {
  const swings = new Map<string, Swing>();
  const out = [...struck];
  let next = 0;
  for (const { section, place, start } of laidPlaces(song)) {
    const lines = barLinesOf(section);
    const end = start + lines.at(-1)!;
    const from = next;
    while (next < out.length && out[next].home < end) next++;
    if (section.meters.some(({ meter }) => meter.unit !== 4)) continue;
    const beats = new Map<number, number[]>();
    for (let i = from; i < next; i++) {
      const beat = Math.floor((out[i].home - start + ON) / PPQ);
      const inBeat = beats.get(beat);
      if (inBeat) inBeat.push(i);
      else beats.set(beat, [i]);
    }
    const kinds = [...beats].map(([beat, list]) => {
      const offs = list.map((i) => out[i].home - start - beat * PPQ);
      return {
        list,
        kind: kindOf(
          offs,
          list.some((i) => out[i].roll !== undefined),
        ),
      };
    });
    const uneven = kinds.filter(({ kind }) => kind === 'uneven');
    if (uneven.length < FEWEST || kinds.some(({ kind }) => kind === 'halved')) continue;
    swings.set(place.id, SHUFFLE);
    for (const i of uneven.flatMap(({ list }) => list)) {
      const { home } = out[i];
      const late = (home - start) % PPQ > THIRD;
      if (late) out[i] = { ...out[i], home: home - 2 * THIRD + PPQ / 2 };
    }
  }
  return { struck: out, swings };
}

/** How a beat is divided: long and short, in two or four, or in another way that no swing changes. */
function kindOf(offs: readonly Ticks[], rolls: boolean): 'uneven' | 'halved' | 'other' {
  const on = (step: Ticks) => (off: Ticks) => Math.abs(off - Math.round(off / step) * step) <= ON;
  if (!offs.every(on(THIRD))) {
    return offs.every(on(THIRD / 4)) && !offs.every(on(PPQ / 4)) ? 'other' : 'halved';
  }
  const places = new Set(offs.map((off) => Math.round(off / THIRD)));
  return places.has(2) && !places.has(1) && !rolls ? 'uneven' : 'other';
}
