import { findPattern, layoutOf, READY_MAPS, type NoteMap, type Song } from '../model';
import { inOne } from '../names';
import { PPQ } from '../time';
import { tempoOfSong, timeline } from '../weave';
import { drumTracks, exportMidi, onDrumTrack, type ExportOptions, type TrackWish } from '../midi';
import { heardBy } from '../tracks';
import type { MidiWish } from '../wishes';
import type { NamedPart } from './part';

/** The note maps that a track can go out through besides the one of the song. */
export function mapsFor(song: Song): readonly NoteMap[] {
  const { noteMap } = song;
  return [noteMap, ...READY_MAPS.filter(({ name }) => name !== noteMap.name)];
}

/** Ticks a quarter note of what is written: as wished, or as the file had from which the song or the pattern came. */
export function resolutionOf(song: Song, { ppq }: Pick<MidiWish, 'ppq'>, pattern?: string): number {
  const own = pattern === undefined ? undefined : findPattern(song, pattern)?.origin;
  return ppq ?? (own ?? song.origin)?.ppq ?? PPQ;
}

/** How many hits of a song fall between the ticks of a resolution, and how far they move at most, in milliseconds. */
export function rounded(song: Song, ppq: number): { hits: number; most: number } {
  const tempo = tempoOfSong(song);
  let [hits, most] = [0, 0];
  for (const { tick } of timeline(song)) {
    const on = (Math.round((tick * ppq) / PPQ) * PPQ) / ppq;
    // A song counts whole ticks itself.
    if (Math.abs(on - tick) <= 0.5 + 1e-6) continue;
    hits++;
    most = Math.max(most, 1000 * Math.abs(tempo.secondsAt(on) - tempo.secondsAt(tick)));
  }
  return { hits, most };
}

/** How a part is written with these wishes: what `exportMidi` and `contentsOf` are given. */
export function midiOptions(song: Song, wish: MidiWish, part: NamedPart): ExportOptions {
  const layout = layoutOf(song);
  const heard = wish.mutes ? heardBy(song) : undefined;
  const written = wish.tracks === 'present' ? layout : wish.tracks;
  const heardHere =
    part.track === undefined
      ? heard
      : onDrumTrack(part.song, { layout: written, heard }, part.track);
  const { pattern, place, places, passes } = part.wish;
  return {
    ppq: resolutionOf(song, wish, pattern),
    layout: written,
    guides: wish.guides && part.track === undefined && (pattern ?? place ?? places) === undefined,
    lengths: wish.lengths === 'fixed' ? wish.fixed : wish.lengths,
    glideStep: wish.glideStep,
    copyright: wish.copyright,
    text: wish.text,
    ...(wish.tracks === 'present' && { tracks: tracksOf(song, wish) }),
    ...(heardHere && { heard: heardHere }),
    ...(pattern !== undefined && { pattern, ...(passes !== undefined && { passes }) }),
  };
}

function tracksOf(song: Song, { byTrack }: MidiWish): Record<string, TrackWish> {
  const maps = mapsFor(song);
  return Object.fromEntries(
    Object.entries(byTrack).map(([id, { channel, map }]) => {
      const noteMap = map === undefined ? undefined : maps.find(({ name }) => name === map);
      return [id, { ...(channel !== undefined && { channel }), ...(noteMap && { noteMap }) }];
    }),
  );
}

/** The song a part's file is written from: a pattern is written from the song that has it. */
export const songOfFile = (song: Song, { wish, song: own }: NamedPart): Song =>
  wish.pattern === undefined ? own : song;

/** A part as the bytes of a Standard MIDI File. */
export function midiBytes(song: Song, wish: MidiWish, part: NamedPart): Uint8Array {
  return exportMidi(songOfFile(song, part), midiOptions(song, wish, part));
}

/** The files that a part is written as: one, or each of its tracks by itself. */
export function midiParts(song: Song, wish: MidiWish, part: NamedPart): NamedPart[] {
  if (!wish.apart || wish.tracks === 'one') return [part];
  const tracks = drumTracks(part.song, midiOptions(song, wish, part));
  return tracks.map(({ id, name }, i) => ({
    ...part,
    file: `${part.file}, ${String(i + 1).padStart(2, '0')} ${inOne(name)}`,
    track: id!,
  }));
}
