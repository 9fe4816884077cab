import type { Bpm } from '../time';
import { DEFAULT_KIT } from './kit';
import { BY_PIECE, ONE_TRACK } from './layout';
import { usualMix } from './mix';
import { emptyPattern } from './newPattern';
import { GENERAL_MIDI } from './noteMap';
import type { Pattern } from './pattern';
import { SONG_FORMAT, type Song } from './song';

const USUAL_LAYOUTS = [ONE_TRACK, BY_PIECE] as const;
const USUAL_MIXES = USUAL_LAYOUTS.map(({ id }) => usualMix(id));

/** A song of some patterns, with nothing laid out and everything else as it is usual. */
export function songWith(
  head: { id: string; name: string; bpm?: Bpm },
  patterns: Pattern[] = [],
): Song {
  return {
    format: SONG_FORMAT,
    id: head.id,
    name: head.name,
    bpm: head.bpm ?? 120,
    places: [],
    sections: [],
    patterns,
    kit: DEFAULT_KIT,
    noteMap: GENERAL_MIDI,
    layouts: USUAL_LAYOUTS,
    layout: BY_PIECE.id,
    mixes: USUAL_MIXES,
    feels: [],
    guides: [],
    offcuts: [],
  };
}

/** A song with one empty pattern to write in and nothing laid out yet. */
export function emptySong(id: string, name: string, firstPatternId: string): Song {
  return songWith({ id, name }, [emptyPattern({ id: firstPatternId, name: 'First beat' })]);
}
