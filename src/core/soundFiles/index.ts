/** Sound files that a browser may not be able to read. */
export { readSoundFile, type FileSamples } from './read';
