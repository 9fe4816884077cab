/** Parts that are not drums, and how grooves fit them. */
export {
  fitOf,
  fitOfPattern,
  fitOfPrint,
  onsetsBetween,
  placedGuides,
  saidFit,
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
export { GUIDE_LEVEL, guideOf, readGuides, type GuideSource, type ReadGuides } from './read';
