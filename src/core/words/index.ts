/**
 * The words of Verse Loom: those that are its own, each with its meaning, and those that are no longer said
 * because drummers and engineers have a word for the thing. The guide lists the first; `words.test.ts` holds
 * that no text of the interface uses the second.
 */

/** A word with a meaning of its own here. */
export interface Term {
  word: string;
  /** One sentence, with an example where that helps. */
  meaning: string;
}

/** In the order in which a newcomer meets them. */
export const TERMS: readonly Term[] = [
  {
    word: 'strand',
    meaning: 'The hits of one kit piece in a pattern: one row in Shape, for example the hi-hat.',
  },
  {
    word: 'cloth',
    meaning:
      'The picture of a song: bars across, kit pieces down. The same colour and hatch is the same pattern.',
  },
  { word: 'shelf', meaning: 'The patterns that are kept for this song, played or not.' },
  {
    word: 'offcuts',
    meaning: 'What was rejected or removed. It can be recovered until you empty them.',
  },
  {
    word: 'grow',
    meaning: 'To double a pattern and vary its end: one bar becomes two, then four, then eight.',
  },
  {
    word: 'turn',
    meaning: 'The end of a phrase, where something changes: a roll, an opened hat, a kick pair.',
  },
  { word: 'burst', meaning: 'Several quick strokes in the room of one step.' },
  {
    word: 'place',
    meaning:
      'Where a section stands in the song. All places of a section are linked: verse 2 follows verse 1.',
  },
  {
    word: 'reach',
    meaning:
      'How far an edit goes: here only, in all linked places, or everywhere the pattern plays.',
  },
  {
    word: 'overlay',
    meaning: 'What is laid over a section: a fill, a changed bar, the kick of another pattern.',
  },
  {
    word: 'reference part',
    meaning: 'A part to play against that is not drums, such as a bass line.',
  },
  {
    word: 'draft',
    meaning: 'A first drum part made from a line of energy. It is ordinary patterns from then on.',
  },
  { word: 'energy', meaning: 'The line over the song that a draft follows, from calm to full.' },
];

/** The meaning of a word of ours. @throws where it is none of them */
export function meaningOf(word: string): string {
  const term = TERMS.find((one) => one.word === word);
  if (!term) throw new Error(`“${word}” is no word of Verse Loom.`);
  return term.meaning;
}

/** Words that had to be guessed, and what is said instead: one word a thing. */
export const GIVEN_UP: readonly (readonly [given: RegExp, instead: string])[] = [
  [/\bh(o|e)ld(s|ing)? back( what is loud)?\b/i, 'compress'],
  [/\bpast the bus\b/i, 'parallel, dry'],
  [/\ball drums\b/i, 'drum bus'],
  [/\bphase turned\b|\bturn the phase\b/i, 'invert the polarity'],
  [/\bgoes out on\b/i, 'output'],
  [/\bdies away\b|\bhigh tones\b|\banswer to velocity\b/i, 'decay, low-pass, velocity curve'],
  [/\broom rings?\b/i, 'reverb time'],
  [/\bstrength of Enter\b|\bnext hits\b/i, 'velocity, stroke of new hits'],
  [/\boff the step\b/i, 'timing offset'],
  [/\bshape of time\b/i, 'half, double, reverse'],
  [/\bcycles?\b/i, 'every n-th time'],
  [/\btakes? strands\b|\blay together\b/i, 'copy parts, merge'],
  [/\b(put|on) (it )?on (its|their) own\b|^on its own$/i, 'unlink, own track'],
  [/\bas the section has it\b|\bmake it the section/i, 'undo local changes, apply to all linked'],
  [/\bsame again\b|\bit is meant\b/i, 'repeated bars, keep as intended'],
  [/\blift(s|ed)? (it|the|a|its)\b/i, 'extract, unlock'],
  [/\bmakes? a sound of\b/i, 'bounce to audio'],
  [/\bpass(ed)? (it )?over\b/i, 'reject'],
  [/\bhand(s|ed)? (it )?over\b|\bwhat they get\b|\bdeliver(y|ies)\b/i, 'export, files, preset'],
  [/\bguides\b|\b(a|the) guide (has|is|to)\b|\bas a guide\b/i, 'reference part'],
  [/\bhear without\b|\bheard as it was\b/i, 'compare with before'],
  [/\bbusyness\b/i, 'complexity'],
  [/^alternates$/i, 'round robins'],
  [/\bloose hands\b|\bleft at home\b/i, 'humanize, leave out'],
  [/\bleave it\b|\bcall(ed)? (it )?off\b|\bas at first\b/i, 'cancel, reset'],
  [/\bwhich note each stroke\b/i, 'note map'],
];

/** The first word in a text that is no longer said, with the one instead; undefined where there is none. */
export function givenUpIn(text: string): string | undefined {
  const found = GIVEN_UP.find(([given]) => given.test(text));
  return found && `“${found[0].exec(text)![0]}”: say ${found[1]}`;
}
