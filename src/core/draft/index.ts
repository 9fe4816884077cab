/** A first performance made from a line of energy: ordinary patterns from its first moment. */
export { draftSong, type DraftOf } from './draft';
export {
  energyOf,
  meanLevel,
  proposedEnergy,
  saidChange,
  setEnergy,
  shiftedEnergy,
  strokeOfEnergy,
  type Energy,
  type EnergyLine,
  type EnergyStroke,
} from './energy';
export { draftLaid, isDraftLaid, layDraft, type DraftLaid } from './laying';
export { touchedBars, whyHit } from './marks';
export { neighboursOf, type Neighbour } from './neighbours';
export { canKeepTime, type DraftFamily } from './pool';
export {
  BAR_STATES,
  heldSection,
  reportOf,
  saidApart,
  saidLeft,
  saidReport,
  type BarState,
  type DraftReport,
} from './report';
export { type DraftLibrary } from './source';
export { whyAt, type Why, type WhySpot } from './why';
export { askOfDraft, rollDraft, wishesFor } from './wished';
