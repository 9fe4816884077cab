import type { Notehead } from '../model';
import type { StaffPlace } from '../notation';

/** How MusicXML calls the noteheads. Source: MusicXML 4.0, data type "notehead-value". */
export const HEAD_NAMES: Readonly<Record<Notehead | 'slashed', string>> = {
  dot: 'normal',
  cross: 'x',
  'circled-cross': 'circle-x',
  diamond: 'diamond',
  triangle: 'triangle',
  slashed: 'slashed',
};

/** How it calls note values. Source: MusicXML 4.0, data type "note-type-value". */
export const TYPES: Readonly<Record<number, string>> = {
  1: 'whole',
  2: 'half',
  4: 'quarter',
  8: 'eighth',
  16: '16th',
  32: '32nd',
  64: '64th',
};

/** A line or space and a kind of head as one word, to look up what a note without a name is. */
export const placeKey = ({ step, octave }: StaffPlace, head: string): string =>
  `${step}${octave} ${head}`;
