/** The song as cloth: sections in their places, what is laid over them, and what sounds of it. */
export {
  addSection,
  layBelowFills,
  canLast,
  changeSection,
  removePattern,
  usesOf,
} from './arrange';
export { auditioned, type Candidate } from './audition';
export { cloth, clothByFamily, type Cloth, type ClothCell, type ClothRow } from './cloth';
export { guideStart } from './guideStart';
export {
  auditionRegion,
  heardLoop,
  heardPasses,
  heardSong,
  heardStrands,
  silentRows,
  songOfPattern,
  startOf,
  type Hushed,
  type Listening,
  type Range,
} from './heard';
export { isOtherMeter, liesOver, meterOfStretch, patternToLay, type Laying, type Lie } from './lay';
export { behind, joinOnShelf, layTogetherOnShelf, splitOnShelf, takeApart } from './joining';
export {
  barAround,
  barOfSong,
  laidPlaces,
  placeAt,
  namesOfSections,
  placeName,
  placesOf,
  positionAt,
  sectionTicks,
  songBars,
  songTicks,
  stackOf,
  tickOfBar,
  type LaidPlace,
  type LaidSpan,
  type Position,
} from './sections';
export {
  addOffcuts,
  emptyOffcuts,
  freeId,
  movePattern,
  recoverOffcut,
  remarkPattern,
  setAside,
  shelfOf,
  type Remark,
} from './shelf';
export { bpmAt, steppedTempos, tempoOfSong, temposOfSong } from './tempo';
export {
  placedTempos,
  removeTempoAt,
  setGlide,
  setTempo,
  setTempoAt,
  type PlacedTempo,
} from './tempoChanges';
export { hitsByPlace, timeline, type TimedHit, type Touch } from './timeline';
export { firstStartOf, originAt, patternTickAt, type CellOrigin } from './where';
export { changedRegions, type Region } from './changes';
export {
  editAt,
  ownOfSection,
  placesReached,
  REACH_NAMES,
  REACHES,
  type Reach,
  type Spot,
} from './reach';
export { roundAt, WOVEN, wovenOf, type Round, type Stretch, type Whose, type Woven } from './woven';
export {
  lengthen,
  LENGTHENINGS,
  mergeNext,
  setMeterAt,
  setOwnTempos,
  splitPlace,
  whyNotMerged,
  type Lengthening,
} from './cutting';
export {
  changeSpan,
  fillIn,
  findSpan,
  OTHERS,
  reshapeSpan,
  silence,
  emptySection,
  takeOut,
  type Filling,
  type Others,
  type SpanAddress,
} from './fills';
export {
  formOf,
  layForm,
  readForm,
  sectionNamed,
  writeForm,
  type FormPart,
  type FormProblem,
} from './form';
export {
  asSection,
  barLinesOf,
  differencesOf,
  linkPlace,
  makeSections,
  onItsOwn,
  setMeant,
  whyNotLinked,
} from './links';
export { LOCKABLE, lockBroken, saidLock, setLock, type Lock, type Lockable } from './locks';
export { placesChanged, replacePattern, SCOPES, type Replacing, type Scope } from './replace';
export { sameAgain, type SameAgain, type SameRun } from './sameAgain';
export {
  copyPlaces,
  LINKINGS,
  movePlaces,
  pastePlaces,
  removePlaces,
  type Copied,
  type Linking,
} from './several';
export { editOpened, openedPattern, openedTickAt, type Opened } from './inPlace';
export {
  broughtBack,
  broughtPattern,
  broughtPiece,
  broughtPlace,
  compareSongs,
  type Compared,
  type ComparedPattern,
  type ComparedPlace,
} from './compare';
export { isPerformance, performedSong, type Performed } from './perform';
