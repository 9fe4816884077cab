import { guideStart } from '../weave';
import type { Guide, Pattern, Song } from '../model';
import { heavyOf, strokesOfPattern, ticksOfHeavy, type Heavy, type Strokes } from '../library';
import { PPQ, type Ticks } from '../time';

/** How well kicks and accents land with a guide. */
export interface Fit {
  /** 0 to 100. */
  score: number;
  /** Onsets of the guide in the stretch, how many a kick or an accent meets, and kicks that meet none. */
  onsets: number;
  met: number;
  alone: number;
  /** Onsets with whether they are met, for drawing. Ticks from the start of the stretch. */
  marks: { at: Ticks; met: boolean }[];
}

/** A stroke meets an onset when it is nearer than a thirty-second note. */
const NEAR: Ticks = PPQ / 8;

/** A guide with where in the song it starts. */
export interface PlacedGuide {
  guide: Guide;
  start: Ticks;
}

/** The guides of a song, each with where it starts. */
export function placedGuides(song: Pick<Song, 'guides' | 'places' | 'sections'>): PlacedGuide[] {
  return song.guides.map((guide) => ({ guide, start: guideStart(song, guide) }));
}

/** The onsets of all guides between two ticks, counted from the first; chords count once. */
export function onsetsBetween(guides: readonly PlacedGuide[], from: Ticks, to: Ticks): Ticks[] {
  const onsets = guides
    .filter(({ guide }) => !guide.muted)
    .flatMap(({ guide, start }) => guide.notes.map((note) => start + note.at))
    .filter((tick) => tick >= from - NEAR && tick < to - NEAR)
    .map((tick) => Math.max(0, tick - from))
    .sort((a, b) => a - b);
  return onsets.filter((tick, i) => i === 0 || tick - onsets[i - 1] > NEAR);
}

/** What meets the notes of a guide: kicks, and accents of other pieces as well. */
export const FIT_BY = ['kick', 'kick and accents'] as const;
export type FitBy = (typeof FIT_BY)[number];

/**
 * How a groove fits a guide: what both have, of what either has. Met notes count against all notes and
 * the kicks that fall where the guide is silent, so such a kick costs as much as a missed note.
 * Source: Jaccard, "The distribution of the flora in the alpine zone" (1912).
 * @param groove its kicks and accents; it goes round until the stretch is over
 * @param onsets in ticks from the start of the stretch, in order
 */
export function fitOf(
  groove: Strokes | Heavy,
  onsets: readonly Ticks[],
  length: Ticks,
  by: FitBy = 'kick and accents',
): Fit {
  const {
    kicks,
    accents,
    length: round,
  } = ticksOfHeavy(!('piece' in groove) ? groove : heavyOf(groove));
  const played = around(kicks, round, length);
  const met = near(onsets, played);
  if (by === 'kick and accents') {
    near(onsets, around(accents, round, length)).forEach((is, i) => (met[i] ||= is));
  }
  const marks = onsets.map((at, i) => ({ at, met: met[i] }));
  const count = met.filter(Boolean).length;
  const alone = near(played, onsets).filter((is) => !is).length;
  const all = onsets.length + alone;
  const score = onsets.length > 0 ? Math.round((100 * count) / all) : 0;
  return { score, onsets: onsets.length, met: count, alone, marks };
}

/** Strokes of a groove that goes round, until a stretch is over. */
function around(strokes: readonly Ticks[], round: Ticks, length: Ticks): Ticks[] {
  const all: Ticks[] = [];
  if (strokes.length === 0) return all;
  for (let start = 0; start < length; start += round) {
    for (const at of strokes) if (start + at < length) all.push(start + at);
  }
  return all;
}

/** Of each of some moments, whether one of the others is near it; both are in order. */
function near(moments: readonly Ticks[], others: readonly Ticks[]): boolean[] {
  let next = 0;
  return moments.map((at) => {
    while (next < others.length && others[next] < at - NEAR) next++;
    return next < others.length && others[next] <= at + NEAR;
  });
}

/** "meets 6 of 8 notes of the guide; 1 kick falls where it is silent". */
export function saidFit({ onsets, met, alone }: Fit): string {
  if (onsets === 0) return 'the reference part is silent here';
  const kicks = alone === 1 ? '1 kick falls' : `${alone} kicks fall`;
  return `meets ${met} of ${onsets} notes of the reference part${alone > 0 ? `; ${kicks} where it is silent` : ''}`;
}

/** How a pattern fits the guides in a stretch of a song. */
export function fitOfPattern(
  song: Song,
  pattern: Pattern,
  { from, to }: { from: Ticks; to: Ticks },
  by?: FitBy,
): Fit {
  const onsets = onsetsBetween(placedGuides(song), from, to);
  return fitOf(strokesOfPattern(pattern, song.bpm), onsets, to - from, by);
}
