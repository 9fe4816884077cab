/** Grooves: what they are like, how they are read, found and ordered. */
export { readFamily, type FamilyFile } from './family';
export { busynessOf, featuresOf, guessKind, type Features } from './features';
export {
  isGrooveFile,
  namesOf,
  notesOfFile,
  type NotesOfFile,
  partsOfFile,
  readGrooveFile,
  readShippedFamily,
  type FileParts,
  type FileRead,
} from './file';
export { FINGERPRINT_SIZE, fingerprintOf, nearest, SLOTS, type Fingerprint } from './fingerprint';
export { rowReceived, rowSent } from './row';
export { grooveOfPattern, grooveOfStrokes, identityOf, type Groove, isGroove } from './groove';
export { heavyOf, ticksOfHeavy, type Heavy } from './heavy';
export {
  like,
  bestFirst,
  nearestTo,
  passes,
  sorted,
  sortedIn,
  SORTS,
  type Filter,
  type Order,
  type Remarks,
  type SortBy,
} from './search';
export {
  barsOfStrokes,
  GROUP_OF_PIECE,
  groupOf,
  GROUPS,
  PIECE_OF_NOTE,
  PIECES_BY_NUMBER,
  strokesOfPattern,
  type Group,
  type Strokes,
} from './strokes';
