import { guideStart } from '../weave';
import type { Guide, Pattern, Song } from '../model';
import {
  SLOTS,
  type Fingerprint,
  GROUP_OF_PIECE,
  GROUPS,
  strokesOfPattern,
  type Strokes,
} from '../library';
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

/**
 * How a groove fits a guide: the share of the guide's onsets that a kick or an accent meets, less a
 * quarter of the share of kicks that fall where the guide is silent.
 * @param strokes the groove; it goes round until the stretch is over
 */
export function fitOf(strokes: Strokes, onsets: readonly Ticks[], length: Ticks): Fit {
  const weights: Ticks[] = [];
  const kicks: Ticks[] = [];
  for (let start = 0; start < length; start += strokes.length) {
    for (let i = 0; i < strokes.count; i++) {
      const at = start + strokes.at[i];
      if (at >= length) continue;
      const kick = GROUPS[GROUP_OF_PIECE[strokes.piece[i]]] === 'kick';
      if (kick) kicks.push(at);
      if (kick || strokes.velocity[i] >= 104) weights.push(at);
    }
  }
  weights.sort((a, b) => a - b);
  const marks = onsets.map((at) => ({ at, met: isNear(weights, at) }));
  const met = marks.filter((mark) => mark.met).length;
  const alone = kicks.filter((at) => !isNear(onsets, at)).length;
  const share = onsets.length > 0 ? met / onsets.length : 0;
  const against = kicks.length > 0 ? alone / kicks.length : 0;
  const score = Math.max(0, Math.round(100 * (share - against / 4)));
  return { score, onsets: onsets.length, met, alone, marks };
}

function isNear(sorted: readonly Ticks[], at: Ticks): boolean {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < at - NEAR) low = middle + 1;
    else high = middle;
  }
  return low < sorted.length && sorted[low] <= at + NEAR;
}

/** Groups of which a slot holds one stroke, so that a high value is an accent and not a crowd. */
const ACCENTED = (['snare', 'toms', 'cymbals'] as const).map((group) => GROUPS.indexOf(group));

/**
 * The same from a fingerprint, for lists of thousands: all bars of the groove lie over each other, so
 * it is an estimate where they differ.
 * @param onsets in ticks from a bar line
 * @param bar length of a bar of the guide
 * @returns 0 to 100
 */
export function fitOfPrint(print: Fingerprint, onsets: readonly Ticks[], bar: Ticks): number {
  if (onsets.length === 0) return 0;
  const kick = GROUPS.indexOf('kick') * SLOTS;
  const heavy = (slot: number) => {
    for (const near of [slot - 1, slot, slot + 1]) {
      const at = (near + SLOTS) % SLOTS;
      if (print[kick + at] >= 40) return true;
      if (ACCENTED.some((group) => print[group * SLOTS + at] >= 208)) return true;
    }
    return false;
  };
  const struck = new Uint8Array(SLOTS);
  let met = 0;
  for (const onset of onsets) {
    const slot = Math.round(((onset % bar) / bar) * SLOTS) % SLOTS;
    for (const near of [slot - 1, slot, slot + 1]) struck[(near + SLOTS) % SLOTS] = 1;
    if (heavy(slot)) met++;
  }
  let kicks = 0;
  let alone = 0;
  for (let slot = 0; slot < SLOTS; slot++) {
    if (print[kick + slot] < 40) continue;
    kicks++;
    if (!struck[slot]) alone++;
  }
  const against = kicks > 0 ? alone / kicks : 0;
  return Math.max(0, Math.round(100 * (met / onsets.length - against / 4)));
}

/** "meets 6 of 8 notes of the guide; 1 kick falls where it is silent". */
export function saidFit({ onsets, met, alone }: Fit): string {
  if (onsets === 0) return 'the guide is silent here';
  const kicks = alone === 1 ? '1 kick falls' : `${alone} kicks fall`;
  return `meets ${met} of ${onsets} notes of the guide${alone > 0 ? `; ${kicks} where it is silent` : ''}`;
}

export function fitOfPattern(song: Song, pattern: Pattern, from: Ticks, to: Ticks): Fit {
  const onsets = onsetsBetween(placedGuides(song), from, to);
  return fitOf(strokesOfPattern(pattern, song.bpm), onsets, to - from);
}
