/** Standard MIDI Files in and out, and the note maps they are read through. */
export {
  count,
  MAX_FILE_BYTES,
  readFrame,
  tooLarge,
  type SmfFrame,
  type TrackChunk,
  type Unreadable,
} from './chunks';
export { contentsOf, type Contents, type TrackContents } from './contents';
export {
  drumTracks,
  onDrumTrack,
  exportMidi,
  guideParts,
  isOneTrack,
  notesOf,
  saidAs,
  writtenSong,
  type DrumTrack,
  type ExportOptions,
  type GuidePart,
  type TrackWish,
} from './export';
export { drumParts } from './drumParts';
export { endOfPart, importMidi, MAX_QUARTERS, type ImportOptions, type Imported } from './import';
export { meterAtStart, shortMeter, type Part, type Stretch } from './layout';
export { clockFrom, LivePart, PULSE, WIRE, type LiveMessage, type LiveRoute } from './live';
export { Loom, wayOf, type SourceStroke } from './loom';
export {
  guessNoteMap,
  isNoteMapChoice,
  NOTE_MAPS,
  readingOf,
  type NoteMapChoice,
  type NoteMapId,
  type NoteReading,
} from './noteReading';
export {
  NOTE_MAP_FORMS,
  readNoteMap,
  writeNoteMap,
  type NoteMapForm,
  type ReadNoteMap,
} from './noteMapFiles';
export { SourceNotes } from './notes';
export { emptyReport, fewerTempos, type DrumSource, type ImportReport } from './report';
export { readTrack, type SourceTrack } from './track';
