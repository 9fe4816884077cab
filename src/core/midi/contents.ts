import { byStaffOrder, noteOf, pieceOf } from '../model/pieces';
import { songOfPattern } from '../model/make';
import { findPattern, type Song } from '../model/song';
import { meterName, type Meter } from '../time/meter';
import type { Channel, NoteNumber } from '../time/units';
import { laidPlaces, songBars } from '../weave/sections';
import { timeline, type TimedHit } from '../weave/timeline';
import { guideParts, type ExportOptions } from './export';

/** One track of a file to be written. */
export interface TrackContents {
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
  const pattern = options.pattern === undefined ? undefined : findPattern(song, options.pattern);
  const source = pattern ? songOfPattern(song, pattern) : song;
  const hits = timeline(source);
  const pieces = [...new Set(hits.map((hit) => hit.piece))].sort(byStaffOrder);
  const tracks: TrackContents[] =
    options.layout === 'pieces'
      ? pieces.map((piece) =>
          trackOf(
            pieceOf(piece).name,
            hits.filter((hit) => hit.piece === piece),
          ),
        )
      : [trackOf(source.name, hits)];
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
  const meters = new Map(laid.map(({ section }) => [meterName(section.meter), section.meter]));
  return {
    tracks,
    hits: hits.length,
    bars: songBars(source),
    meters: [...meters.values()],
    tempos: source.tempo.length,
    markers: [...new Set(laid.map(({ section }) => section.name))],
  };
}

function trackOf(name: string, hits: readonly TimedHit[]): TrackContents {
  const ordered = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
  return {
    name,
    notes: ordered(hits.map(({ piece, articulation }) => noteOf(piece, articulation))),
    channels: ordered(hits.map((hit) => hit.channel)),
    hits: hits.length,
  };
}
