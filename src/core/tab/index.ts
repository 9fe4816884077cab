/** Drum tablature in and out. */
export { readTab, type ReadTab } from './read';
export {
  DIGITS,
  labelOf,
  letterOf,
  nearestSign,
  pieceOfLabel,
  RESTS,
  signOf,
  signsOf,
  TAB_CHOKE,
  TAB_DRAG,
  TAB_FLAM,
  usualLetter,
  WRITTEN,
  type Meaning,
} from './signs';
export { readSetting } from './rows';
export { said, writeTab, type WrittenTab } from './write';
