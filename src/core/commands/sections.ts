import {
  isSection,
  isSpan,
  MAX_SECTION_BARS,
  MAX_TICKS,
  SECTION_KINDS,
  type Section,
  type Span,
} from '../model';
import { MAX_BPM, MIN_BPM } from '../time';
import {
  addOverlay,
  addSection,
  addSpan,
  changeSection,
  layFill,
  movePlace,
  removeOverlay,
  removePlace,
  removeSpan,
  removeTempoAt,
  repeatPlace,
  setGlide,
  setSectionBars,
  setSectionMeter,
  setTempo,
  setTempoAt,
} from '../weave';
import { meterValue } from './bars';
import { onSong } from './definition';
import { choice, flag, id, number, optional, part, text } from './value';

const sectionValue = () => part<Section>('section', (value, song) => isSection(value, song));
const spanValue = () => part<Span>('span', (value, song) => isSpan(value, song));
const bpm = () => number([MIN_BPM, MAX_BPM]);
const tick = () => number([0, MAX_TICKS]);
const index = () => number([-1, 100_000], { whole: true });

/** The song around its patterns: sections, places, what is laid over them, and tempo. */
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
  'add section': onSong(
    { section: sectionValue(), place: id('new'), index: number([0, 100_000], { whole: true }) },
    (song, told) => addSection(song, told.section, told.place, told.index),
    'add-section',
  ),
  'repeat place': onSong(
    { place: id('place'), newId: id('new') },
    (song, told) => repeatPlace(song, told.place, told.newId),
    'repeat-place',
  ),
  'move place': onSong(
    { place: id('place'), to: index() },
    (song, told) => movePlace(song, told.place, told.to),
    'place-later',
  ),
  'remove place': onSong(
    { place: id('place') },
    (song, told) => removePlace(song, told.place),
    'remove-place',
  ),
  'change section': onSong(
    { section: id('section'), name: optional(text(300)), kind: optional(choice(SECTION_KINDS)) },
    (song, { section, name, kind }) => changeSection(song, section, { name, kind }),
    'add-section',
  ),
  'set section bars': onSong(
    { section: id('section'), bars: number([1, MAX_SECTION_BARS], { whole: true }) },
    (song, told) => setSectionBars(song, told.section, told.bars),
    'add-section',
  ),
  'set section meter': onSong(
    { section: id('section'), meter: meterValue() },
    (song, told) => setSectionMeter(song, told.section, told.meter),
    'add-section',
  ),
  'add span': onSong(
    { section: id('section'), span: spanValue() },
    (song, told) => addSpan(song, told.section, told.span),
    'take-onto-place',
  ),
  'remove span': onSong(
    { section: id('section'), span: id('span') },
    (song, told) => removeSpan(song, told.section, told.span),
    'take-onto-place',
  ),
  'add overlay': onSong(
    { place: id('place'), span: spanValue() },
    (song, told) => addOverlay(song, told.place, told.span),
    'take-onto-place',
  ),
  'remove overlay': onSong(
    { place: id('place'), span: id('span') },
    (song, told) => removeOverlay(song, told.place, told.span),
    'take-onto-place',
  ),
  'lay a fill': onSong(
    { place: id('place'), pattern: id('pattern'), span: id('new') },
    (song, told) => layFill(song, told.place, told.pattern, told.span),
    'lay-fill',
  ),
};
