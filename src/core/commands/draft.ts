import { isEnergy, isSomeWishes, type DraftWishes } from '../model';
import {
  askOfDraft,
  isDraftLaid,
  layDraft,
  rollDraft,
  setEnergy,
  type DraftLaid,
  type Energy,
} from '../draft';
import { onSong } from './definition';
import { id, list, optional, part } from './value';

const points = () => part<Energy[number]>('line of energy', isLine);

/** A line for one place; no points take its line away. */
function isLine(value: unknown): boolean {
  const { place, points: line } = value as Partial<Energy[number]>;
  return (
    typeof place === 'string' && (isEnergy(line) || (Array.isArray(line) && line.length === 0))
  );
}

/** A first performance: its line of energy, what is asked of it, and the draft itself. */
export const DRAFT = {
  'draw energy': onSong(
    { lines: list(points(), 10_000) },
    (song, { lines }) => {
      // What is locked keeps its line, too: the others are drawn.
      const locked = new Set(
        song.places.flatMap(({ id: place, locked: is }) => (is ? [place] : [])),
      );
      return setEnergy(
        song,
        lines.filter(({ place }) => !locked.has(place)),
      );
    },
    'draft',
  ),
  'ask of the draft': onSong(
    { section: optional(id('section')), wishes: part<Partial<DraftWishes>>('wish', isSomeWishes) },
    (song, { section, wishes }) => askOfDraft(song, section, wishes),
    'draft',
  ),
  'roll the draft': onSong(
    { section: optional(id('section')), part: optional(id('new')) },
    (song, told) => rollDraft(song, told.section, told.part),
    'roll-draft',
  ),
  draft: onSong(
    { laid: part<DraftLaid>('draft', isDraftLaid) },
    (song, { laid }) => layDraft(song, laid),
    'draft',
  ),
};
