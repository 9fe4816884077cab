/** The public face of the core: what files, tests, benches and other programs may rely on. */
export { importMidi, type Imported, type ImportOptions } from './midi/import';
export type { DrumSource, ImportReport } from './midi/report';
export { exportMidi, type ExportOptions, type NoteMap } from './midi/export';
export { timeline, type TimedHit } from './weave/timeline';
export { checkSong, type Problem } from './model/check';
export { renderMix, type Mix, type MixOptions } from './engine/mix';
export { applyCommand, whyUnchanged, type Command } from './commands/apply';
export { readTab, type ReadTab } from './tab/read';
export { writeTab, type WrittenTab } from './tab/write';
export * from './model/song';
