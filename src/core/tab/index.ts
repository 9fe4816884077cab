/** Drum tablature in and out. */
export { readTab, type ReadTab } from './read';
export {
  DIGITS,
  keyOfLine,
  labelOf,
  letterOf,
  lineOfLabel,
  nearestSign,
  RESTS,
  signOf,
  signsOf,
  TAB_CHOKE,
  TAB_DRAG,
  TAB_FLAM,
  usualLetter,
  WRITTEN,
  type Meaning,
  type TabLine,
} from './signs';
export { readSetting } from './rows';
export { Lost, said, writeTab, type WrittenTab } from './write';
