/** The public face of the core: what files, tests, benches and other programs may rely on. */
export { applyCommand, type Command } from './commands';
export { renderMix, renderStems, type MixOptions, type RenderedMix } from './engine';
export {
  exportMidi,
  importMidi,
  type DrumSource,
  type ExportOptions,
  type Imported,
  type ImportOptions,
  type ImportReport,
} from './midi';
export {
  checkSong,
  findPattern,
  findPlace,
  findSection,
  findStrand,
  salvage,
  type Guide,
  type Hit,
  type NoteMap,
  type Offcut,
  type Pattern,
  type Place,
  type Problem,
  type Section,
  type Song,
  type Span,
  type Strand,
} from './model';
export { readTab, writeTab, type ReadTab, type WrittenTab } from './tab';
export { timeline, type TimedHit } from './weave';
