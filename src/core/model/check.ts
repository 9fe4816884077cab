import type { Song } from './song';
import type { Problem } from './finds';
import { salvage } from './salvage';

/**
 * What must always hold of a song: ids resolve and are unique, velocities are 1 to 127, hits lie
 * within their pattern and in order, everything is of a size that can be counted, drawn and heard.
 * Run on every song that is opened, before every save, and after every command. Never throws,
 * whatever it is given.
 * @returns an empty list when all is well
 */
export function checkSong(song: Song): Problem[] {
  return salvage(song).problems;
}
