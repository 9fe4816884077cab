import type { Kit } from '../model';
import { sameMeter } from '../time';
import type { Chord, NotatedBar, Notation } from './notation';
import { VOICES, writtenAs } from './staff';

/** A bar as the page has it: written out, or a sign that says it is like those before. */
export type Repeat =
  /** This bar is like the one before. */
  | { like: 1 }
  /** This bar and the next are like the two before; the sign stands on the line between them. */
  | { like: 2; half: 'first' | 'second' };

/** What a reader of the page sees of a chord. */
function lookOf({ at, base, dots, tuplet, struck }: Chord, kit: Kit): unknown[] {
  const heads = struck.map(({ piece, articulation, ghost, accent, graces, tremolo, choked }) => {
    const { step, octave, head, halfOpen } = writtenAs(piece, articulation, kit);
    return [step, octave, head, halfOpen, ghost, accent, graces.length, tremolo, choked].join();
  });
  return [at, base, dots, tuplet?.actual, [...new Set(heads)].sort()];
}

/** Whether something is said over a bar or before it: a section, a meter, a tempo, a swing. */
export const isMarked = ({ section, newMeter, tempos, swing }: NotatedBar): boolean =>
  section !== undefined || newMeter || tempos.length > 0 || swing !== undefined;

/**
 * The bars that look like those before them, by their index. A section begins with notes, so that no sign
 * points back over its line, and a new tempo is never under a sign.
 */
export function repeatsIn({ bars, kit }: Notation): ReadonlyMap<number, Repeat> {
  const looks = bars.map(({ voices }) =>
    JSON.stringify(
      VOICES.map((voice) => voices[voice]).map((chords) => chords.map((c) => lookOf(c, kit))),
    ),
  );
  const silent = bars.map(({ hits }) => hits === 0);
  /** Whether a bar may be a sign: it goes on as the bar before did. */
  const goesOn = (bar: NotatedBar) => !isMarked(bar);
  const signs = new Map<number, Repeat>();
  let first = 0;
  for (let i = 0; i < bars.length; i++) {
    if (!goesOn(bars[i])) {
      first = i;
      continue;
    }
    if (silent[i]) continue;
    if (looks[i] === looks[i - 1]) {
      signs.set(i, { like: 1 });
      continue;
    }
    const two =
      i - 2 >= first &&
      i + 1 < bars.length &&
      goesOn(bars[i + 1]) &&
      looks[i] === looks[i - 2] &&
      looks[i + 1] === looks[i - 1] &&
      !silent[i + 1] &&
      sameMeter(bars[i].meter, bars[i - 2].meter);
    if (two) {
      signs.set(i, { like: 2, half: 'first' });
      signs.set(i + 1, { like: 2, half: 'second' });
      i++;
    }
  }
  return signs;
}
