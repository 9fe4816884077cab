import {
  isDrummer,
  isSpan,
  MAX_TICKS,
  salvage,
  type Drummer,
  type Limits,
  type Song,
  type Span,
} from '../model';
import { FITTINGS, fitStrand } from '../guide';
import { impossibles, mend } from '../playing';
import { BOLDNESS, takeOffer, VARIATIONS } from '../vary';
import {
  asSection,
  broughtBack,
  broughtPattern,
  broughtPiece,
  broughtPlace,
  changeSpan,
  fillIn,
  layBelowFills,
  isPerformance,
  LOCKABLE,
  makeSections,
  OTHERS,
  performedSong,
  REACHES,
  replacePattern,
  reshapeSpan,
  SCOPES,
  setLock,
  silence,
  emptySection,
  takeOut,
  type Performed,
} from '../weave';
import { onSong } from './definition';
import { choice, flag, id, list, number, optional, part } from './value';

const spanValue = () => part<Span>('span', (value, song) => isSpan(value, song));
const TICKS: Limits = [0, MAX_TICKS];
const tick = () => number(TICKS);
const whose = () => choice(['place', 'section']);
const address = () => ({ of: whose(), id: id('holder'), span: id('span') });
const stretch = () => ({ place: id('place'), from: tick(), to: tick(), reach: choice(REACHES) });
const pieces = () => optional(list(id('piece'), 1000));

/** What lies in sections and over places, how far an edit goes, and what is kept from it. */
export const SPANS = {
  'add span': onSong(
    { section: id('section'), span: spanValue() },
    (song, told) => layBelowFills(song, { of: 'section', id: told.section }, told.span),
    'take-onto-place',
  ),
  'add overlay': onSong(
    { place: id('place'), span: spanValue() },
    (song, told) => layBelowFills(song, { of: 'place', id: told.place }, told.span),
    'take-onto-place',
  ),
  'take out': onSong(address(), (song, told) => takeOut(song, told), 'take-out'),
  'empty section': onSong(
    { section: id('section') },
    (song, { section }) => emptySection(song, section),
    'draft-anew',
  ),
  'reshape span': onSong(
    { ...address(), from: tick(), to: tick() },
    (song, told) => reshapeSpan(song, told, told.from, told.to),
    'span-later',
  ),
  'change span': onSong(
    {
      ...address(),
      pieces: pieces(),
      every: optional(flag()),
      mode: optional(choice(['replace', 'add'])),
    },
    (song, { every, pieces: some, mode, ...span }) =>
      changeSpan(song, span, {
        ...(every ? { pieces: 'all' as const } : some && { pieces: [...some] }),
        ...(mode && { mode }),
      }),
    'take-out',
  ),
  'lay a fill': onSong(
    {
      place: id('place'),
      pattern: id('pattern'),
      span: id('new'),
      whose: optional(whose()),
      others: optional(choice(OTHERS)),
      from: optional(tick()),
      length: optional(number([1, MAX_TICKS])),
      crash: optional(flag()),
    },
    (song, { span, whose: of = 'place', others = 'silent', crash = false, ...rest }) =>
      fillIn(song, { ...rest, whose: of, others, crash }, span),
    'lay-fill',
  ),
  silence: onSong(
    {
      place: id('place'),
      from: tick(),
      to: tick(),
      pieces: pieces(),
      whose: whose(),
      span: id('new'),
    },
    (song, { span, pieces: some, ...where }) =>
      silence(song, { ...where, pieces: some ? [...some] : 'all' }, span),
    'silence',
  ),
  'undo local changes': onSong(
    { place: id('place'), spans: optional(list(id('span'), 1000)) },
    (song, told) => asSection(song, told.place, told.spans),
    'as-section',
  ),
  'apply to all linked': onSong(
    { place: id('place'), spans: optional(list(id('span'), 1000)) },
    (song, told) => makeSections(song, told.place, told.spans),
    'make-sections',
  ),
  'replace pattern': onSong(
    {
      pattern: id('pattern'),
      by: id('pattern'),
      pieces: pieces(),
      scope: choice(SCOPES),
      places: list(id('place'), 10_000),
    },
    (song, told) => replacePattern(song, told),
    'replace-pattern',
  ),
  vary: onSong(
    {
      ...stretch(),
      kind: choice(VARIATIONS),
      seed: number([0, 0xffffffff], { whole: true }),
      bold: choice(BOLDNESS),
      pieces: pieces(),
    },
    (song, { reach, pieces: some, ...offer }) => takeOffer(song, offer, reach, some),
    'vary',
  ),
  'make playable': onSong(
    { places: list(id('place'), 10_000), from: tick(), to: tick(), reach: choice(REACHES) },
    (song, { places, from, to, reach }) =>
      mend(
        song,
        impossibles(song).filter(
          ({ place, tick: at }) => places.includes(place) && at >= from && at < to,
        ),
        reach,
      ),
    'playable',
  ),
  'fit to reference part': onSong(
    { ...stretch(), guide: id('guide'), piece: id('piece'), how: choice(FITTINGS) },
    (song, { place, from, to, reach, guide, piece, how }) =>
      fitStrand(song, { place, stretch: { from, to }, reach, guide, piece, how }),
    'fit',
  ),
  'bring back': onSong(
    {
      what: choice(['song', 'place', 'pattern']),
      from: part<Song>('song', (value) => salvage(value).problems.length === 0),
      id: optional(id('holder')),
      piece: optional(id('piece')),
    },
    (song, { what, from, id: of = '', piece }) => {
      // A name that is given has to be that of this song.
      if (what === 'song') return of === '' || of === song.id ? broughtBack(song, from) : song;
      if (what === 'pattern') return broughtPattern(song, from, of, piece);
      return piece === undefined
        ? broughtPlace(song, from, of)
        : broughtPiece(song, from, of, piece);
    },
    'save-points',
  ),
  'set drummer': onSong(
    { drummer: part<Drummer>('drummer', (value, { kit }) => isDrummer(value, kit)) },
    (song, { drummer }) =>
      JSON.stringify(drummer) === JSON.stringify(song.drummer) ? song : { ...song, drummer },
    'playable',
  ),
  perform: onSong(
    {
      performance: part<{ done: readonly Performed[] }>('performance', (value, song) =>
        isPerformance((value as { done?: unknown }).done, song),
      ),
      end: number([1, MAX_TICKS]),
    },
    (song, { performance, end }) => {
      const after = performedSong(song, performance.done, end);
      return after.places.length > 0 ? after : 'No section was called: there is no order to keep.';
    },
    'perform',
  ),
  lock: {
    ...onSong(
      { of: choice(LOCKABLE), id: id('holder'), on: flag() },
      (song, told) => setLock(song, told.of, told.id, told.on),
      'lock',
    ),
    // Or nothing could ever be unlocked.
    ignoresLocks: true as const,
  },
};
