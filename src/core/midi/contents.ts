import type { Song } from '../model';
import { meterName, type Channel, type Meter, type NoteNumber } from '../time';
import { laidPlaces, placeName, songBars, temposOfSong } from '../weave';
import { guideParts, writtenSong, writtenTracks, type ExportOptions } from './export';

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
  const drums = writtenTracks(song, source, options);
  const tracks: TrackContents[] = drums.map(({ notes, ...track }) => ({
    ...track,
    notes: ordered(notes.map(({ note }) => note)),
    channels: ordered(notes.map(({ channel }) => channel)),
    hits: notes.length,
  }));
  for (const { guide, channel, notes } of guideParts(song, options)) {
    tracks.push({
      name: guide.name,
      guide: true,
      notes: ordered(notes.map(({ note }) => note)),
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
    hits: drums.reduce((sum, { notes }) => sum + notes.length, 0),
    bars: songBars(source),
    meters: [...meters.values()],
    tempos: temposOfSong(source).length,
    markers: laid.map((one) => placeName(source, one)),
  };
}

const ordered = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
