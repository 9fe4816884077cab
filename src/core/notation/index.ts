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
  pagesOf,
  PAPERS,
  roomOn,
  type Cell,
  type ChartPage,
  type ChartWish,
  type Density,
  type PageRoom,
  type Paper,
  type System,
} from './pages';
export { repeatsIn, type Repeat } from './repeats';
export { writtenBar, type Onset } from './rhythm';
export { aboveMiddle, isNamedOnStaff, writtenAs, type StaffPlace, type Voice } from './staff';
export { type Grace, type WrittenStroke } from './strokes';
