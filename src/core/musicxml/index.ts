/** MusicXML out and in. */
export { importMusicXml, isMusicXml, MAX_SCORE_BYTES } from './file';
export { readMusicXml, type MusicXmlOptions } from './read';
export { writeMusicXml } from './write';
