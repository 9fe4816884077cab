/** A song as bars of drum notation: what a chart and a MusicXML file are written from. */
export {
  nameOfWay,
  notationOf,
  type Chord,
  type LegendEntry,
  type NotatedBar,
  type Notation,
  type TempoMark,
} from './notation';
export {
  DENSITIES,
  METER,
  PAGE_HEAD,
  pagesOf,
  PAPERS,
  PERCUSSION_LINE,
  PERCUSSIONS,
  roomOn,
  type Cell,
  type ChartPage,
  type ChartWish,
  type Density,
  type PageRoom,
  type Paper,
  type Percussion,
  type System,
} from './pages';
export { repeatsIn, type Repeat } from './repeats';
export { writtenBar, type Onset } from './rhythm';
export {
  aboveMiddle,
  isNamedOnStaff,
  isPercussion,
  touches,
  VOICES,
  writtenAs,
  type StaffPlace,
  type Voice,
} from './staff';
export { type Grace, type WrittenStroke } from './strokes';
