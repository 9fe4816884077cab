import { isGuide, MAX_TICKS, type Guide } from '../model';
import { addGuide, anchorGuide, changeGuide, moveGuide, removeGuide } from '../guide';
import { onSong } from './definition';
import { choice, flag, id, number, optional, part, text } from './value';

/** Parts to play against. */
export const GUIDES = {
  'add reference part': onSong(
    { guide: part<Guide>('guide', (value, song) => isGuide(value, song)) },
    (song, { guide }) => addGuide(song, guide),
    'guides',
  ),
  'change reference part': onSong(
    {
      id: id('guide'),
      name: optional(text(300)),
      level: optional(number([0, 1])),
      muted: optional(flag()),
    },
    (song, { id: of, name, level, muted }) =>
      changeGuide(song, of, {
        ...(name !== undefined && { name }),
        ...(level !== undefined && { level }),
        ...(muted !== undefined && { muted }),
      }),
    'guides',
  ),
  'move reference part': onSong(
    { id: id('guide'), tick: number([0, MAX_TICKS]) },
    (song, told) => moveGuide(song, told.id, told.tick),
    'guides',
  ),
  'anchor reference part': onSong(
    { id: id('guide'), to: choice(['place', 'song']) },
    (song, told) => anchorGuide(song, told.id, told.to),
    'guides',
  ),
  'remove reference part': onSong(
    { id: id('guide') },
    (song, told) => removeGuide(song, told.id),
    'guides',
  ),
};
