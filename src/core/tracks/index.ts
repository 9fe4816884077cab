/** Tracks: ways of looking at the same hits, and how each is heard. */
export { decibelsOf, levelOf, LOUDEST, OFF, saidLevel, saidPan } from './decibels';
export { hitsOnTrack, rowsByTrack, tracksOfRows, type TrackRows } from './grouping';
export { liftTrack, ownTracks, type LiftedFrom, type Lifting } from './lifting';
export { heardHitsPerTrack, hitsPerTrack, tracksStruck } from './hits';
export { chooseKit, idOfKit, kitOfSounds, nameOfKit, takeKit, type NoteSound } from './kits';
export {
  chooseLayout,
  joinTracks,
  layoutsOf,
  moveTrack,
  nameOfParts,
  partName,
  partsOf,
  putOnTrack,
  READY_LAYOUTS,
  removeLayout,
  renameLayout,
  renameTrack,
  withoutPiece,
  withPieces,
  type TrackPart,
} from './layouts';
export {
  chokePiece,
  designPiece,
  putLayer,
  removeLayer,
  setPieceSound,
  together,
  withPiece,
} from './pieces';
export {
  chainOf,
  copyStrip,
  drumsOf,
  hearAll,
  heardBy,
  heardTracks,
  isSilent,
  mixOf,
  resetStrip,
  roomRing,
  sectionStripOf,
  sendTrack,
  setBus,
  setDrums,
  setSectionStrip,
  setStrip,
  soloedDry,
  stripOf,
  stripsOf,
  withMix,
  withoutEffects,
} from './strips';
export { filtersOf, FIRST_DYNAMICS, USUAL_TONE, withBand, withDynamics, type Chain } from './tone';
