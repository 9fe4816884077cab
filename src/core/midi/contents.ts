import type { Song } from '../model';
import { meterName, type Channel, type Meter, type NoteNumber } from '../time';
import { laidPlaces, songBars, temposOfSong, type TimedHit } from '../weave';
import {
  drumTracks,
  guideParts,
  saidAs,
  writtenSong,
  type ExportOptions,
  type SaidAs,
} from './export';

/** One track of a file to be written. */
export interface TrackContents {
  /** The track of the layout; absent where there is none. */
  id?: string;
  name: string;
  /** A guide, and no drums. In a file of one track it has its channel there. */
  guide?: true;
  notes: NoteNumber[];
  channels: Channel[];
  hits: number;
}

/** What `exportMidi` would write with the same options. */
export interface Contents {
  tracks: TrackContents[];
  hits: number;
  bars: number;
  meters: Meter[];
  tempos: number;
  markers: string[];
}

export function contentsOf(song: Song, options: ExportOptions): Contents {
  const source = writtenSong(song, options);
  const drums = drumTracks(source, options);
  const tracks: TrackContents[] = drums.map(({ id, name, hits }) => ({
    ...(id !== undefined && { id }),
    ...contentsOfTrack(name, hits, saidAs(song, options, id)),
  }));
  for (const { guide, channel, notes } of guideParts(song, options)) {
    const pitches = [...new Set(notes.map(({ note }) => note))].sort((a, b) => a - b);
    tracks.push({
      name: guide.name,
      guide: true,
      notes: pitches,
      channels: [channel],
      hits: notes.length,
    });
  }
  const laid = laidPlaces(source);
  const meters = new Map(
    laid.flatMap(({ section }) => section.meters.map(({ meter }) => [meterName(meter), meter])),
  );
  return {
    tracks,
    hits: drums.reduce((sum, { hits }) => sum + hits.length, 0),
    bars: songBars(source),
    meters: [...meters.values()],
    tempos: temposOfSong(source).length,
    markers: [...new Set(laid.map(({ section }) => section.name))],
  };
}

function contentsOfTrack(
  name: string,
  hits: readonly TimedHit[],
  { noteOfHit, channelOf }: SaidAs,
): TrackContents {
  const ordered = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
  return {
    name,
    notes: ordered(hits.map(noteOfHit)),
    channels: ordered(hits.map(channelOf)),
    hits: hits.length,
  };
}
