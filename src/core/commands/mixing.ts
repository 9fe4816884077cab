import {
  CHARACTER_IDS,
  DESIGN_LIMITS,
  isSoundLayer,
  isDynamics,
  isKit,
  isNoteMap,
  isStrip,
  isTone,
  LONGEST_FILE,
  LONGEST_RAMP,
  MAX_SECTION_BARS,
  MAX_TICKS,
  MOST_OUTPUTS,
  type Dynamics,
  type Kit,
  type NoteMap,
  type SoundLayer,
  type StripSetting,
  type Tone,
} from '../model';
import {
  chokePiece,
  chooseKit,
  chooseLayout,
  copyStrip,
  designPiece,
  hearAll,
  joinTracks,
  moveTrack,
  putLayer,
  putOnTrack,
  removeLayer,
  removeLayout,
  renameLayout,
  renameTrack,
  resetStrip,
  sendTrack,
  setBus,
  setDrums,
  setPieceSound,
  setSectionStrip,
  setStrip,
  takeKit,
} from '../tracks';
import { layBounce, reverseBounced, takeBounceBack } from '../bounce';
import { MOST_SLICES, SLICE_KINDS, takeLoop } from '../loops';
import { MAX_BPM, MIN_BPM } from '../time';
import { onSong } from './definition';
import { choice, flag, id, list, number, optional, part, record, text } from './value';

/** A factor of level, 1 is as it is. */
const level = () => number([0, 4]);
const pan = () => number([-1, 1]);
const share = () => number([0, 1]);
/** The id of a layout that begins where one that is ready is changed. */
const fresh = () => id('new');

/** Tracks and how they are heard. None of these changes a hit. */
export const MIXING = {
  'choose layout': onSong(
    { layout: id('layout') },
    (song, told) => chooseLayout(song, told.layout),
    'next-layout',
  ),
  'choose kit': onSong(
    { kit: choice(CHARACTER_IDS) },
    (song, told) => chooseKit(song, told.kit),
    'next-kit',
  ),
  'take kit': onSong(
    { kit: part<Kit>('kit', isKit) },
    (song, told) => takeKit(song, told.kit),
    'kits',
  ),
  'put on track': onSong(
    { piece: id('piece'), articulation: optional(text(200)), track: id('track'), layout: fresh() },
    (song, { layout, track, ...told }) => putOnTrack(song, told, track, layout),
    'own-track',
  ),
  'join tracks': onSong(
    { track: id('track'), with: id('track'), layout: fresh() },
    (song, told) => joinTracks(song, told.track, told.with, told.layout),
    'join-track',
  ),
  'rename track': onSong(
    { track: id('track'), name: text(120), layout: fresh() },
    (song, told) => renameTrack(song, told.track, told.name, told.layout),
    'rename-track',
  ),
  'move track': onSong(
    { track: id('track'), to: number([-1, 100_000], { whole: true }), layout: fresh() },
    (song, told) => moveTrack(song, told.track, told.to, told.layout),
    'track-up',
  ),
  'rename layout': onSong(
    { layout: id('layout'), name: text(120) },
    (song, told) => renameLayout(song, told.layout, told.name),
    'rename-layout',
  ),
  'remove layout': onSong(
    { layout: id('layout') },
    (song, told) => removeLayout(song, told.layout),
    'remove-layout',
  ),
  'set strip': onSong(
    {
      track: id('track'),
      level: optional(level()),
      pan: optional(pan()),
      mute: optional(flag()),
      solo: optional(flag()),
      flip: optional(flag()),
      dry: optional(share()),
      output: optional(number([1, MOST_OUTPUTS], { whole: true })),
    },
    (song, { track, ...change }) => setStrip(song, track, change),
    'mute-track',
  ),
  'set chain': onSong(
    {
      // Absent is the bus of all drums.
      track: optional(id('track')),
      tone: optional(part<Tone>('tone', isTone)),
      dynamics: optional(part<Dynamics>('dynamics', isDynamics)),
      drive: optional(share()),
      without: optional(choice(['tone', 'dynamics'])),
    },
    (song, { track, without, ...set }) => {
      const change = without ? { ...set, [without]: null } : set;
      return track === undefined ? setDrums(song, change) : setStrip(song, track, change);
    },
    'flat-tone',
  ),
  'set drums': onSong(
    { level: optional(level()), ceiling: optional(number([-24, 0])) },
    (song, told) => setDrums(song, told),
    'drums-ceiling',
  ),
  'copy strip': onSong(
    { track: id('track'), strip: part<StripSetting>('strip', isStrip) },
    (song, told) => copyStrip(song, told.track, told.strip),
    'paste-strip',
  ),
  'send track': onSong(
    { track: id('track'), bus: id('bus'), level: share() },
    (song, told) => sendTrack(song, told.track, told.bus, told.level),
    'more-room',
  ),
  'reset strip': onSong(
    { track: id('track') },
    (song, told) => resetStrip(song, told.track),
    'reset-track',
  ),
  'hear all': onSong({}, (song) => hearAll(song), 'hear-all-tracks'),
  'set bus': onSong(
    {
      bus: id('bus'),
      level: optional(level()),
      ring: optional(number([0.05, 20])),
      beats: optional(number([1 / 64, 16])),
    },
    (song, { bus, ...change }) => setBus(song, bus, change),
    'room-ring',
  ),
  'set section strip': onSong(
    {
      section: id('section'),
      track: id('track'),
      level: optional(level()),
      pan: optional(pan()),
      mute: optional(flag()),
      sends: optional(list(record({ bus: id('bus'), level: share() }), 16)),
      ramp: optional(number([0, LONGEST_RAMP])),
    },
    (song, { section, ...strip }) => setSectionStrip(song, section, strip),
    'section-level',
  ),
  'set piece sound': onSong(
    {
      piece: id('piece'),
      level: optional(level()),
      pan: optional(pan()),
      room: optional(share()),
    },
    (song, { piece, ...change }) => setPieceSound(song, piece, change),
    'piece-level',
  ),
  'design piece': onSong(
    {
      piece: id('piece'),
      tune: optional(number(DESIGN_LIMITS.tune)),
      damping: optional(number(DESIGN_LIMITS.damping)),
      edge: optional(number(DESIGN_LIMITS.edge)),
      floor: optional(number(DESIGN_LIMITS.floor)),
      bend: optional(number(DESIGN_LIMITS.bend)),
      alternates: optional(number(DESIGN_LIMITS.alternates, { whole: true })),
      // Its own sound is that of another kit or note; `own` takes that back.
      character: optional(choice(CHARACTER_IDS)),
      sound: optional(number([0, 128], { whole: true })),
      own: optional(flag()),
      bare: optional(flag()),
    },
    (song, { piece, character, sound, own, bare, ...change }) =>
      designPiece(song, piece, {
        ...said(change),
        ...(character && { instead: { character, ...said({ sound }) } }),
        ...(own && { instead: undefined }),
        ...(bare !== undefined && { bare: bare || undefined }),
      }),
    'next-sound',
  ),
  'choke piece': onSong(
    { piece: id('piece'), group: number([0, 255], { whole: true }) },
    (song, told) => chokePiece(song, told.piece, told.group),
    'choke-group',
  ),
  'put layer': onSong(
    { piece: id('piece'), layer: part<SoundLayer>('layer', isSoundLayer) },
    (song, told) => putLayer(song, told.piece, told.layer),
    'add-layer',
  ),
  'remove layer': onSong(
    { piece: id('piece'), layer: id('layer') },
    (song, told) => removeLayer(song, told.piece, told.layer),
    'remove-layer',
  ),
  'set note map': onSong(
    { map: part<NoteMap>('note map', isNoteMap) },
    (song, { map }) =>
      JSON.stringify(map) === JSON.stringify(song.noteMap) ? song : { ...song, noteMap: map },
    'numbers',
  ),
  'slice loop': onSong(
    {
      id: id('new'),
      name: text(120),
      hash: text(64, /^[0-9a-f]{64}$/, 'the hash of a file'),
      bars: number([1, 64], { whole: true }),
      bpm: number([MIN_BPM, MAX_BPM]),
      slices: list(
        record({
          from: number([0, LONGEST_FILE], { whole: true }),
          to: number([0, LONGEST_FILE], { whole: true }),
          kind: choice(SLICE_KINDS),
          velocity: number([1, 127], { whole: true }),
        }),
        MOST_SLICES,
      ),
      transcribed: flag(),
    },
    (song, told) => takeLoop(song, told),
    'slice-loop',
  ),
  bounce: onSong(
    {
      id: id('new'),
      place: id('place'),
      track: optional(id('track')),
      hash: text(64, /^[0-9a-f]{64}$/, 'the hash of a file'),
      frames: number([1, LONGEST_FILE], { whole: true }),
      lead: number([0, MAX_TICKS]),
    },
    (song, told) => layBounce(song, told),
    'bounce',
  ),
  'take bounce back': onSong(
    { place: id('place'), pattern: id('pattern') },
    (song, told) => takeBounceBack(song, told.place, told.pattern),
    'bounce',
  ),
  'reverse bounce': onSong(
    {
      place: id('place'),
      pattern: id('pattern'),
      from: number([0, MAX_SECTION_BARS], { whole: true }),
      to: number([0, MAX_SECTION_BARS], { whole: true }),
    },
    (song, told) => reverseBounced(song, told),
    'bounce',
  ),
} as const;

/** What was said: what was not is not touched. */
function said<T extends object>(values: T): Partial<T> {
  const entries = Object.entries(values).filter(([, value]) => value !== undefined);
  return Object.fromEntries(entries) as Partial<T>;
}
