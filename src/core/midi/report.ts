import type { Channel } from '../time';
import type { NoteMapChoice } from './noteReading';

/** One track and channel of a file that carries notes: a thing one may want the drums from. */
export interface DrumSource {
  /** `track:channel`, for choosing it. */
  id: string;
  trackName: string;
  /** Which track of the file, from 1. */
  track: number;
  channel: Channel;
  hits: number;
  /** It is taken when nobody chooses: see `drumParts`. */
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
  /** It is a score, not MIDI: which note is which drum is not asked, and it has no guides. */
  score?: true;
  ppq?: number;
  hits: number;
  sources: DrumSource[];
  /** Parts that repeat in a source without markers, and of how many kinds they are. */
  repeats?: { parts: number; kinds: number };
  /** The note map its notes were read through, where that is not plain General MIDI unasked. */
  through?: NoteMapChoice;
  understood: string[];
  repaired: string[];
  leftOut: string[];
}

/** Reports sections that have more tempos than they can hold: see `spreadTempos`. */
export const fewerTempos =
  (sections: readonly { id: string; name: string }[], report: ImportReport) =>
  (section: string, of: number, left: number): void => {
    const name = sections.find(({ id }) => id === section)?.name ?? section;
    report.repaired.push(
      `${of.toLocaleString('en')} tempos in “${name}” are more than a section can hold: ${left.toLocaleString('en')} stand for them, each as long as those it replaces.`,
    );
  };

export function emptyReport(file: string): ImportReport {
  return { file, hits: 0, sources: [], understood: [], repaired: [], leftOut: [] };
}
