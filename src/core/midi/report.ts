import type { Channel } from '../time';

/** One track and channel of a file that carries notes: a thing one may want the drums from. */
export interface DrumSource {
  /** `track:channel`, for choosing it. */
  id: string;
  trackName: string;
  /** Which track of the file, from 1. */
  track: number;
  channel: Channel;
  hits: number;
  /** It is taken when nobody chooses: channel 10, or what is named or alone like a drum part. */
  preselected: boolean;
  /** It was taken this time. */
  taken: boolean;
}

/** What became of a file: every import says so, also when all went well. */
export interface ImportReport {
  file: string;
  /** Why nothing could be read, in a sentence its owner can act on. */
  error?: string;
  format?: number;
  ppq?: number;
  hits: number;
  sources: DrumSource[];
  understood: string[];
  repaired: string[];
  leftOut: string[];
}

export function emptyReport(file: string): ImportReport {
  return { file, hits: 0, sources: [], understood: [], repaired: [], leftOut: [] };
}
