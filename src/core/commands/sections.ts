import {
  isSection,
  MAX_SECTION_BARS,
  MAX_TICKS,
  salvage,
  SECTION_KINDS,
  type Section,
  type Song,
} from '../model';
import { MAX_BPM, MIN_BPM } from '../time';
import {
  addSection,
  changeSection,
  layForm,
  lengthen,
  LENGTHENINGS,
  LINKINGS,
  linkPlace,
  mergeNext,
  movePlaces,
  onItsOwn,
  pastePlaces,
  readForm,
  removePlaces,
  removeTempoAt,
  setGlide,
  setMeant,
  setMeterAt,
  setOwnTempos,
  setTempo,
  setTempoAt,
  splitPlace,
  whyNotLinked,
  whyNotMerged,
  type Copied,
} from '../weave';
import { meterValue } from './bars';
import { onSong } from './definition';
import { choice, flag, id, list, number, optional, part, text } from './value';

const sectionValue = () => part<Section>('section', (value, song) => isSection(value, song));
const bpm = () => number([MIN_BPM, MAX_BPM]);
const tick = () => number([0, MAX_TICKS]);
const index = () => number([-1, 100_000], { whole: true });

/** Places with their sections, as they would be in this song. */
function isCopied(value: unknown, song: Song): boolean {
  const { places, sections } = value as Partial<Copied>;
  if (!Array.isArray(places) || !Array.isArray(sections)) return false;
  return salvage({ ...song, places, sections, guides: [] }).problems.length === 0;
}

/** The song around its patterns: its form, sections, places, and tempo. */
export const SECTIONS = {
  'rename song': onSong(
    { name: text(300) },
    (song, { name }) => (name === song.name ? song : { ...song, name }),
    'rename-song',
  ),
  'set tempo': onSong({ bpm: bpm() }, (song, told) => setTempo(song, told.bpm), 'tempo'),
  'set tempo at': onSong(
    { place: id('place'), at: tick(), bpm: bpm() },
    (song, told) => setTempoAt(song, told.place, told.at, told.bpm),
    'tempo',
  ),
  'remove tempo': onSong(
    { place: id('place'), at: tick() },
    (song, told) => removeTempoAt(song, told.place, told.at),
    'tempo',
  ),
  'glide tempo': onSong(
    { place: id('place'), at: tick(), glide: flag() },
    (song, told) => setGlide(song, told.place, told.at, told.glide),
    'tempo',
  ),
  'own tempos': onSong(
    { place: id('place'), own: flag() },
    (song, told) => setOwnTempos(song, told.place, told.own),
    'tempo',
  ),
  'add section': onSong(
    { section: sectionValue(), place: id('new'), index: number([0, 100_000], { whole: true }) },
    (song, told) => addSection(song, told.section, told.place, told.index),
    'add-section',
  ),
  'lay out a form': onSong(
    { text: text() },
    (song, told) => {
      const { parts, problems } = readForm(told.text);
      if (problems.length > 0) return problems[0].what;
      return parts.length > 0
        ? layForm(song, parts).song
        : 'Type at least one section, as in “verse 8”.';
    },
    'form',
  ),
  'paste places': onSong(
    {
      copied: part<Copied>('copied', isCopied),
      index: index(),
      linking: choice(LINKINGS),
      newIds: list(id('new'), 10_000),
    },
    (song, { copied, ...how }) => pastePlaces(song, copied, how),
    'paste-places',
  ),
  'move places': onSong(
    { places: list(id('place'), 10_000), to: index() },
    (song, told) => movePlaces(song, told.places, told.to),
    'place-later',
  ),
  'remove places': onSong(
    { places: list(id('place'), 10_000) },
    (song, told) => removePlaces(song, told.places),
    'remove-place',
  ),
  'split place': onSong(
    { place: id('place'), bar: number([1, MAX_SECTION_BARS], { whole: true }) },
    (song, told) => splitPlace(song, told.place, told.bar),
    'split-place',
  ),
  'merge with next': onSong(
    { place: id('place') },
    (song, told) => whyNotMerged(song, told.place) ?? mergeNext(song, told.place),
    'merge-place',
  ),
  unlink: onSong({ place: id('place') }, (song, told) => onItsOwn(song, told.place), 'own-place'),
  'link place': onSong(
    { place: id('place'), section: id('section'), keep: flag() },
    (song, told) =>
      whyNotLinked(song, told.place, told.section) ??
      linkPlace(song, told.place, told.section, told.keep),
    'link-place',
  ),
  'mark as meant': onSong(
    { places: list(id('place'), 10_000), meant: flag() },
    (song, told) => setMeant(song, told.places, told.meant),
    'meant',
  ),
  'change section': onSong(
    { section: id('section'), name: optional(text(300)), kind: optional(choice(SECTION_KINDS)) },
    (song, { section, name, kind }) => changeSection(song, section, { name, kind }),
    'add-section',
  ),
  'set section bars': onSong(
    {
      section: id('section'),
      bars: number([1, MAX_SECTION_BARS], { whole: true }),
      how: optional(choice(LENGTHENINGS)),
    },
    (song, { section, bars, how = 'go on' }) => lengthen(song, section, bars, how),
    'section-bars',
  ),
  'set meter at': onSong(
    {
      section: id('section'),
      bar: number([0, MAX_SECTION_BARS], { whole: true }),
      meter: meterValue(),
    },
    (song, told) => setMeterAt(song, told.section, told.bar, told.meter),
    'section-meter',
  ),
};
