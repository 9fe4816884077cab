import { guideOf, type Guide, type GuideNote, type Song } from '@/core/model';
import { seeded } from '@/core/random';
import { toVelocity, type Ticks } from '@/core/time';
import { laidPlaces } from '@/core/weave';

/** The strings and frets the line is played on. */
const NOTES: Readonly<Record<string, number>> = { E: 28, F: 29, G: 31, A: 33, C: 36, D: 38 };

const STEP: Ticks = 240;

/**
 * What the bass plays in each section, a character a sixteenth: a letter is plucked, a dash holds it, a
 * dot is a rest, a bar line is for the eye. It goes round until the section is over.
 */
const LINES: Readonly<Record<string, string>> = {
  intro: 'A---------A-----|F---------G---E-',
  verse: 'A------A--A---..|F-----F---F--G--',
  chorus: 'C------C--C---..|G--G--G---G-----|A------A--A---..|F--F--F---F--G--',
  bridge: 'D---D-----D---|F-----F---F-G-',
  low: 'A---------------|F---------G-----',
  outro: 'A---------A-----|F-------G-------',
};

/** The bass line of the song, played by a hand that sits a little behind the kick. */
export function bassLine(song: Song): Guide {
  const random = seeded(77);
  const notes: GuideNote[] = [];
  for (const { section, start, end } of laidPlaces(song)) {
    const steps = (LINES[section.id] ?? '').replaceAll('|', '');
    for (let n = 0; steps !== '' && start + n * STEP < end; n++) {
      const letter = steps[n % steps.length];
      if (!(letter in NOTES)) continue;
      let held = 1;
      while (steps[(n + held) % steps.length] === '-' && start + (n + held) * STEP < end) held++;
      notes.push({
        at: start + n * STEP + Math.round(4 + (random() - 0.5) * 10),
        length: held * STEP - 30,
        note: NOTES[letter],
        velocity: toVelocity(92 + (random() - 0.5) * 16),
      });
    }
  }
  return guideOf('bass', 'Bass', 0, notes);
}
