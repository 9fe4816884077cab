import { type Pattern, type Place, type Section, type Song, type Span } from '../model';
import { laidPlaces, placeName } from './sections';

/** What can be kept from change. */
export const LOCKABLE = ['song', 'section', 'place', 'pattern'] as const;
export type Lockable = (typeof LOCKABLE)[number];

/** Something that is locked. */
export interface Lock {
  of: Lockable;
  id: string;
  /** What it is called: "chorus", "verse 2". */
  name: string;
}

/** Locks something, or lifts its lock. The song itself is named by its own id. */
export function setLock(song: Song, of: Lockable, id: string, on: boolean): Song {
  const marked = <T extends { id: string; locked?: true }>(one: T): T => {
    if (one.id !== id || (one.locked ?? false) === on) return one;
    const { locked: _, ...rest } = one;
    return (on ? { ...rest, locked: true } : rest) as T;
  };
  if (of === 'song') return marked(song);
  const list = { section: 'sections', place: 'places', pattern: 'patterns' } as const;
  const before: readonly (Section | Place | Pattern)[] = song[list[of]];
  const after = before.map(marked);
  return after.every((one, i) => one === before[i]) ? song : { ...song, [list[of]]: after };
}

/**
 * The lock that a change would break; undefined where it breaks none. What is locked keeps playing what it
 * does: a locked section is not changed through what lies over its places, and neither it nor a locked place through
 * a pattern that it plays. Places of it are not taken away, nor linked to another section. Notes and stars of a locked
 * pattern stay free, and so does the order of the places.
 */
export function lockBroken(before: Song, after: Song): Lock | undefined {
  if (before === after) return undefined;
  if (before.locked) return { of: 'song', id: before.id, name: before.name };
  const locked = (list: readonly { locked?: true }[]) => list.some((one) => one.locked);
  if (!locked(before.patterns) && !locked(before.sections) && !locked(before.places)) {
    return undefined;
  }
  const now = {
    patterns: byId(after.patterns),
    sections: byId(after.sections),
    places: byId(after.places),
  };
  const old = byId(before.patterns);
  const soundsOn = ({ pattern }: Span) => {
    const [one, other] = [old.get(pattern), now.patterns.get(pattern)];
    return one === other || (one && other && sameSound(one, other));
  };
  for (const pattern of before.patterns) {
    const next = now.patterns.get(pattern.id);
    if (pattern.locked && pattern !== next && !(next && sameButRemarks(pattern, next))) {
      return { of: 'pattern', id: pattern.id, name: pattern.name };
    }
  }
  for (const section of before.sections) {
    if (!section.locked) continue;
    const playsOn = (place: Place) => {
      const next = now.places.get(place.id);
      return (
        next !== undefined &&
        next.section === place.section &&
        next.overlay === place.overlay &&
        place.overlay.every(soundsOn)
      );
    };
    const same =
      now.sections.get(section.id) === section &&
      section.spans.every(soundsOn) &&
      before.places.every((place) => place.section !== section.id || playsOn(place));
    if (!same) return { of: 'section', id: section.id, name: section.name };
  }
  for (const laid of laidPlaces(before)) {
    const { place, section } = laid;
    if (!place.locked) continue;
    const next = now.sections.get(section.id);
    const same =
      now.places.get(place.id) === place &&
      next !== undefined &&
      (next === section ||
        (next.spans === section.spans &&
          next.bars === section.bars &&
          next.meters === section.meters &&
          next.tempos === section.tempos)) &&
      [...section.spans, ...place.overlay].every(soundsOn);
    if (!same) return { of: 'place', id: place.id, name: placeName(before, laid) };
  }
  return undefined;
}

/** Which lock refuses it, as a sentence. */
export function saidLock({ of, name }: Lock): string {
  return of === 'song'
    ? 'The song is locked against change.'
    : `The ${of} “${name}” is locked against change.`;
}

const byId = <T extends { id: string }>(list: readonly T[]) =>
  new Map(list.map((one) => [one.id, one]));

function sameSound(a: Pattern, b: Pattern): boolean {
  return (
    a.strands === b.strands && a.length === b.length && a.swing === b.swing && a.meter === b.meter
  );
}

function sameButRemarks(a: Pattern, b: Pattern): boolean {
  return (
    sameSound(a, b) &&
    a.name === b.name &&
    a.kind === b.kind &&
    a.step === b.step &&
    b.locked === true
  );
}
