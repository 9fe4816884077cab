import {
  findPattern,
  isOffcut,
  isPattern,
  MAX_TICKS,
  PATTERN_KINDS,
  type Offcut,
  type Pattern,
} from '../model';
import { FITS, TAKE_MODES, takeStrands, whyNotJoined, whyNotLaidTogether } from '../pattern';
import {
  addOffcuts,
  emptyOffcuts,
  joinOnShelf,
  layTogetherOnShelf,
  movePattern,
  recoverOffcut,
  remarkPattern,
  removePattern,
  setAside,
  splitOnShelf,
  takeApart,
} from '../weave';
import { onPattern, onSong } from './definition';
import { liftTrack, ownTracks } from '../tracks';
import { choice, flag, id, list, number, optional, part, text } from './value';

const patternValue = () => part<Pattern>('pattern', (value, { kit }) => isPattern(value, kit));

/** Which place on the shelf, from 0; beyond its ends is its end. */
const index = () => number([-1, 100_000], { whole: true });

/** The patterns of the song, what is noted of them, and the offcuts. */
export const SHELF = {
  'add pattern': onSong(
    { value: patternValue() },
    (song, { value }) =>
      findPattern(song, value.id) ? song : { ...song, patterns: [...song.patterns, value] },
    'new-pattern',
  ),
  'remove pattern': onSong(
    { id: id('pattern') },
    (song, told) => removePattern(song, told.id),
    'remove-pattern',
  ),
  'rename pattern': onPattern(
    { name: text(300) },
    (pattern, { name }) => (name === pattern.name ? pattern : { ...pattern, name }),
    'rename',
  ),
  'set pattern kind': onPattern(
    { kind: choice(PATTERN_KINDS) },
    (pattern, { kind }) => (kind === pattern.kind ? pattern : { ...pattern, kind }),
    'new-pattern',
  ),
  'remark pattern': onSong(
    {
      id: id('pattern'),
      name: optional(text(300)),
      notes: optional(text()),
      stars: optional(number([0, 5], { whole: true })),
      tags: optional(list(text(100), 100)),
    },
    (song, { id: of, ...remark }) => {
      // A remark names what it is about, also where it takes it away.
      const { type: _, ...said } = remark as typeof remark & { type?: string };
      return remarkPattern(song, of, said);
    },
    'note-groove',
  ),
  'move pattern': onSong(
    { id: id('pattern'), to: index() },
    (song, told) => movePattern(song, told.id, told.to),
    'pattern-later',
  ),
  'set aside': onSong(
    { id: id('pattern') },
    (song, told) =>
      song.patterns.length > 1
        ? setAside(song, told.id)
        : 'A song keeps at least one pattern. Add another one first.',
    'remove-pattern',
  ),
  reject: onSong(
    {
      offcuts: list(
        part<Offcut>('offcut', (value, { kit }) => isOffcut(value, kit)),
        10_000,
      ),
    },
    (song, { offcuts }) => addOffcuts(song, offcuts),
    'pass',
  ),
  recover: onSong(
    { id: id('offcut') },
    (song, told) => recoverOffcut(song, told.id),
    'tab-offcuts',
  ),
  'empty offcuts': onSong({}, (song) => emptyOffcuts(song), 'tab-offcuts'),
  'split pattern': onSong(
    { id: id('pattern'), at: number([0, MAX_TICKS]), first: id('new'), second: id('new') },
    (song, told) => splitOnShelf(song, told.id, told.at, [told.first, told.second]),
    'split',
  ),
  'join patterns': onSong(
    { ids: list(id('pattern'), 1000), newId: id('new'), name: text(300) },
    (song, { ids, newId, name }) => {
      const chosen = ids.flatMap((one) => findPattern(song, one) ?? []);
      return whyNotJoined(chosen) ?? joinOnShelf(song, ids, { newId, name });
    },
    'tab-shelf',
  ),
  merge: onSong(
    { ids: list(id('pattern'), 1000), newId: id('new'), name: text(300) },
    (song, { ids, newId, name }) => {
      const chosen = ids.flatMap((one) => findPattern(song, one) ?? []);
      return whyNotLaidTogether(chosen) ?? layTogetherOnShelf(song, ids, { newId, name });
    },
    'tab-shelf',
  ),
  'extract track': onSong(
    {
      // Without a pattern, from a stretch of the song.
      pattern: optional(id('pattern')),
      from: optional(number([0, MAX_TICKS])),
      to: optional(number([0, MAX_TICKS])),
      track: id('track'),
      cropped: flag(),
      newId: id('new'),
    },
    (song, { pattern, from = 0, to = 0, ...lifting }) =>
      liftTrack(song, pattern === undefined ? { from, to } : { pattern }, lifting),
    'lift-track',
  ),
  'own tracks': onSong(
    { pattern: id('pattern') },
    (song, told) => ownTracks(song, told.pattern),
    'own-tracks',
  ),
  'take apart': onSong(
    { id: id('pattern') },
    (song, told) => {
      const after = takeApart(song, told.id);
      return after === song ? 'This pattern was not joined from others.' : after;
    },
    'tab-shelf',
  ),
  'copy parts': onPattern(
    {
      source: patternValue(),
      pieces: list(id('piece'), 1000),
      mode: choice(TAKE_MODES),
      fit: choice(FITS),
    },
    (pattern, taking, { kit }) => takeStrands(pattern, taking, kit),
    'take',
    'Those strands of the groove are empty: there is nothing to take.',
  ),
};
