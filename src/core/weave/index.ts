/** The song as cloth: sections in their places, what is laid over them, and what sounds of it. */
export {
  addOverlay,
  addSection,
  addSpan,
  canLast,
  changeSection,
  layFill,
  movePlace,
  removeOverlay,
  removePattern,
  removePlace,
  removeSpan,
  repeatPlace,
  setSectionBars,
  setSectionMeter,
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
  type Hushed,
  type Listening,
  type Range,
} from './heard';
export {
  isOtherMeter,
  liesOver,
  meterOfStretch,
  patternToLay,
  REACHES,
  type Laying,
  type Lie,
  type Reach,
} from './lay';
export { joinOnShelf, splitOnShelf, takeApart } from './joining';
export {
  barAround,
  barOfSong,
  laidPlaces,
  placeAt,
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
  movePattern,
  recoverOffcut,
  remarkPattern,
  setAside,
  type Remark,
} from './shelf';
export { bpmAt, tempoOfSong, temposOfSong } from './tempo';
export {
  placedTempos,
  removeTempoAt,
  setGlide,
  setTempo,
  setTempoAt,
  type PlacedTempo,
} from './tempoChanges';
export { timeline, type TimedHit, type Touch } from './timeline';
export { firstStartOf, patternTickAt } from './where';
