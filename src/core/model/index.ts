/** What a song is made of, and what must always hold of it. */
export { checkSong } from './check';
export {
  BACKBEAT_STROKES,
  BACKBEATS,
  FILL_RATES,
  isEnergy,
  isSomeWishes,
  isWishes,
  levelAt,
  ROLLABLE,
  USUAL_WISHES,
  WISH_LIMITS,
  type Backbeat,
  type BackbeatStroke,
  type Drafted,
  type DraftReason,
  type DraftWishes,
  type EnergyPoint,
  type FeelWish,
  type FillRate,
  type Rollable,
} from './draft';
export {
  drummerOf,
  isDrummer,
  LIMBS,
  MAX_SPEED,
  USUAL_DRUMMER,
  type Drummer,
  type Limb,
} from './drummer';
export { differenceOf, withDifference, type Difference } from './difference';
export { isRecord, type Problem } from './finds';
export type { Burst, Cycle, Flam, Hit } from './hit';
export {
  articulationOf,
  BOUNCED,
  isBounce,
  byStaffOrder,
  DEFAULT_KIT,
  FAMILIES,
  findPiece,
  KITS,
  roomOf,
  pieceOf,
  pieceOfNote,
  soundOf,
  spokenPiece,
  type Articulation,
  type Family,
  type Kit,
  type KitPiece,
  type Notehead,
  type PieceId,
} from './kit';
export {
  BY_PIECE,
  layoutByPiece,
  layoutOf,
  byTrackOrder,
  ONE_TRACK,
  trackOf,
  trackOfHit,
  type LayoutRule,
  type Routed,
  type Track,
  type TrackLayout,
} from './layout';
export * from './limits';
export {
  DYNAMICS_LIMITS,
  FILTER_KINDS,
  LONGEST_RAMP,
  MOST_OUTPUTS,
  neutralStrip,
  TONE_BANDS,
  TONE_LIMITS,
  USUAL_BUSES,
  USUAL_DRUMS,
  usualMix,
  type BusSetting,
  type DrumBus,
  type Dynamics,
  type FilterKind,
  type FilterSetting,
  type Mix,
  type SectionMix,
  type SectionStrip,
  type Send,
  type StripSetting,
  type Tone,
  type ToneBand,
  type ToneSetting,
} from './mix';
export {
  bendReaching,
  designOf,
  filesOf,
  FIRST_SLICE,
  freeSounds,
  LAST_SOUND,
  SOUND_COUNT,
  swellOf,
  redesigned,
  samplesOf,
  struckAs,
  type SoundDesign,
} from './design';
export { isDynamics, isKit, isNoteMap, isSoundLayer, isStrip, isTone } from './salvageSound';
export { guideOf } from './newGuide';
export { duplicateOf, emptyPattern, nextDye, USUAL_PIECES, type NewPattern } from './newPattern';
export {
  kindNamed,
  newSectionFor,
  sectionKindFor,
  sectionOf,
  spanAtEnd,
  spanOver,
} from './newSection';
export { emptySong, songWith } from './newSong';
export {
  clashesOf,
  EACH_ITS_OWN,
  GENERAL_MIDI,
  nearestStroke,
  noteOf,
  READY_MAPS,
  strokeKey,
  strokeOf,
  strokeOfNote,
  strokesOfKit,
  TEN_KEYS,
  withNote,
  withReading,
  type NoteMap,
  type Stroke,
  type StrokeKey,
} from './noteMap';
export { isFeel, isGuide, isHit, isOffcut, isPattern, isSection, isSpan } from './parts';
export * from './pattern';
export { soundView, type RowView, type SongView } from './rowView';
export { firstProblem, salvage, type Salvaged } from './salvage';
export * from './song';
export { spreadTempos } from './spreadTempos';
export {
  anchored,
  ANCHORS,
  placeOfSpan,
  SPAN_ROLES,
  type Anchor,
  type Span,
  type SpanPlace,
  type SpanRole,
} from './span';
export { isNewerForm, upgradeSong, type Upgraded } from './upgrade';
export {
  CHARACTER_IDS,
  type CharacterId,
  DESIGN_LIMITS,
  type KitLayer,
  LONGEST_FILE,
  LOUDEST_LAYER,
  MOST_LAYERS,
  type PieceDesign,
  type SampleFile,
  type SampleHash,
  type SampleLayer,
  type SoundId,
  type SoundLayer,
} from './pieceDesign';
export type { GrooveRef, Origin } from './origin';
