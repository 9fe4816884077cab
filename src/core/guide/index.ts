/** Parts that are not drums, and how grooves fit them. */
export {
  FIT_BY,
  fitOf,
  fitOfPattern,
  onsetsBetween,
  placedGuides,
  saidFit,
  type FitBy,
  type Fit,
  type PlacedGuide,
} from './fit';
export {
  addGuide,
  anchorGuide,
  changeGuide,
  moveGuide,
  removeGuide,
  type GuideChange,
} from './guides';
export { readGuides, type GuideSource, type ReadGuides } from './read';
export {
  alongside,
  FITTINGS,
  fitStrand,
  type Alongside,
  type BarMeetings,
  type Fitting,
  type FittingWish,
  type Meeting,
} from './alongside';
